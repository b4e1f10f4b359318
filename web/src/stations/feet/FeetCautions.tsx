/** What of the feet asks for caution: what the athlete says, what the fitter sees, and what the rules make of it. */
import type { Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { TextField } from "../../ui/TextField";
import { Heading, MARKS } from "../../ui/words";

type Concern = NonNullable<Schemas["Feet"]["concerns"]>[number];
const CONCERNS: [Concern, string][] = [
  ["pain", "Pain that lasts"],
  ["circulation", "Diabetes, poor circulation"],
  ["surgery", "Recent operation or injury"],
  ["growing_pains", "A child's growing pains"],
];

export function FeetCautions() {
  const { bodies, fitting, set, locked } = useDesk();
  const feet = bodies.feet;
  const concerns = feet.concerns ?? [];
  const tick = (slug: Concern, on: boolean) =>
    set("feet", { concerns: on ? [...concerns, slug] : concerns.filter((c) => c !== slug) });
  return (
    <>
      <Heading>Cautions</Heading>
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          className="size-5"
          checked={feet.wounds_or_numbness ?? false}
          disabled={locked}
          onChange={(e) => set("feet", { wounds_or_numbness: e.target.checked || null })}
        />
        Wounds or numb spots
      </label>
      {CONCERNS.map(([slug, text]) => (
        <label key={slug} className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-5"
            checked={concerns.includes(slug)}
            disabled={locked}
            onChange={(e) => tick(slug, e.target.checked)}
          />
          {text}
        </label>
      ))}
      <TextField
        label="Note on the feet"
        long
        value={feet.note ?? ""}
        onChange={(v) => set("feet", { note: v || null })}
        disabled={locked}
      />
      {fitting.reading.cautions.map((c) => (
        <p key={c.rule} className="mt-2 border-madder border-l-4 pl-2" data-caution={c.rule}>
          {c.text} <span className="text-faint text-xs">{MARKS[c.mark]}</span>
        </p>
      ))}
    </>
  );
}
