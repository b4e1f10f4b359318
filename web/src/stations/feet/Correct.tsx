/** Checking a capture on a picture: a scan's unit, side and pose; a tracing's corners and outline; a mat's cell. */
import { useRef, useState } from "react";
import { type Schemas, type Side, Trouble } from "../../api/client";
import { closedPath, type Point } from "../../drawing/foot";
import { Button, Dialog, NumberField, OneOf } from "../../ui/parts";
import type { Capture, Captures, Shape } from "./useCaptures";
import { useShape } from "./useCaptures";

type Said = Schemas["Said"];
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
        <p role="status" className="min-h-5 text-faint text-sm">
          {busy ? "Measuring again …" : ""}
        </p>
        <Button kind="strong" onClick={onClose}>
          It is right
        </Button>
      </div>
    </Dialog>
  );
}

interface CheckProps {
  capture: Capture;
  shape: Shape;
  busy: boolean;
  say: (more: Partial<Said>) => Promise<void>;
}

const UNITS = ["mm", "cm", "m", "inch"] as const;

function ScanCheck({ capture, shape, busy, say }: CheckProps) {
  const length = shape.profile.at(-1)?.[0] ?? 260;
  const s = 0.85;
  const sign = capture.side === "left" ? 1 : -1;
  const plan = shape.outline.map(([x = 0, y = 0]): Point => [90 + sign * y * s, 250 - x * s]);
  const side: Point[] = [
    ...shape.profile.map(([x = 0, , z = 0]): Point => [220 + x * s, 190 - z * s]),
    ...[...shape.profile].reverse().map(([x = 0, z = 0]): Point => [220 + x * s, 190 - z * s]),
  ];
  const ink = `var(--${capture.side})`;
  return (
    <>
      <svg
        viewBox="0 0 500 270"
        className="w-full bg-paper"
        role="img"
        aria-label={`As the scan was understood: ${length.toFixed(0)} mm long, toes up on the left picture, toes right and sole down on the right one.`}
      >
        <path d={closedPath(plan)} fill="none" stroke={ink} strokeWidth="2" />
        <path d={closedPath(side)} fill="none" stroke={ink} strokeWidth="2" />
        <path d="M205 190H490" stroke="var(--faint)" />
        <g fontSize="12" fill="var(--ink)">
          <text x="90" y="266" textAnchor="middle">
            heel
          </text>
          <text x="90" y="14" textAnchor="middle">
            toes
          </text>
          <text x="350" y="210" textAnchor="middle">
            sole on the floor · {length.toFixed(0)} mm
          </text>
          <text x="215" y="120" textAnchor="end">
            heel
          </text>
        </g>
      </svg>
      <span className="block text-faint text-xs">Unit of the file</span>
      <OneOf
        label="Unit of the file"
        value={capture.said.unit ?? shape.unit}
        disabled={busy}
        onChange={(unit) => void say({ unit: unit as (typeof UNITS)[number] })}
        options={UNITS.map((u) => ({ value: u, text: u }))}
      />
      <div className="flex flex-wrap gap-1.5">
        <Button disabled={busy} onClick={() => void say({ flip_ends: !capture.said.flip_ends })}>
          Swap heel and toes
        </Button>
        <Button
          disabled={busy}
          aria-pressed={capture.said.mirrored ?? false}
          onClick={() =>
            void say({ mirrored: !capture.said.mirrored, side: capture.side === "left" ? "right" : "left" })
          }
        >
          {capture.said.mirrored ? "Not mirrored after all" : "The file is mirrored"}
        </Button>
        {shape.feet_in_file > 1 && (
          <Button disabled={busy} onClick={() => void say({ pick: capture.said.pick ? 0 : 1, side: null })}>
            The other foot in the file
          </Button>
        )}
      </div>
      <span className="block text-faint text-xs">Which axis of the file points up from the sole</span>
      <OneOf
        label="Which way was up in the file"
        value={upName(capture.said.up)}
        disabled={busy}
        onChange={(v) => void say({ up: UPS.find(([name]) => name === v)?.[1] ?? null })}
        options={UPS.map(([name]) => ({ value: name, text: name }))}
      />
    </>
  );
}

const UPS: [string, number[] | null][] = [
  ["as found", null],
  ["+z", [0, 0, 1]],
  ["−z", [0, 0, -1]],
  ["+y", [0, 1, 0]],
  ["−y", [0, -1, 0]],
  ["+x", [1, 0, 0]],
  ["−x", [-1, 0, 0]],
];
const upName = (up: number[] | null | undefined) =>
  UPS.find(([, v]) => v && up && v.every((n, i) => n === up[i]))?.[0] ?? "as found";

