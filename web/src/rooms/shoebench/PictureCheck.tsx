/** One picture looked at: what was found on it, dragged right where it is wrong, what a rule tells, and keeping it. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, type Trouble } from "../../api/client";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { Dialog } from "../../ui/Dialog";
import { NumberField } from "../../ui/NumberField";
import { NUMBER_NAMES, unitOf, WAY_NAMES } from "./names";
import { Handles, type Step } from "./PictureHandles";
import { BESIDE } from "./StudFields";
import type { Picture, ShoeSaid } from "./usePictures";
import { refusal, useSaid, wrongAt } from "./useSaid";

/** What a rule or a calliper may tell of a picture, by its way. */
const TOLD: Record<Picture["way"], { name: keyof ShoeSaid; text: string; wide?: boolean }[]> = {
  insole: [{ name: "thick_mm", text: "Insole's thickness" }],
  sole: [
    { name: "sole_mm", text: "Sole's length by rule" },
    { name: "stud_mm", text: "Studs' height" },
    { name: "upper_heel_mm", text: "Upper at the heel" },
  ],
  side: [{ name: "wide_mm", text: "Sole's width at the ball", wide: true }],
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
  const said = useSaid(picture, told);
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
  const trouble = said.trouble ?? keep.error ?? out.error;
  const wrong =
    trouble &&
    refusal(
      trouble,
      TOLD[picture.way].map((t) => t.name),
    );
  return (
    <Dialog open wide onClose={onClose} title={`${WAY_NAMES[picture.way]}: ${picture.name || "a picture"}`}>
      <div className="flex flex-wrap gap-3">
        <OneOf label="What to correct" value={step} options={steps} onChange={(v) => setStep(v as Step)} />
        <OneOf
          label="Paper"
          value={picture.shape.paper}
          disabled={said.busy}
          options={[
            { value: "a4", text: "A4" },
            { value: "letter", text: "Letter" },
          ]}
          onChange={(paper) =>
            said.say({ paper: paper as "a4" | "letter", outline: null, spots: null, marks: {} })
          }
        />
      </div>
      <div className="my-2 overflow-hidden">
        <Handles picture={picture} step={step} said={said} />
      </div>
      <div className="flex flex-wrap items-start gap-2">
        {TOLD[picture.way].map((t) => (
          <NumberField
            key={t.name}
            label={t.text}
            unit="mm"
            width={t.wide ? "w-44" : "w-32"}
            value={(picture.said[t.name] as number | undefined) ?? null}
            error={wrongAt(said.trouble, t.name)}
            onChange={(v) => said.say({ [t.name]: v }, true)}
          />
        ))}
        {picture.way === "sole" && (
          <OneOf
            columns={BESIDE}
            label="Inner side"
            value={(picture.said.inner as string | undefined) ?? null}
            options={[
              { value: "up", text: "inner side up" },
              { value: "down", text: "inner side down" },
            ]}
            onChange={(v) => said.say({ inner: v as "up" | "down" })}
            onClear={() => said.say({ inner: null })}
          />
        )}
      </div>
      <dl className="mt-2 grid grid-cols-2 gap-x-8 text-sm max-md:grid-cols-1">
        {Object.keys(NUMBER_NAMES)
          .flatMap((name) => {
            const n = picture.reading.numbers[name];
            return n ? [[name, n] as const] : [];
          })
          .map(([name, n]) => (
            <div key={name} className="flex justify-between gap-2 border-line border-b py-0.5">
              <dt>{NUMBER_NAMES[name]}</dt>
              <dd className="whitespace-nowrap font-mono">
                {n.value.toFixed(name === "heel_flare" ? 2 : 1)} ±{" "}
                {(1.96 * n.sigma).toFixed(name === "heel_flare" ? 2 : 1)} {unitOf(name)}
              </dd>
            </div>
          ))}
        {picture.reading.studs?.length ? (
          <div className="flex justify-between gap-2 border-line border-b py-0.5">
            <dt>Studs found</dt>
            <dd className="font-mono">{picture.reading.studs.length}</dd>
          </div>
        ) : null}
      </dl>
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
      {wrong && (
        <p role="alert" className="mt-1 text-madder">
          {wrong}{" "}
          {said.trouble?.problem.code === "changed-elsewhere" && (
            <Button disabled={said.busy} onClick={() => void said.again()}>
              Say it again
            </Button>
          )}
        </p>
      )}
      <div className="mt-3 flex flex-wrap items-center justify-end gap-2">
        {said.busy && <span role="status">measuring again …</span>}
        <Button kind="quiet" disabled={out.isPending} onClick={() => out.mutate()}>
          Take the picture out
        </Button>
        {canKeep && picture.practice && (
          <span className="text-sm">A practice shoe stays out of the catalogue.</span>
        )}
        {canKeep && !picture.practice && (
          <Button
            kind="strong"
            disabled={picture.kept || keep.isPending || said.busy || said.unsaid}
            onClick={() => keep.mutate()}
          >
            {picture.kept ? "Kept for the catalogue" : "Keep these numbers"}
          </Button>
        )}
      </div>
    </Dialog>
  );
}
