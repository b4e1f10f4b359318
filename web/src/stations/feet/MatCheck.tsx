/** A mat's cell and side. */
import { useState } from "react";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import type { CheckProps } from "./check";

export function MatCheck({ capture, shape, busy, say }: CheckProps) {
  const [cell, setCell] = useState<number | null>(shape.cell_mm ?? null);
  return (
    <>
      <div className="flex items-end gap-2">
        <NumberField
          label="Width of a cell"
          value={cell}
          unit="mm"
          decimals={2}
          step={0.1}
          onChange={setCell}
        />
        <Button
          disabled={busy || cell === null || cell === shape.cell_mm}
          onClick={() => void say({ cell_mm: cell })}
        >
          Measure again
        </Button>
        <Button disabled={busy} onClick={() => void say({ pick: capture.said.pick ? 0 : 1, side: null })}>
          The other print
        </Button>
      </div>
      <table className="w-full text-sm">
        <caption className="text-left font-semibold">Highest pressure by part</caption>
        <tbody>
          {shape.zones.map((z) => (
            <tr key={z.name} className="border-line border-b">
              <th scope="row" className="text-left font-normal">
                {z.name}
              </th>
              <td className="text-right font-mono">{z.peak_kpa.toFixed(0)} kPa</td>
              <td className="text-right font-mono">{z.load_n.toFixed(0)} N</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
