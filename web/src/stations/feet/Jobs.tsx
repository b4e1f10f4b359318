/** Files on their way: how far, at what, and what went wrong. */
import { useState } from "react";
import type { Job } from "../../api/uploads";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import type { Captures } from "./useCaptures";

/** A mat's file that doesn't say how wide its cells are: the fitter does. */
function CellWidth({ again }: Pick<Job, "again">) {
  const [cell, setCell] = useState<number | null>(null);
  return (
    <>
      <NumberField
        label="Width of a cell"
        unit="mm"
        value={cell}
        decimals={2}
        step={0.5}
        min={1}
        max={20}
        onChange={setCell}
      />
      <Button disabled={cell === null} onClick={() => again({ cell_mm: cell })}>
        Measure
      </Button>
    </>
  );
}

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
