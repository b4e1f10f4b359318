/** What was found on a picture as handles: the paper's corners, an outline's points, studs' tips, a side's marks. */
import { useState } from "react";
import { Dragged } from "../../drawing/Dragged";
import { bent, handlesOf } from "../../drawing/outline";
import { Button } from "../../ui/Button";
import { MARK_NAMES } from "./names";
import { type Spot, StudFields } from "./StudFields";
import type { Picture } from "./usePictures";
import { type useSaid, wrongAt } from "./useSaid";

export type Step = "corners" | "outline" | "studs" | "marks";
const PAPER_MM = { a4: [210, 297], letter: [215.9, 279.4] } as const;
const HANDLES = 20;

interface HandlesProps {
  picture: Picture;
  step: Step;
  said: ReturnType<typeof useSaid>;
}

type SpotSeen = NonNullable<Picture["shape"]["spots"]>[number];
const spotSaid = (s: SpotSeen): Spot => ({
  ...s,
  height_mm: s.height_mm ?? null,
  at: [s.at[0] ?? 0, s.at[1] ?? 0],
});

/** Tips as they were found, at where they are dragged to. */
const tips = (spots: SpotSeen[]) => (points: number[][], pen: number) =>
  spots.map((s, i) => {
    const [x = 0, y = 0] = points[i] ?? [];
    const common = { fill: "none", stroke: "var(--madder)", strokeWidth: pen };
    return s.blade ? (
      <rect
        key={i}
        x={x - s.long / 2}
        y={y - s.wide / 2}
        width={s.long}
        height={s.wide}
        transform={`rotate(${-s.angle_deg} ${x} ${y})`}
        {...common}
      />
    ) : (
      <circle key={i} cx={x} cy={y} r={s.wide / 2} {...common} />
    );
  });

export function Handles({ picture, step, said }: HandlesProps) {
  const { shape } = picture;
  const { say, busy } = said;
  const [chosen, setChosen] = useState<number | null>(null);
  const image = `/api/shoe-pictures/${picture.id}/image`;
  const of = `${picture.id} ${picture.version}`;
  const flat = `${image}?flat=true&v=${picture.version}`;
  if (step === "corners") {
    return (
      <Dragged
        key={step}
        of={of}
        label="The photograph with the paper's corners"
        src={image}
        width={shape.size[0] ?? 1000}
        height={shape.size[1] ?? 1000}
        points={shape.corners}
        names={["Corner 1", "Corner 2", "Corner 3", "Corner 4"]}
        disabled={busy}
        onPut={(corners) =>
          say({ corners: corners as [number, number][], outline: null, spots: null, marks: {} })
        }
      />
    );
  }
  const [u0 = 0, v1 = 0, wide = 0, high = 0] = shape.wall ?? [];
  const onWall = wide > 0;
  const [w, h] = onWall ? [wide, high] : PAPER_MM[shape.paper];
  const seen = ([x = 0, y = 0]: readonly number[]) => (onWall ? [x - u0, v1 - y] : [x, y]);
  const back = ([x = 0, y = 0]: readonly number[]): [number, number] => (onWall ? [x + u0, v1 - y] : [x, y]);
  const curve = shape.on_paper.map(seen);
  const common = { of, src: flat, width: w, height: h, curve, disabled: busy };
  if (step === "marks") {
    const names = Object.keys(MARK_NAMES).filter((n) => shape.marks?.[n]);
    return (
      <Dragged
        {...common}
        key={step}
        label="The side seen squarely, with its marks"
        points={names.map((n) => seen(shape.marks?.[n] ?? [0, 0]))}
        names={names.map((n) => MARK_NAMES[n] ?? n)}
        onPut={(points) => {
          const moved = Object.fromEntries(
            names.flatMap((n, i) => {
              const was = shape.marks?.[n] ?? [0, 0];
              const now = back(points[i] ?? [0, 0]);
              const same = Math.hypot(now[0] - (was[0] ?? 0), now[1] - (was[1] ?? 0)) < 0.05;
              return same ? [] : [[n, now]];
            }),
          );
          say({ marks: { ...(picture.said.marks as object), ...moved } });
        }}
      />
    );
  }
  if (step === "studs") {
    const spots = shape.spots ?? [];
    const latest = () => said.spots() ?? spots.map(spotSaid);
    const one = chosen === null ? undefined : latest()[chosen];
    return (
      <>
        <Dragged
          {...common}
          key={step}
          label="The sole seen squarely, with its studs"
          points={spots.map((s) => seen(s.at))}
          names={spots.map((_, i) => `Stud ${i + 1}`)}
          shapes={tips(spots)}
          chosen={chosen}
          onChoose={setChosen}
          onPut={(points) =>
            say({
              spots: latest().flatMap((s, i) => {
                const [x = 0, y = 0] = points[i] ?? [];
                const off = x < 0 || y < 0 || x > w || y > h;
                return off ? [] : [{ ...s, at: back([x, y]) }];
              }),
            })
          }
        />
        {one && chosen !== null && (
          <StudFields
            key={chosen}
            name={`Stud ${chosen + 1}`}
            spot={one}
            sides={shape.sides_mm?.[chosen] ?? []}
            usual={(picture.said.stud_mm as number | undefined) ?? null}
            wrong={(part) => wrongAt(said.trouble, `spots.${chosen}.${part}`)}
            onChange={(change, typing) =>
              say({ spots: latest().map((s, i) => (i === chosen ? change(s) : s)) }, typing)
            }
            onOut={() => {
              say({ spots: latest().filter((_, i) => i !== chosen) });
              setChosen(null);
            }}
          />
        )}
        <div className="mt-1 flex flex-wrap items-center gap-2 text-sm">
          <Button
            disabled={busy}
            onClick={() => {
              const like = latest()[0];
              setChosen(latest().length);
              say({
                spots: [
                  ...latest(),
                  {
                    at: back([w / 2, h / 2]),
                    long: like?.long ?? 10,
                    wide: like?.wide ?? 10,
                    angle_deg: 0,
                    blade: like?.blade ?? false,
                    height_mm: null,
                    told: true,
                    calliper: false,
                  },
                ],
              });
            }}
          >
            Add a stud
          </Button>
          Touch one to measure it by calliper; drag one off the picture to take it out.
        </div>
      </>
    );
  }
  const handles = handlesOf(curve, HANDLES);
  return (
    <Dragged
      {...common}
      key={step}
      label="Seen squarely, with the outline's points"
      points={handles}
      names={handles.map((_, i) => `Outline point ${i + 1}`)}
      onPut={(moved) => {
        const outline = bent(curve, moved).map(back);
        const spots = said.spots() ?? (shape.spots ?? []).map(spotSaid);
        say({ outline, ...(picture.way === "sole" ? { spots } : {}) });
      }}
    />
  );
}
