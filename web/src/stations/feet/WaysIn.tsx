/** The ways feet come in and out: a file brought, a practice device, files taken out. */
import { useRef, useState } from "react";
import { useDesk } from "../../api/desk";
import { useKeys } from "../../shell/keys";
import { Button } from "../../ui/Button";
import { Practice } from "./Practice";
import type { Captures } from "./useCaptures";

const FILES = ".stl,.ply,.obj,.jpg,.jpeg,.png,.heic,.csv,.json,.svg";

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
          captures.bring(files);
        }}
      />
      <Button
        onClick={choose}
        disabled={locked}
        aria-keyshortcuts="b"
        title="STL, PLY, OBJ · JPEG, PNG, HEIC · CSV · JSON, SVG"
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
          for (const side of sides) captures.practise(device, side, seed);
        }}
      />
    </div>
  );
}
