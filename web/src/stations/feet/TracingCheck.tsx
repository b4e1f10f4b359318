/** A tracing's corners and outline, dragged over its picture. */
import { useState } from "react";
import { Dragged } from "../../drawing/Dragged";
import { bent, handlesOf } from "../../drawing/outline";
import { OneOf } from "../../ui/choice";
import type { CheckProps } from "./check";

export function TracingCheck({ capture, shape, busy, say }: CheckProps) {
  const [step, setStep] = useState<"corners" | "outline">(shape.corners_found ? "outline" : "corners");
  return (
    <>
      <div className="flex flex-wrap gap-3">
        <OneOf
          label="What to correct"
          value={step}
          onChange={(v) => setStep(v as typeof step)}
          options={[
            { value: "corners", text: "Corners of the paper" },
            { value: "outline", text: "Outline" },
          ]}
        />
        <OneOf
          label="Paper"
          value={shape.paper}
          disabled={busy}
          onChange={(paper) => void say({ paper: paper as "a4" | "letter", outline: null })}
          options={[
            { value: "a4", text: "A4" },
            { value: "letter", text: "Letter" },
          ]}
        />
        <OneOf
          label="What is on it"
          value={shape.drawn}
          disabled={busy}
          onChange={(drawn) => void say({ drawn: drawn as "line" | "foot", outline: null })}
          options={[
            { value: "line", text: "a pen's line" },
            { value: "foot", text: "the foot itself" },
          ]}
        />
      </div>
      {step === "corners" ? (
        <Dragged
          of={`${capture.id} ${capture.version}`}
          label="The photograph with the paper's corners"
          src={`/api/captures/${capture.id}/picture`}
          width={shape.size[0] ?? 1000}
          height={shape.size[1] ?? 1000}
          points={shape.corners}
          names={["Corner 1", "Corner 2", "Corner 3", "Corner 4"]}
          disabled={busy}
          onPut={(corners) => void say({ corners, outline: null })}
        />
      ) : (
        <OutlineEditor capture={capture} shape={shape} busy={busy} say={say} />
      )}
    </>
  );
}

const PAPER_MM = { a4: [210, 297], letter: [215.9, 279.4] } as const;

/** Points of the outline that can be dragged: as many as fingers can tell apart. */
const HANDLES = 22;

function OutlineEditor({ capture, shape, busy, say }: CheckProps) {
  const [w, h] = PAPER_MM[shape.paper ?? "a4"];
  if (!shape.on_paper.length) {
    return <p>There is no outline yet: set the corners first.</p>;
  }
  const handles = handlesOf(shape.on_paper, HANDLES);
  return (
    <Dragged
      of={`${capture.id} ${capture.version}`}
      label="The paper from straight above with the outline's points"
      src={`/api/captures/${capture.id}/picture?flat=true&v=${capture.version}`}
      width={w}
      height={h}
      points={handles}
      curve={shape.on_paper}
      names={handles.map((_, i) => `Outline point ${i + 1}`)}
      disabled={busy}
      onPut={(moved) =>
        void say({ outline: bent(shape.on_paper, moved), corners: shape.corners, drawn: shape.drawn })
      }
    />
  );
}
