/** Every answer and school that moves the spec, changeable in place without keeping it; the drawings stay in sight. */
import { type ReactNode, useEffect, useRef } from "react";
import type { Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { getPath } from "../../api/paths";
import { Button } from "../../ui/Button";
import { ManyOf, OneOf } from "../../ui/choice";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { Heading } from "../../ui/words";

type Values = Record<string, unknown>;
interface WhatIfProps {
  sport: Schemas["SportOut"];
  tried: Values;
  onTry: (values: Values) => void;
  /** What the tried answers move, once it is known. */
  moved: string[] | undefined;
  trouble: string | undefined;
  onKeep: () => void;
  onBack: () => void;
}

const YES_NO = [
  { value: "yes", text: "yes" },
  { value: "no", text: "no" },
];

/** Answers too long for half the margin. */
const isLong = (options: { text: string }[]) =>
  options.some((o) => o.text.length > 18 || o.text.split(" ").some((word) => word.length > 10));

/** One answer; marked while it isn't what the brief says. */
function Asked({ moved, wide, children }: { moved: boolean; wide?: boolean; children: ReactNode }) {
  return (
    <div
      data-tried={moved || undefined}
      className={`min-w-0 self-end ${wide ? "col-span-2" : ""} ${moved ? "border-madder border-l-4 pl-1.5" : ""}`}
    >
      {children}
    </div>
  );
}

export function WhatIf(props: WhatIfProps) {
  const { sport, tried, onTry } = props;
  const { fitting, bodies } = useDesk();
  const panel = useRef<HTMLDivElement>(null);
  useEffect(() => panel.current?.querySelector<HTMLElement>("[role=combobox]")?.focus(), []);
  const value = (field: string) => (field in tried ? tried[field] : getPath(bodies.brief, field));
  const discipline = String(value("discipline") ?? "");
  const asks = sport.asks.filter((a) => !a.disciplines.length || a.disciplines.includes(discipline));
  const history = asks.find((a) => a.kind === "many");
  return (
    <section ref={panel} aria-label="What if">
      <div className="sticky top-0 z-10 -mx-4 -mt-3 border-line border-b bg-paper px-4 py-2">
        <Heading>What if</Heading>
        <Moved {...props} />
      </div>
      <div className="mt-2 grid grid-flow-row-dense grid-cols-2 gap-x-2 gap-y-1.5 max-lg:grid-cols-4">
        <Asked moved={"discipline" in tried} wide={isLong(sport.disciplines)}>
          <Select
            label="They do"
            value={discipline}
            options={sport.disciplines}
            onChange={(v) => onTry({ discipline: v })}
          />
        </Asked>
        {asks.map((a) => (
          <One key={a.field} asked={a} value={value(a.field)} moved={a.field in tried} onTry={onTry} />
        ))}
        {sport.schools
          .filter((s) => s.spec)
          .map((s) => {
            const field = `schools/${s.slug}`;
            return (
              <Asked key={s.slug} moved={field in tried} wide={isLong(s.options)}>
                <Select
                  label={s.text}
                  value={String(value(field) ?? fitting.schools[s.slug] ?? "")}
                  options={s.options}
                  onChange={(v) => onTry({ [field]: v })}
                />
              </Asked>
            );
          })}
      </div>
      {history && (
        <div className="mt-1.5">
          <span className="block text-faint text-xs">{history.text}</span>
          <ManyOf
            label={history.text}
            columns="flex flex-wrap gap-1"
            value={(value(history.field) as string[] | undefined) ?? []}
            options={history.options}
            onChange={(v) => onTry({ [history.field]: v })}
          />
        </div>
      )}
    </section>
  );
}

/** What the tried answers move, and whether to keep them. */
function Moved({ tried, moved, trouble, onKeep, onBack }: WhatIfProps) {
  if (!Object.keys(tried).length)
    return (
      <p className="text-faint leading-tight">
        Change an answer: the sheet shows what moves. Nothing is kept.
      </p>
    );
  return (
    <>
      <p data-moved aria-live="polite" className="leading-tight">
        {moved ? (moved.length ? `${moved.join("; ")}.` : "Nothing moves.") : "…"}
      </p>
      {trouble && <p role="alert">{trouble}</p>}
      <span className="mt-1.5 flex gap-2">
        <Button kind="strong" onClick={onKeep}>
          Keep
        </Button>
        <Button onClick={onBack}>Back to the brief</Button>
      </span>
    </>
  );
}

interface OneProps {
  asked: Schemas["AskOut"];
  value: unknown;
  moved: boolean;
  onTry: (values: Values) => void;
}

/** One question of the brief, as small as it can be touched; dates and words move nothing here. */
function One({ asked: a, value, moved, onTry }: OneProps) {
  switch (a.kind) {
    case "choice":
      return (
        <Asked moved={moved} wide={isLong(a.options)}>
          <Select
            label={a.short}
            value={value as string | null}
            options={a.options}
            onChange={(v) => onTry({ [a.field]: v })}
          />
        </Asked>
      );
    case "number":
      return (
        <Asked moved={moved}>
          <NumberField
            label={a.short}
            unit={a.unit}
            width="w-full min-w-0"
            value={value as number | null}
            onChange={(v) => onTry({ [a.field]: v })}
          />
        </Asked>
      );
    case "yes":
      return (
        <Asked moved={moved}>
          <span className="block text-faint text-xs leading-tight">{a.short}</span>
          <OneOf
            label={a.short}
            columns="grid grid-cols-2 gap-1"
            value={value ? "yes" : "no"}
            options={YES_NO}
            onChange={(v) => onTry({ [a.field]: v === "yes" })}
          />
        </Asked>
      );
    default:
      return null;
  }
}
