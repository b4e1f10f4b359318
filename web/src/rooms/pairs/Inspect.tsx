/** Looking at a worn pair: the shoe drawn, each part numbered, what is found of it chosen beside; told at once. */
import { useMutation } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ask, http, type Schemas } from "../../api/client";
import { type PairPage, useLook } from "../../api/pairs";
import { Frame } from "../../drawing/axis";
import { Hatches } from "../../drawing/kit";
import { bed, openPath, shoeShape, soleSide, underside, upperSide } from "../../drawing/shoe";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { DateField } from "../../ui/DateField";
import { Dialog } from "../../ui/Dialog";

type SeenPart = Schemas["LookedOut"]["part"];
type Point = readonly [number, number];

const WIDTH = 620;
const LENGTH_MM = 285;
const SCALE = 1.72;
const GROUND = 190;
const LEFT = 54;
const STUD_MM = 11;
const FINGER = 25;

/** Where each part sits: a share of the length, and a height over the bed or the underside. */
function placeOf(part: SeenPart, shape: ReturnType<typeof shoeShape>): Point {
  const l = shape.length;
  const over = (share: number, up: number): Point => [share * l, bed(shape, share * l) + up];
  const below = (share: number, up: number): Point => [share * l, underside(shape, share * l) + up];
  const places: Record<SeenPart, Point> = {
    studs: below(0.56, -STUD_MM / 2),
    toe_rubber: over(0.97, 0.02 * l),
    sole: below(0.84, 1),
    downturn: below(0.7, 2),
    midsole: over(0.16, -shape.stack / 2),
    quarter: over(0.4, 0.14 * l),
    upper: over(0.66, 0.11 * l),
    overhang: over(0.33, 3),
    cup: over(0.015, 0.45 * shape.collar),
    cleat: below(0.68, -6),
    damp: over(0.24, 0.7 * shape.collar),
  };
  return places[part];
}

interface DrawingProps {
  page: PairPage;
  found: Record<string, string>;
  open: SeenPart | null;
  onOpen: (part: SeenPart) => void;
}

function WornShoe({ page, found, open, onOpen }: DrawingProps) {
  const { sport } = page.pair;
  const shape = shoeShape(page.shape, sport, LENGTH_MM);
  const at = ([x, z]: Point): Point => [LEFT + x * SCALE, GROUND - z * SCALE];
  const stands = page.looked.some((l) => l.part === "studs") ? STUD_MM : 0;
  const put = (points: readonly Point[]) => points.map(([x, z]) => at([x, z + stands]));
  const sole = put(soleSide(shape));
  const worn = (part: SeenPart) => {
    const of = page.looked.find((l) => l.part === part)?.findings ?? [];
    const place = of.findIndex((f) => f.value === found[part]);
    return place < 0 ? "" : place === of.length - 1 ? "hatch-too_tight" : place ? "hatch-tight" : "";
  };
  return (
    <Frame
      width={WIDTH}
      height={GROUND + 34}
      role="group"
      data-drawing="worn-shoe"
      label={`The shoe from the side, with the parts to look at: ${page.looked.map((l) => l.name).join(", ")}`}
    >
      <Hatches />
      <path d={`M${LEFT - 30} ${GROUND}H${WIDTH - 10}`} stroke="var(--ink)" strokeWidth="1.4" />
      {stands > 0 &&
        [0.08, 0.2, 0.6, 0.72, 0.86].map((share) => {
          const [x, z] = at([share * LENGTH_MM, underside(shape, share * LENGTH_MM) + stands]);
          return (
            <path
              key={share}
              d={`M${x - 7} ${z}L${x - 4} ${z + STUD_MM * SCALE}H${x + 4}L${x + 7} ${z}`}
              fill="var(--sheet)"
              stroke="var(--ink)"
            />
          );
        })}
      <path d={openPath(put(upperSide(shape)))} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
      <path d={`${openPath(sole)}Z`} fill="var(--paper)" stroke="var(--ink)" strokeWidth="1.5" />
      {page.looked.map(({ part, name }, i) => {
        const [px, pz] = placeOf(part, shape);
        const [x, z] = at([px, pz + stands]);
        const hatch = worn(part);
        return (
          <g key={part}>
            {hatch && <ellipse cx={x} cy={z} rx="30" ry="13" fill={`url(#${hatch})`} />}
            <a
              href={`#${part}`}
              tabIndex={-1}
              aria-label={`${i + 1} ${name}`}
              onClick={(e) => {
                e.preventDefault();
                onOpen(part);
              }}
            >
              <circle cx={x} cy={z} r={FINGER} fill="transparent" />
              <circle
                cx={x}
                cy={z}
                r="9.5"
                fill={open === part ? "var(--madder)" : "var(--sheet)"}
                stroke="var(--ink)"
              />
              <text
                x={x}
                y={z + 4}
                fontSize="11"
                textAnchor="middle"
                fill={open === part ? "var(--on-madder)" : "var(--ink)"}
                className="font-mono"
              >
                {i + 1}
              </text>
            </a>
          </g>
        );
      })}
    </Frame>
  );
}

