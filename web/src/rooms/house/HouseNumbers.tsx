/** The numbers a shop may change, each on the scale it may move on. */
import type { Schemas } from "../../api/client";
import { NumberScale } from "../../drawing/NumberScale";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { Heading, MARKS } from "../../ui/words";

interface Props {
  defaults: Schemas["HouseNumber"][];
  now: Schemas["House"];
  disabled: boolean;
  onChange: (slug: string, value: number | null) => void;
}

export function HouseNumbers({ defaults, now, disabled, onChange }: Props) {
  return (
    <>
      {[...new Set(defaults.map((d) => d.group))].map((title) => (
        <section key={title} aria-label={title}>
          <Heading>{title}</Heading>
          <ul>
            {defaults
              .filter((d) => d.group === title)
              .map((d) => {
                const own = now.numbers?.[d.slug];
                return (
                  <li
                    key={d.slug}
                    className="grid min-h-13 grid-cols-[minmax(0,1fr)_340px_8.5rem_5rem] items-center gap-3 border-line border-b py-0.5 max-xl:grid-cols-[minmax(0,1fr)_8.5rem_5rem] max-md:grid-cols-1"
                  >
                    <span className="leading-tight">
                      {d.text}
                      <span className="block text-faint text-xs">{MARKS[d.mark]}</span>
                    </span>
                    <span className="max-xl:order-last max-xl:col-span-3 max-md:col-span-1">
                      <NumberScale
                        label={d.text}
                        unit={d.unit}
                        low={d.low}
                        high={d.high}
                        step={d.step}
                        usual={d.value}
                        value={own ?? d.value}
                        disabled={disabled}
                        onChange={(v) => onChange(d.slug, v)}
                      />
                    </span>
                    <NumberField
                      label={d.text}
                      hideLabel
                      unit={d.unit}
                      decimals={2}
                      step={d.step}
                      value={own ?? d.value}
                      disabled={disabled}
                      width="w-34"
                      onChange={(v) => onChange(d.slug, v)}
                    />
                    <span>
                      {own !== undefined && own !== d.value && (
                        <Button kind="quiet" disabled={disabled} onClick={() => onChange(d.slug, null)}>
                          Undo
                        </Button>
                      )}
                    </span>
                  </li>
                );
              })}
          </ul>
        </section>
      ))}
    </>
  );
}