function TracingCheck({ capture, shape, busy, say }: CheckProps) {
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
          key={`c${capture.version}`}
          label="The photograph with the paper's corners"
          src={`/api/captures/${capture.id}/picture?v=${capture.version}`}
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
  const count = shape.on_paper.length;
  const many = Math.min(HANDLES, count);
  const placeOf = (k: number) => Math.round((k * count) / many);
  const handles = Array.from({ length: many }, (_, k) => shape.on_paper[placeOf(k)] ?? [0, 0]);
  if (!shape.on_paper.length) {
    return <p>There is no outline yet: set the corners first.</p>;
  }
  const put = (moved: number[][]) => {
    // Points between two handles follow them by their distance along the outline.
    const all = shape.on_paper.map(([x = 0, y = 0], i) => {
      const a = Math.min(Math.floor((i * many) / count), many - 1);
      const share = (i - placeOf(a)) / Math.max(placeOf(a + 1) - placeOf(a), 1);
      const shift = (k: number) => {
        const at = k % handles.length;
        return [
          (moved[at]?.[0] ?? 0) - (handles[at]?.[0] ?? 0),
          (moved[at]?.[1] ?? 0) - (handles[at]?.[1] ?? 0),
        ] as const;
      };
      const [ax, ay] = shift(a);
      const [bx, by] = shift(a + 1);
      return [x + ax * (1 - share) + bx * share, y + ay * (1 - share) + by * share];
    });
    void say({ outline: all, corners: shape.corners, drawn: shape.drawn });
  };
  return (
    <Dragged
      key={`o${capture.version}`}
      label="The paper from straight above with the outline's points"
      src={`/api/captures/${capture.id}/picture?flat=true&v=${capture.version}`}
      width={w}
      height={h}
      points={handles}
      curve={shape.on_paper}
      names={handles.map((_, i) => `Outline point ${i + 1}`)}
      disabled={busy}
      onPut={put}
    />
  );
}

interface DraggedProps {
  label: string;
  src: string;
  width: number;
  height: number;
  points: number[][];
  /** Drawn along with the points. */
  curve?: number[][];
  names: string[];
  disabled: boolean;
  onPut: (points: number[][]) => void;
}

const TALL = 410;

/** A picture with points that can be dragged, or moved by the arrow keys; put when let go. */
function Dragged({ label, src, width, height, points, curve, names, disabled, onPut }: DraggedProps) {
  const [now, setNow] = useState(points);
  const latest = useRef(points);
  const held = useRef<number | null>(null);
  const moved = useRef(false);
  const scale = Math.min(TALL / height, 560 / width);
  const move = (i: number, x: number, y: number) => {
    const put = [Math.min(Math.max(x, -width), 2 * width), Math.min(Math.max(y, -height), 2 * height)];
    latest.current = latest.current.map((p, k) => (k === i ? put : p));
    moved.current = true;
    setNow(latest.current);
  };
  const letGo = () => {
    held.current = null;
    if (!moved.current) return;
    moved.current = false;
    onPut(latest.current);
  };
  const at = (e: React.PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    return [(e.clientX - box.left) / scale, (e.clientY - box.top) / scale] as const;
  };
  const ring = now.length === 4 ? now : (curve ?? now);
  return (
    <fieldset
      className="relative mx-auto touch-none select-none"
      style={{ width: width * scale, height: height * scale }}
      aria-label={label}
      onPointerMove={(e) => {
        if (held.current === null) return;
        const [x, y] = at(e);
        move(held.current, x, y);
      }}
      onPointerUp={letGo}
      onLostPointerCapture={letGo}
      onPointerCancel={letGo}
    >
      <img src={src} alt="" draggable={false} className="h-full w-full" />
      <svg className="absolute inset-0 h-full w-full" viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
        <path
          d={`M${ring.map(([x = 0, y = 0]) => `${x} ${y}`).join("L")}Z`}
          fill="none"
          stroke="var(--madder)"
          strokeWidth={2 / scale}
        />
      </svg>
      {now.map(([x = 0, y = 0], i) => (
        <button
          key={names[i]}
          type="button"
          disabled={disabled}
          aria-label={`${names[i]}: ${x.toFixed(0)}, ${y.toFixed(0)}. Arrow keys move it, Enter puts it.`}
          data-handle={i}
          onPointerDown={(e) => {
            if (disabled) return;
            // The picture follows the pointer wherever it goes, and hears when it is let go there.
            e.currentTarget.closest("fieldset")?.setPointerCapture(e.pointerId);
            held.current = i;
          }}
          onBlur={letGo}
          onKeyDown={(e) => {
            const by = (e.shiftKey ? 10 : 1) * (now.length === 4 ? Math.max(1, 1 / scale) : 1);
            const way = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[
              e.key
            ];
            if (way) {
              e.preventDefault();
              move(i, x + (way[0] ?? 0), y + (way[1] ?? 0));
            } else if (e.key === "Enter") {
              e.preventDefault();
              letGo();
            }
          }}
          className="-translate-x-1/2 -translate-y-1/2 absolute grid size-11 cursor-grab place-items-center rounded-full"
          style={{ left: x * scale, top: y * scale }}
        >
          <span className="size-3.5 rounded-full border-2 border-madder bg-sheet/70" />
        </button>
      ))}
    </fieldset>
  );
}

function MatCheck({ capture, shape, busy, say }: CheckProps) {
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
