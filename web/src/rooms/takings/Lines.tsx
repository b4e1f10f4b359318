/** The journal's lines, the newest first: what, by whom, for how much; pressed, what can be done upon one. */
import { useState } from "react";
import { ask, http } from "../../api/client";
import type { JournalLine, Takings } from "../../api/takings";
import { Button } from "../../ui/Button";
import { day, timeOf } from "../../ui/clock";
import { money } from "../../ui/money";
import { Heading } from "../../ui/words";

interface Props {
  found: Takings;
  of: string;
  onOpen: (line: JournalLine) => void;
}

export function Lines({ found, of, onOpen }: Props) {
  const [further, setFurther] = useState<{ of: string; lines: JournalLine[]; more: string | null } | null>(
    null,
  );
  const [trouble, setTrouble] = useState("");
  const on = further?.of === `${of} ${found.lines[0]?.number}` ? further : null;
  const lines = [...found.lines, ...(on?.lines ?? [])];
  const more = on ? on.more : found.more;
  if (!lines.length) return null;
  const readOn = async () => {
    try {
      const next = await ask(
        http.GET("/api/takings", { params: { query: { of: found.period, after: more ?? "" } } }),
      );
      setTrouble("");
      setFurther({
        of: `${of} ${found.lines[0]?.number}`,
        lines: [...(on?.lines ?? []), ...next.lines],
        more: next.more,
      });
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  };
  const several = found.first !== found.last;
  return (
    <section aria-label="Lines of the journal">
      <Heading>The journal</Heading>
      <ul>
        {lines.map((l) => (
          <li key={l.id} className="border-line border-b" data-line={l.number}>
            <button
              type="button"
              onClick={() => onOpen(l)}
              className="grid min-h-12 w-full grid-cols-[7rem_1fr_auto] items-center gap-3 py-1 text-left hover:bg-sheet"
            >
              <span className="text-sm leading-tight">
                <span className="font-mono">{l.number}</span>
                <span className="block text-faint text-xs">{several ? day(l.day) : timeOf(l.at)}</span>
              </span>
              <span className="min-w-0 leading-tight">
                {l.kind !== "sale" && <b>{l.says}: </b>}
                {l.what} <span className="font-mono">{l.size}</span>
                {l.colour && `, ${l.colour}`}
                <span className="block text-faint text-sm">
                  {[
                    l.athlete,
                    `by ${l.by}`,
                    l.upon && `upon ${l.upon}`,
                    l.discount_minor > 0 && `${money(l.discount_minor, l.currency)} off`,
                    l.why,
                    l.became_says,
                    l.price_said && "price said for this sale",
                    l.back_already && l.kind === "sale" && "the pair came back",
                    l.till_number && `till ${l.till_number}`,
                  ]
                    .filter(Boolean)
                    .join(" · ")}
                </span>
              </span>
              <span className={`text-right font-mono ${l.total_minor < 0 ? "text-madder" : ""}`}>
                {money(l.total_minor, l.currency)}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {trouble && <p role="alert">{trouble}</p>}
      {more && (
        <Button className="mt-2" onClick={() => void readOn()}>
          Earlier lines
        </Button>
      )}
    </section>
  );
}
