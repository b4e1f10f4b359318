/** The ways feet come in: typed, a file brought or dropped, a practice device; and how far each is. */
import { useRef, useState } from "react";
import type { Schemas, Side } from "../../api/client";
import { useDesk } from "../../api/desk";
import type { Job } from "../../api/uploads";
import { useKeys } from "../../shell/keys";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { Dialog } from "../../ui/Dialog";
import { NumberField } from "../../ui/NumberField";
import type { Captures } from "./useCaptures";

const FILES = ".stl,.ply,.obj,.jpg,.jpeg,.png,.csv,.json,.svg";
type Device = Schemas["PracticeIn"]["device"];

export function WaysIn({ captures, onBrought }: { captures: Captures; onBrought: () => void }) {
  const { fitting, locked } = useDesk();
  const input = useRef<HTMLInputElement>(null);
  const [practice, setPractice] = useState(false);
  const choose = () => !locked && input.current?.click();
  useKeys({ b: choose, p: () => !locked && setPractice(true) });
  return (
    <div className="flex items-center gap-1.5">
      <input
        ref={input}
        type="file"
        multiple
        accept={FILES}
        className="sr-only"
        aria-label="Scan, photograph, mat CSV or record"
        tabIndex={-1}
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          e.target.value = "";
          onBrought();
          void captures.bring(files);
        }}
      />
      <Button
        onClick={choose}
        disabled={locked}
        aria-keyshortcuts="b"
        title="STL, PLY, OBJ · JPEG, PNG · CSV · JSON, SVG"
      >
        Bring a file
      </Button>
      <Button onClick={() => setPractice(true)} disabled={locked} aria-keyshortcuts="p">
        Practice
      </Button>
      <details className="relative">
        <summary className="flex min-h-11 cursor-pointer list-none items-center whitespace-nowrap px-1 underline">
          Take out
        </summary>
        <ul className="absolute right-0 z-20 w-44 border-2 border-ink bg-sheet">
          {(["json", "csv", "svg"] as const).map((form) => (
            <li key={form}>
              <a
                className="flex min-h-11 items-center px-3 hover:bg-paper"
                href={`/api/fittings/${fitting.id}/feet.${form}`}
                download={`feet.${form}`}
              >
                {{ json: "Numbers, JSON", csv: "Numbers, CSV", svg: "Outlines, SVG" }[form]}
              </a>
            </li>
          ))}
        </ul>
      </details>
      <Practice
        open={practice}
        onClose={() => setPractice(false)}
        onGo={(device, sides, seed) => {
          setPractice(false);
          onBrought();
          void (async () => {
            for (const side of sides) await captures.practise(device, side, seed);
          })();
        }}
      />
    </div>
  );
}

interface PracticeProps {
  open: boolean;
  onClose: () => void;
  onGo: (device: Device, sides: Side[], seed: number) => void;
}

function Practice({ open, onClose, onGo }: PracticeProps) {
  const [device, setDevice] = useState<Device>("scanner");
  const [sides, setSides] = useState("both");
  const [seed, setSeed] = useState<number | null>(7);
  const wrong = seed === null || !Number.isInteger(seed) || seed < 0 || seed > 1_000_000;
  return (
    <Dialog open={open} onClose={onClose} title="Practice devices">
      <p className="mb-3 text-faint">
        They make files of made-up feet whose true measures are known, noise and all, and measure them like
        any other.
      </p>
      <div className="space-y-3">
        <OneOf
          label="Device"
          value={device}
          onChange={(v) => setDevice(v as Device)}
          options={[
            { value: "scanner", text: "3-D scanner", hint: "a scan with a leg stump" },
            { value: "camera", text: "Camera", hint: "an outline on A4, at an angle" },
            { value: "mat", text: "Pressure mat", hint: "a step over it" },
          ]}
        />
        <OneOf
          label="Which foot"
          value={sides}
          onChange={setSides}
          options={[
            { value: "both", text: "Both feet" },
            { value: "left", text: "Left" },
            { value: "right", text: "Right" },
          ]}
        />
        <NumberField
          label="Made-up person, by number"
          value={seed}
          decimals={0}
          onChange={setSeed}
          error={wrong ? "A whole number from 0 to 1,000,000." : undefined}
        />
        <Button
          kind="strong"
          disabled={wrong}
          onClick={() => onGo(device, sides === "both" ? ["left", "right"] : [sides as Side], seed ?? 7)}
        >
          Measure
        </Button>
      </div>
    </Dialog>
  );
}

/** A mat's file that doesn't say how wide its cells are: the fitter does. */
function CellWidth({ again }: Pick<Job, "again">) {
  const [cell, setCell] = useState<number | null>(null);
  const wrong = cell !== null && (cell < 1 || cell > 20);
  return (
    <>
      <NumberField
        label="Width of a cell"
        unit="mm"
        value={cell}
        decimals={2}
        step={0.5}
        onChange={setCell}
        error={wrong ? "A cell is 1 to 20 mm wide." : undefined}
      />
      <Button disabled={cell === null || wrong} onClick={() => again({ cell_mm: cell })}>
        Measure
      </Button>
    </>
  );
}

/** Files on their way: how far, at what, and what went wrong. */
export function Jobs({ captures }: { captures: Captures }) {
  const { jobs, drop, removed, putBack } = captures;
  if (!jobs.length && !removed) return null;
  return (
    <ul className="space-y-1" aria-label="Being measured">
      {jobs.map((job) => (
        <li key={job.id} className="border border-ink bg-sheet px-3 py-1">
          {job.trouble ? (
            <div className="flex flex-wrap items-center justify-between gap-2">
              <p role="alert" className="text-madder">
                <b>{job.name}: </b>
                {job.trouble.title}
              </p>
              <span className="flex items-end gap-1">
                {job.trouble.code === "mat-cell" ? (
                  <CellWidth again={job.again} />
                ) : (
                  <Button kind="quiet" onClick={() => job.again()}>
                    Try again
                  </Button>
                )}
                <Button kind="quiet" onClick={() => drop(job.id)}>
                  Close
                </Button>
              </span>
            </div>
          ) : (
            <div className="flex items-center gap-3">
              <span className="shrink-0">{job.name}</span>
              <progress
                className="h-3 flex-1 accent-(--madder)"
                value={job.share}
                max={1}
                aria-label={`${job.name}: ${job.step}`}
              />
              <span className="shrink-0 text-faint text-sm" role="status">
                {job.step} …
              </span>
            </div>
          )}
        </li>
      ))}
      {removed && (
        <li className="flex items-center justify-between border border-ink bg-sheet px-3" role="status">
          <span>
            The {removed.kind} of the {removed.side} foot was taken out.
          </span>
          <Button kind="quiet" onClick={() => void putBack()}>
            Put it back
          </Button>
        </li>
      )}
    </ul>
  );
}
