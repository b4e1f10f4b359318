/** Checking a capture on a picture, and saying what was read wrong. */
import { useState } from "react";
import { type Side, Trouble } from "../../api/client";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { Dialog } from "../../ui/Dialog";
import type { Said } from "./check";
import { MatCheck } from "./MatCheck";
import { ScanCheck } from "./ScanCheck";
import { TracingCheck } from "./TracingCheck";
import { type Capture, type Captures, useShape } from "./useCaptures";

interface Props {
  capture: Capture;
  captures: Captures;
  onClose: () => void;
}

const NAMES = {
  scan: "Check the scan",
  tracing: "Check the tracing",
  mat: "Check the print",
  record: "",
} as const;

export default function Correct({ capture, captures, onClose }: Props) {
  const shape = useShape(capture);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const say = async (more: Partial<Said>) => {
    setBusy(true);
    setTrouble(null);
    try {
      await captures.correct(capture, { ...capture.said, ...more });
    } catch (error) {
      if (!(error instanceof Trouble)) throw error;
      setTrouble(error.problem.title);
    } finally {
      setBusy(false);
    }
  };
  const common = { capture, shape, busy, say };
  return (
    <Dialog
      open
      onClose={onClose}
      title={`${NAMES[capture.kind]}: ${capture.side} foot`}
      wide={capture.kind === "tracing"}
    >
      <div aria-busy={busy} className="space-y-3">
        {capture.reading.questions?.map((q) => (
          <p key={q} className="border-ink border-l-2 border-dashed pl-2">
            {q}
          </p>
        ))}
        {trouble && (
          <p role="alert" className="border-madder border-l-4 pl-2 text-madder">
            {trouble}
          </p>
        )}
        <div className="flex flex-wrap gap-4">
          <OneOf
            label="Which foot"
            value={capture.side}
            disabled={busy}
            onChange={(side) => void say({ side: side as Side })}
            options={[
              { value: "left", text: "Left foot" },
              { value: "right", text: "Right foot" },
            ]}
          />
          <OneOf
            label="How it was measured"
            value={capture.said.stance ?? "standing"}
            disabled={busy}
            onChange={(stance) => void say({ stance: stance as "standing" | "sitting" })}
            options={[
              { value: "standing", text: "standing" },
              { value: "sitting", text: "sitting" },
            ]}
          />
        </div>
        {shape && capture.kind === "scan" && <ScanCheck {...common} shape={shape} />}
        {shape && capture.kind === "tracing" && <TracingCheck {...common} shape={shape} />}
        {shape && capture.kind === "mat" && <MatCheck {...common} shape={shape} />}
        {/* At the foot of the dialog, whatever comes or goes above it: what is asked when it was measured again must not
            move the button from under a finger. */}
        <div className="sticky bottom-0 bg-sheet pt-1 pb-2">
          <p role="status" className="min-h-5 text-faint text-sm">
            {busy ? "Measuring again …" : ""}
          </p>
          <Button kind="strong" onClick={onClose}>
            It is right
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
