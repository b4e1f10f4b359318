/** Files on their way, and what was just taken out. */
import { useState } from "react";
import { type Upload, uploadAgain } from "../../api/uploads";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { UploadList } from "../../ui/UploadList";
import type { Captures } from "./useCaptures";

/** A mat's file that doesn't say how wide its cells are: the fitter does. */
function CellWidth({ id }: Pick<Upload, "id">) {
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
      <Button disabled={cell === null} onClick={() => uploadAgain(id, { cell_mm: cell })}>
        Measure
      </Button>
    </>
  );
}

export function Jobs({ of, captures }: { of: string; captures: Captures }) {
  const { removed, putBack } = captures;
  return (
    <>
      <UploadList of={of} mend={(u) => u.trouble?.code === "mat-cell" && <CellWidth id={u.id} />} />
      {removed && (
        <p className="flex items-center justify-between border border-ink bg-sheet px-3" role="status">
          <span>
            The {removed.kind} of the {removed.side} foot was taken out.
          </span>
          <Button kind="quiet" onClick={() => void putBack()}>
            Put it back
          </Button>
        </p>
      )}
    </>
  );
}
