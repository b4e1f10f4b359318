/** What to try next: the shelf judged again by what was found, the sizes of the tried model, and what helps this pair. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ask, http, type Schemas, type Trouble } from "../../api/client";
import { useDesk, useTypedThere } from "../../api/desk";
import { fittingKey } from "../../api/fitting";
import { useVocabulary } from "../../api/vocabulary";
import { Frame, TicksBelow } from "../../drawing/axis";
import { LacingPicture } from "../../drawing/LacingPicture";
import { Announced } from "../../ui/Announced";
import { Button } from "../../ui/Button";
import { euText } from "../../ui/label";
import { Heading, MARKS } from "../../ui/words";
import { useBlind } from "../blind";

type View = Schemas["TrialNextView"];

export function useNext(pair: string) {
  const { fitting } = useDesk();
  const there = useTypedThere(fitting);
  return useQuery({
    queryKey: ["of", fitting.id, "next", fitting.parts.trial.version, fitting.learned, pair],
    queryFn: () =>
      ask(
        http.GET("/api/fittings/{fitting_id}/trial/next", {
          params: { path: { fitting_id: fitting.id }, query: pair ? { pair } : {} },
        }),
      ),
    enabled: there && !!pair,
    placeholderData: (old) => old,
  });
}

/** The next pair in words, and into the tray with one press. */
export function NextPairs({ found }: { found: View | undefined }) {
  const { fitting, locked } = useDesk();
  const { blind } = useBlind();
  const client = useQueryClient();
  const pull = useMutation<unknown, Trouble, string>({
    mutationFn: (line_id) =>
      ask(
        http.PUT("/api/fittings/{fitting_id}/tray/{line_id}", {
          params: { path: { fitting_id: fitting.id, line_id } },
        }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: fittingKey(fitting.id) }),
  });
  if (!found?.places.length || locked) return null;
  const [first, ...others] = found.places;
  const trayed = (id: string) => fitting.tray.some((p) => p.id === id);
  return (
    <section aria-label="The next pair">
      <Heading>The next pair</Heading>
      <Announced text={found.best_tried ? "" : (first?.text ?? "")} />
      {found.best_tried ? (
        <p className="border-ink border-l-4 pl-2" data-stays>
          Nothing on the shelf promises more than the pair that passed.
        </p>
      ) : blind ? (
        <p className="text-faint">Score the other pairs first: names are hidden.</p>
      ) : (
        <>
          {first && (
            <div className="border-madder border-l-4 pl-2" data-next={first.pair.id}>
              <p>{first.text}</p>
              <Button
                className="mt-1"
                disabled={pull.isPending || trayed(first.pair.id)}
                onClick={() => pull.mutate(first.pair.id)}
              >
                {trayed(first.pair.id) ? "In the tray" : "Into the tray"}
              </Button>
            </div>
          )}
          <ul className="mt-1.5 space-y-1 text-sm">
            {others.map((p) => (
              <li key={p.pair.id} className="flex items-center justify-between gap-2">
                <span>{p.text.replace(/^[^:;]*: t/, "T")}</span>
                <Button
                  kind="quiet"
                  disabled={pull.isPending || trayed(p.pair.id)}
                  onClick={() => pull.mutate(p.pair.id)}
                  aria-label={`${p.pair.name} ${euText(p.pair)} into the tray`}
                >
                  +
                </Button>
              </li>
            ))}
          </ul>
          {pull.error && <p role="alert">{pull.error.message}</p>}
        </>
      )}
      {found.foot.map((t) => (
        <p key={t} className="mt-1.5 text-sm">
          {t}
        </p>
      ))}
    </section>
  );
}

const WIDTH = 560;
const ROW = 54;
const EDGE = 64;

