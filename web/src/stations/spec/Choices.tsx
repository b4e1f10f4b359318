/** Choices ranked with their reasons; what is ruled out stands struck through with why. */
import { useState } from "react";
import type { Spec } from "../../api/client";
import { SolePicture } from "../../drawing/SolePicture";
import { Reason } from "../../ui/words";
import { CountsButton } from "./CountsButton";

interface Props {
  spec: Spec;
  names: Record<string, string>;
  word: (value: string) => string;
  onWeigh: (name: string) => void;
}

export function Choices({ spec, names, word, onWeigh }: Props) {
  const [open, setOpen] = useState<string | null>(null);
  const weight = (name: string) => spec.choice_weights?.[name]?.weight ?? 0;
  const ordered = Object.entries(spec.choices).sort(([a], [b]) => weight(b) - weight(a));
  return (
    <>
      {ordered.map(([name, values]) => {
        const counts = spec.choice_weights[name];
        return (
          <section key={name} aria-label={names[name]} className="mt-3 border-line border-t pt-1">
            <h2 className="flex items-center justify-between font-semibold">
              {names[name]}
              {counts && (
                <CountsButton
                  weight={counts.weight}
                  byHand={!!counts.by_hand}
                  name={names[name] ?? name}
                  onClick={() => onWeigh(name)}
                />
              )}
            </h2>
            <ol>
              {values.map((c) => {
                const key = `${name}/${c.value}`;
                const told = open === key;
                return (
                  <li key={c.value}>
                    <button
                      type="button"
                      aria-expanded={told}
                      onClick={() => setOpen(told ? null : key)}
                      className="grid min-h-11 w-full grid-cols-[1fr_6rem] items-center gap-2 text-left leading-tight hover:bg-paper"
                    >
                      <span className="flex items-center justify-between gap-2">
                        <span className={c.score === 1 ? "font-semibold" : ""}>{word(c.value)}</span>
                        {(name === "plate" || name === "sole") && <SolePicture value={c.value} />}
                      </span>
                      <span
                        className="block h-1.5 bg-ink"
                        style={{ width: `${Math.max(c.score * 100, 2)}%` }}
                      />
                    </button>
                    {told && (
                      <ul className="mb-1 space-y-1 border-line border-l-4 pl-2 text-sm">
                        {c.reasons.map((r) => (
                          <li key={r.rule}>
                            <Reason {...r} />
                          </li>
                        ))}
                      </ul>
                    )}
                  </li>
                );
              })}
              {spec.vetoes
                .filter((v) => v.name === name)
                .map((v) => (
                  <li key={v.rule + v.value} className="mb-1.5">
                    <s className="decoration-2 decoration-madder">{word(v.value)}</s>
                    <span className="block text-sm">
                      <Reason {...v} />
                    </span>
                  </li>
                ))}
            </ol>
          </section>
        );
      })}
    </>
  );
}
