/** One picture looked at: what was found on it, dragged right where it is wrong, what a rule tells, and keeping it. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, type Trouble } from "../../api/client";
import { Dragged } from "../../drawing/Dragged";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { Dialog } from "../../ui/Dialog";
import { NumberField } from "../../ui/NumberField";
import { MARK_NAMES, NUMBER_NAMES, unitOf, WAY_NAMES } from "./names";
import type { Picture, ShoeSaid } from "./usePictures";

type Step = "corners" | "outline" | "studs" | "marks";
const PAPER_MM = { a4: [210, 297], letter: [215.9, 279.4] } as const;
const HANDLES = 20;
/** What a rule or a calliper may tell of a picture, by its way. */
const TOLD: Record<Picture["way"], { name: keyof ShoeSaid; text: string }[]> = {
  insole: [{ name: "thick_mm", text: "Insole's thickness" }],
  sole: [
    { name: "sole_mm", text: "Sole's length by rule" },
    { name: "stud_mm", text: "Studs' height" },
    { name: "upper_heel_mm", text: "Upper's width at the heel" },
  ],
  side: [{ name: "wide_mm", text: "Sole's width at the ball" }],
};

interface Props {
  picture: Picture;
  canKeep: boolean;
  onNow: (picture: Picture) => void;
  onClose: () => void;
}

export function PictureCheck({ picture, canKeep, onNow, onClose }: Props) {
  const client = useQueryClient();
  const first: Step = !picture.shape.corners_found
    ? "corners"
    : picture.way === "side"
      ? "marks"
      : picture.way === "sole" && picture.reading.studs?.length
        ? "studs"
        : "outline";
  const [step, setStep] = useState<Step>(first);
  const told = (now: Picture) => {
    onNow(now);
    for (const key of ["shoe-bench", "line", "rack", "of", "pair-pictures", "model"]) {
      void client.invalidateQueries({ queryKey: [key] });
    }
  };
  const path = { params: { path: { picture_id: picture.id } } };
  const say = useMutation<Picture, Trouble, ShoeSaid>({
    mutationFn: (more) =>
      ask(
        http.PATCH("/api/shoe-pictures/{picture_id}", {
          ...path,
          body: { version: picture.version, said: { ...picture.said, ...more } as never },
        }),
      ),
    onSuccess: told,
  });
  const keep = useMutation<Picture, Trouble>({
    mutationFn: () =>
      ask(http.POST("/api/shoe-pictures/{picture_id}/keep", { ...path, body: { version: picture.version } })),
    onSuccess: told,
  });
  const out = useMutation<unknown, Trouble>({
    mutationFn: () => ask(http.DELETE("/api/shoe-pictures/{picture_id}", path)),
    onSuccess: () => {
      told(picture);
      onClose();
    },
  });
  const steps: { value: Step; text: string }[] = [
    { value: "corners", text: "Paper's corners" },
    ...(picture.way === "side"
      ? [{ value: "marks" as const, text: "Marks" }]
      : [{ value: "outline" as const, text: "Outline" }]),
    ...(picture.way === "sole" ? [{ value: "studs" as const, text: "Studs" }] : []),
  ];
  const trouble = say.error ?? keep.error ?? out.error;
  return (
    <Dialog open wide onClose={onClose} title={`${WAY_NAMES[picture.way]}: ${picture.name || "a picture"}`}>
      <div className="flex flex-wrap gap-3">
        <OneOf label="What to correct" value={step} options={steps} onChange={(v) => setStep(v as Step)} />
        <OneOf
          label="Paper"
          value={picture.shape.paper}
          disabled={say.isPending}
          options={[
            { value: "a4", text: "A4" },
            { value: "letter", text: "Letter" },
          ]}
          onChange={(paper) =>
            say.mutate({ paper: paper as "a4" | "letter", outline: null, spots: null, marks: {} })
          }
        />
      </div>
      <div className="my-2 overflow-hidden">
        <Handles picture={picture} step={step} busy={say.isPending} say={say.mutate} />
      </div>
      <div className="flex flex-wrap items-end gap-2">
        {TOLD[picture.way].map((t) => (
          <NumberField
            key={t.name}
            label={t.text}
            unit="mm"
            value={(picture.said[t.name] as number | undefined) ?? null}
            onChange={(v) => say.mutate({ [t.name]: v })}
          />
        ))}
        {picture.way === "sole" && (
          <OneOf
            label="Inner side"
            value={(picture.said.inner as string | undefined) ?? null}
            options={[
              { value: "up", text: "inner side up" },
              { value: "down", text: "inner side down" },
            ]}
            onChange={(v) => say.mutate({ inner: v as "up" | "down" })}
            onClear={() => say.mutate({ inner: null })}
          />
        )}
      </div>
      <table className="mt-2 w-full text-sm">
        <tbody>
          {Object.keys(NUMBER_NAMES)
            .flatMap((name) => {
              const n = picture.reading.numbers[name];
              return n ? [[name, n] as const] : [];
            })
            .map(([name, n]) => (
              <tr key={name} className="border-line border-b">
                <th className="py-0.5 text-left font-normal">{NUMBER_NAMES[name]}</th>
                <td className="whitespace-nowrap text-right font-mono">
                  {n.value.toFixed(name === "heel_flare" ? 2 : 1)} ±{" "}
                  {(1.96 * n.sigma).toFixed(name === "heel_flare" ? 2 : 1)} {unitOf(name)}
                </td>
              </tr>
            ))}
          {picture.reading.studs?.length ? (
            <tr>
              <th className="py-0.5 text-left font-normal">Studs found</th>
              <td className="text-right font-mono">{picture.reading.studs.length}</td>
            </tr>
          ) : null}
        </tbody>
      </table>
      {(picture.reading.questions ?? []).map((q) => (
        <p key={q} className="mt-1 text-madder text-sm">
          {q}
        </p>
      ))}
      {(picture.reading.notes ?? []).map((n) => (
        <p key={n} className="mt-1 text-faint text-sm">
          {n}
        </p>
      ))}
      {trouble && (
        <p role="alert" className="mt-1 text-madder">
          {trouble.message}
        </p>
      )}
      <div className="mt-3 flex flex-wrap items-center justify-end gap-2">
        {say.isPending && <span role="status">measuring again …</span>}
        <Button kind="quiet" disabled={out.isPending} onClick={() => out.mutate()}>
          Take it out
        </Button>
        {canKeep && picture.practice && (
          <span className="text-sm">A practice shoe stays out of the catalogue.</span>
        )}
        {canKeep && !picture.practice && (
          <Button
            kind="strong"
            disabled={picture.kept || keep.isPending || say.isPending}
            onClick={() => keep.mutate()}
          >
            {picture.kept ? "Kept for the catalogue" : "Keep these numbers"}
          </Button>
        )}
      </div>
    </Dialog>
  );
}