export function Inspect({ page, onClose }: { page: PairPage; onClose: () => void }) {
  const [found, setFound] = useState<Partial<Record<SeenPart, string>>>({});
  const [on, setOn] = useState(page.today);
  const [open, setOpen] = useState<SeenPart | null>(null);
  const list = useRef<HTMLUListElement>(null);
  const look = useLook(page.pair.id);
  const tried = useMutation({
    mutationFn: (seen: Partial<Record<SeenPart, string>>) =>
      ask(
        http.POST("/api/pairs/{pair_id}/seen/try", {
          params: { path: { pair_id: page.pair.id } },
          body: { seen: seen as Record<SeenPart, string> },
        }),
      ),
  });
  const choose = (part: SeenPart, value: string | null) => {
    const { [part]: _, ...rest } = found;
    const now = value ? { ...rest, [part]: value } : rest;
    setFound(now);
    setOpen(part);
    if (Object.keys(now).length) tried.mutate(now);
    else tried.reset();
  };
  const show = (part: SeenPart) => {
    setOpen(part);
    list.current?.querySelector<HTMLElement>(`[data-part=${part}] button`)?.focus();
  };
  const none = !Object.keys(found).length;
  const says = none ? undefined : tried.data;
  return (
    <Dialog open onClose={onClose} title="What do you see?" wide>
      <WornShoe page={page} found={found} open={open} onOpen={show} />
      <p className="min-h-12 leading-snug" role="status" data-says>
        {says ? (
          <>
            {says.says.worn_share !== null && says.says.sigma !== null && (
              <b>
                About {Math.round(says.says.worn_share * 100)} % worn (± {Math.round(says.says.sigma * 100)});{" "}
                about {Math.round(says.wear.left_h.mid)} h left, {Math.round(says.wear.left_h.low)} to{" "}
                {Math.round(says.wear.left_h.high)}.{" "}
              </b>
            )}
            {says.says.advice.join(" ")}
          </>
        ) : (
          <span className="text-faint">Tap what you find. What you don't look at counts for nothing.</span>
        )}
      </p>
      <ul ref={list} className="mt-1">
        {page.looked.map((l, i) => (
          <li
            key={l.part}
            data-part={l.part}
            className="grid grid-cols-[1.6rem_11rem_1fr] items-center gap-2 border-line border-t py-1.5 max-md:grid-cols-[1.6rem_1fr]"
          >
            <span className="font-mono text-faint text-sm">{i + 1}</span>
            <span className="leading-tight">
              {l.name}
              <span className="block text-faint text-xs">{l.how}</span>
            </span>
            <span className="max-md:col-span-2">
              <OneOf
                label={l.name}
                value={found[l.part]}
                options={l.findings}
                onChange={(v) => choose(l.part, v)}
                onClear={() => choose(l.part, null)}
              />
            </span>
          </li>
        ))}
      </ul>
      {(look.error ?? tried.error) && (
        <p role="alert" className="mt-2 border-madder border-l-4 pl-2">
          {(look.error ?? tried.error)?.message}
        </p>
      )}
      <span className="mt-3 flex items-end gap-2">
        <DateField className="w-40" label="Seen on" value={on} onCommit={(v) => setOn(v ?? page.today)} />
        <Button
          kind="strong"
          disabled={none || look.isPending}
          onClick={() => look.mutate({ on, seen: found as Record<SeenPart, string> }, { onSuccess: onClose })}
        >
          Keep it
        </Button>
      </span>
    </Dialog>
  );
}