/** The sizes and widths of the model that was tried, each as high as it is good now; tried ones stand on a thick line. */
export function Run({ found, model }: { found: View | undefined; model: string }) {
  const hopes = useVocabulary().data?.values ?? {};
  const sizes = (found?.runs ?? []).filter((r) => r.model_id === model);
  const widths = [...new Set(sizes.map((r) => r.width))];
  const labels = [...new Set(sizes.map((r) => r.label))].toSorted((a, b) => a - b);
  if (labels.length < 2) return null;
  const low = labels[0] ?? 0;
  const span = Math.max((labels.at(-1) ?? low) - low, 1);
  const x = (label: number) => EDGE + 14 + ((label - low) / span) * (WIDTH - EDGE - 40);
  const box = Math.min(20, ((WIDTH - EDGE - 40) / span) * 0.4);
  const told = sizes
    .filter((r) => r.quality >= 0.5 || r.tried)
    .map(
      (r) =>
        `${r.label} ${r.width === "regular" ? "" : r.width} ${hopes[r.hope] ?? r.hope}${r.tried ? ", tried" : ""}`,
    )
    .join("; ");
  return (
    <figure className="mt-3" data-run>
      <figcaption className="text-faint text-sm">
        This model, judged again: the fuller a size, the more it promises now. A thick foot: tried. Broken:
        none here.
      </figcaption>
      <Frame
        width={WIDTH}
        height={widths.length * ROW + 22}
        label={`Sizes of this model after the trial: ${told}`}
      >
        {widths.map((width, i) => {
          const base = (i + 1) * ROW - 4;
          return (
            <g key={width}>
              <text x="0" y={base - 4} fontSize="11" fill="var(--faint)">
                {width}
              </text>
              <path d={`M${EDGE} ${base}H${WIDTH - 10}`} stroke="var(--line)" />
              {sizes
                .filter((r) => r.width === width)
                .map((r) => (
                  <g key={r.line_id} strokeDasharray={r.on_hand || r.tried ? undefined : "3 3"}>
                    <rect
                      x={x(r.label) - box / 2}
                      y={base - 38}
                      width={box}
                      height="38"
                      fill="none"
                      stroke="var(--ink)"
                      strokeWidth="0.8"
                    />
                    <rect
                      x={x(r.label) - box / 2}
                      y={base - 38 * r.quality}
                      width={box}
                      height={38 * r.quality}
                      fill="var(--ink)"
                      fillOpacity={r.tried ? 0.35 : 0.8}
                    />
                    {r.tried && (
                      <path
                        d={`M${x(r.label) - box / 2 - 3} ${base + 2}h${box + 6}`}
                        stroke="var(--madder)"
                        strokeWidth="4"
                        strokeDasharray="none"
                      />
                    )}
                  </g>
                ))}
            </g>
          );
        })}
        <TicksBelow
          ticks={labels.map((l) => ({ at: x(l), text: l }))}
          place={widths.length * ROW + 14}
          size={10}
        />
      </Frame>
    </figure>
  );
}

/** Lacing drawn, an insole with what it takes up, and what odd feet ask for. */
export function Helps({ found }: { found: View | undefined }) {
  if (!found || (!found.helps.length && !found.odd)) return null;
  return (
    <section aria-label="What helps this pair">
      {found.helps.length > 0 && <Heading>What helps this pair</Heading>}
      <ul className="space-y-2">
        {found.helps.map((h) => (
          <li key={h.text} className="flex gap-2 text-sm">
            {h.pattern && (
              <span className="shrink-0">
                <LacingPicture pattern={h.pattern} name={h.text.split(":")[0] ?? ""} />
              </span>
            )}
            <span>
              <b>{h.text.split(":")[0]}</b>
              {h.text.includes(":") && `:${h.text.split(":").slice(1).join(":")}`} {h.why}{" "}
              <span className="text-faint text-xs">{MARKS[h.mark]}</span>
            </span>
          </li>
        ))}
      </ul>
      {found.odd && (
        <>
          <Heading>Odd feet</Heading>
          <p className="text-sm" data-odd>
            {found.odd.text} <span className="text-faint text-xs">{MARKS.HD}</span>
          </p>
        </>
      )}
    </section>
  );
}