interface HandlesProps {
  picture: Picture;
  step: Step;
  busy: boolean;
  say: (more: ShoeSaid) => void;
}

const spotSaid = (s: NonNullable<Picture["shape"]["spots"]>[number]) => ({
  ...s,
  height_mm: s.height_mm ?? null,
  at: [s.at[0] ?? 0, s.at[1] ?? 0] as [number, number],
});

function Handles({ picture, step, busy, say }: HandlesProps) {
  const { shape } = picture;
  const flat = `/api/shoe-pictures/${picture.id}/image?flat=true&v=${picture.version}`;
  const key = `${step}${picture.version}`;
  if (step === "corners") {
    return (
      <Dragged
        key={key}
        label="The photograph with the paper's corners"
        src={`/api/shoe-pictures/${picture.id}/image?v=${picture.version}`}
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
  const common = { key, src: flat, width: w, height: h, curve, disabled: busy };
  if (step === "marks") {
    const names = Object.keys(MARK_NAMES).filter((n) => shape.marks?.[n]);
    return (
      <Dragged
        {...common}
        key={key}
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
    return (
      <>
        <Dragged
          {...common}
          key={key}
          label="The sole seen squarely, with its studs"
          points={spots.map((s) => seen(s.at))}
          names={spots.map((_, i) => `Stud ${i + 1}`)}
          onPut={(points) =>
            say({
              spots: spots.flatMap((s, i) => {
                const [x = 0, y = 0] = points[i] ?? [];
                const off = x < 0 || y < 0 || x > w || y > h;
                return off ? [] : [{ ...spotSaid(s), at: back([x, y]) }];
              }),
            })
          }
        />
        <div className="mt-1 flex flex-wrap items-center gap-2 text-sm">
          <Button
            disabled={busy}
            onClick={() =>
              say({
                spots: [
                  ...spots.map(spotSaid),
                  {
                    at: back([w / 2, h / 2]),
                    long: spots[0]?.long ?? 10,
                    wide: spots[0]?.wide ?? 10,
                    angle_deg: 0,
                    blade: spots[0]?.blade ?? false,
                    height_mm: spots[0]?.height_mm ?? null,
                  },
                ],
              })
            }
          >
            Add a stud
          </Button>
          Drag one off the picture to take it out.
        </div>
      </>
    );
  }
  const count = shape.on_paper.length;
  const many = Math.min(HANDLES, count);
  const placeOf = (k: number) => Math.round((k * count) / many);
  const handles = Array.from({ length: many }, (_, k) => curve[placeOf(k)] ?? [0, 0]);
  return (
    <Dragged
      {...common}
      key={key}
      label="Seen squarely, with the outline's points"
      points={handles}
      names={handles.map((_, i) => `Outline point ${i + 1}`)}
      onPut={(moved) => {
        const outline = curve.map(([x = 0, y = 0], i) => {
          const a = Math.min(Math.floor((i * many) / count), many - 1);
          const share = (i - placeOf(a)) / Math.max(placeOf(a + 1) - placeOf(a), 1);
          const by = (k: number, axis: 0 | 1) =>
            (moved[k % many]?.[axis] ?? 0) - (handles[k % many]?.[axis] ?? 0);
          return back([
            x + by(a, 0) * (1 - share) + by(a + 1, 0) * share,
            y + by(a, 1) * (1 - share) + by(a + 1, 1) * share,
          ]);
        });
        say({ outline, ...(picture.way === "sole" ? { spots: (shape.spots ?? []).map(spotSaid) } : {}) });
      }}
    />
  );
}
