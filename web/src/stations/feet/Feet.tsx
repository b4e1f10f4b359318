/** Feet: what was captured and typed, drawn to scale, each number where it is measured. */
import { lazy, type ReactNode, Suspense, useCallback, useLayoutEffect, useRef, useState } from "react";
import type { Schemas, Side } from "../../api/client";
import { useDesk } from "../../api/fitting";
import { PaperUnder, PrintKey, PrintUnder } from "../../benches/FeetLayers";
import { FeetPlan, outlineFrom, type Place, type PlanSide, planScale, shapeOf } from "../../benches/FeetPlan";
import { FeetSide, type SideFoot } from "../../benches/FeetSide";
import { closedPath, footOutline, mirrored, type Point, toScreen } from "../../drawing/foot";
import { useKeys } from "../../shell/keys";
import { Announced } from "../../ui/Announced";
import { day, ITEM, Loading, OneOf, TextField } from "../../ui/parts";
import { Station } from "../Station";
import { FeetMargin } from "./FeetMargin";
import { Figure } from "./Figure";
import { PLAN_FIGURES, SIDE_FIGURES, sideName, spread, VIEW_NAMES, type View } from "./layout";
import { type Capture, type Shape, useCaptures, useDrop, useOverTime, useShape } from "./useCaptures";
import { Jobs, WaysIn } from "./WaysIn";

const FootTurned = lazy(() => import("../../benches/FootTurned"));
const Correct = lazy(() => import("./Correct"));

const SIDES: Side[] = ["left", "right"];
const SOCKS = ["none", "thin", "medium", "thick"].map((s) => ({ value: s, text: s }));
const ARCHES = ["low", "medium", "high"] as const;
const TOES = [
  ["first_longest", "Big toe"],
  ["second_longest", "2nd toe"],
  ["square", "Square"],
] as const;
type Under = "none" | "scan" | "tracing" | "mat" | "earlier";
const UNDER_NAMES: Record<Under, string> = {
  none: "nothing",
  scan: "scan",
  tracing: "tracing",
  mat: "print",
  earlier: "earlier",
};

const newest = (captures: Capture[], side: Side, ...kinds: Capture["kind"][]) =>
  captures.filter((c) => c.side === side && kinds.includes(c.kind)).at(-1);

export default function Feet() {
  const { fitting } = useDesk();
  const captures = useCaptures();
  const [view, setView] = useState<View>("plan");
  const [under, setUnder] = useState<Under>("none");
  const [checking, setChecking] = useState<string | null>(null);
  const [turned, setTurned] = useState<Side>("left");
  const brought = useCallback(() => setChecking(null), []);
  const over = useDrop(
    useCallback(
      (files: File[]) => fitting.state === "open" && void captures.bring(files),
      [captures, fitting],
    ),
  );
  const kinds = new Set(fitting.captures.map((c) => c.kind));
  const time = useOverTime();
  const earlier = time?.visits.filter((v) => v.fitting_id !== fitting.id) ?? [];
  const unders: Under[] = [
    "none",
    ...(["scan", "tracing", "mat"] as const).filter((k) => kinds.has(k)),
    ...(earlier.length ? (["earlier"] as const) : []),
  ];
  const views: View[] = ["plan", "inner", "outer", ...(kinds.has("scan") ? (["turned"] as const) : [])];
  const shownUnder = unders.includes(under) ? under : "none";
  const shownView = views.includes(view) ? view : "plan";
  useKeys({
    v: () => setView(views[(views.indexOf(shownView) + 1) % views.length] ?? "plan"),
    u: () => setUnder(unders[(unders.indexOf(shownUnder) + 1) % unders.length] ?? "none"),
  });
  const checked = fitting.captures.find((c) => c.id === checking);
  return (
    <Station margin={<FeetMargin captures={captures} onCorrect={(c) => setChecking(c.id)} />}>
      <div className="flex h-full min-h-[560px] flex-col gap-2 max-lg:h-[720px] max-md:h-auto">
        <div className="flex flex-wrap items-center justify-between gap-x-3 gap-y-1">
          <OneOf
            label="View"
            value={shownView}
            onChange={(v) => setView(v as View)}
            options={views.map((v) => ({ value: v, text: VIEW_NAMES[v] }))}
          />
          <UnitsPicked />
          <WaysIn captures={captures} onBrought={brought} />
        </div>
        <Jobs captures={captures} />
        <Sheet
          view={shownView}
          under={shownUnder}
          earlier={earlier}
          turned={turned}
          onTurned={setTurned}
          unders={unders}
          onUnder={setUnder}
        />
        <HowMeasured />
        <Announced text={SIDES.map((side) => footSaid(fitting.found[side], side)).join(" ")} />
      </div>
      {over && (
        <p className="pointer-events-none fixed inset-4 z-40 grid place-items-center border-4 border-madder border-dashed bg-sheet/80 text-2xl">
          Let go: it is read as a scan, a tracing, a print or a record.
        </p>
      )}
      <Suspense>
        {checked && <Correct capture={checked} captures={captures} onClose={() => setChecking(null)} />}
      </Suspense>
    </Station>
  );
}

/** A foot in a sentence, from what counts. */
function footSaid({ numbers, arch }: Schemas["FootFound"], side: Side): string {
  const length = numbers.length_mm?.value;
  if (length === undefined) return `${sideName(side)} foot not measured.`;
  const width = numbers.ball_width_mm?.value;
  return `${sideName(side)} foot ${length.toFixed(1)} mm long${width ? `, ${width.toFixed(1)} mm wide at the ball` : ""}${arch.value ? `, ${arch.value} arch` : ""}.`;
}

interface SheetProps {
  view: View;
  under: Under;
  unders: Under[];
  onUnder: (under: Under) => void;
  earlier: Schemas["VisitOut"][];
  turned: Side;
  onTurned: (side: Side) => void;
}

function Sheet({ view, under, unders, onUnder, earlier, turned, onTurned }: SheetProps) {
  const { bodies, fitting } = useDesk();
  const [box, size] = useSize();
  const drawn = {
    left: useDrawn("left"),
    right: useDrawn("right"),
  };
  const shapes = {
    left: shapeOf(bodies.feet.left, fitting.found.left),
    right: shapeOf(bodies.feet.right, fitting.found.right),
  };
  const underOf = (side: Side): ((place: Place) => ReactNode) | undefined => {
    const { tracing, mat, scan } = drawn[side];
    if (under === "tracing" && tracing.shape && tracing.capture) {
      const src = `/api/captures/${tracing.capture.id}/picture?flat=true&v=${tracing.capture.version}`;
      return (place) => <PaperUnder shape={tracing.shape as Shape} src={src} place={place} />;
    }
    if (under === "mat" && mat.shape)
      return (place) => <PrintUnder shape={mat.shape as Shape} place={place} />;
    if (under === "scan" && scan.shape) {
      return (place) => <ScanUnder shape={scan.shape as Shape} place={place} side={side} />;
    }
    return undefined;
  };
  const plan = Object.fromEntries(
    SIDES.map((side): [Side, PlanSide] => {
      const from = drawn[side].scan.shape ?? drawn[side].tracing.shape ?? drawn[side].record.shape;
      return [
        side,
        {
          shape: shapes[side],
          outline: from?.outline.length ? from.outline : undefined,
          under: underOf(side),
          earlier:
            under === "earlier"
              ? earlier.flatMap((e) => {
                  const outline = e.outlines[side] ?? outlineFrom(e[side], shapes[side]);
                  return outline ? [{ on: e.on, outline }] : [];
                })
              : [],
        },
      ];
    }),
  ) as Record<Side, PlanSide>;
  const scan = drawn[turned].scan;
  return (
    <div className="min-h-[456px] flex-1" ref={box}>
      {size && view === "plan" && <PlanView plan={plan} width={size.width} height={size.height - 44} />}
      {size && (view === "inner" || view === "outer") && (
        <FeetSide
          feet={sideFeet(shapes, fitting.found, drawn)}
          view={view}
          width={size.width}
          height={size.height - 8}
          figures={(side, place) => <SideFigures side={side} shape={shapes[side]} place={place} />}
        />
      )}
      {size && view === "turned" && (
        <>
          <OneOf
            label="Foot shown"
            value={turned}
            onChange={(v) => onTurned(v as Side)}
            options={SIDES.map((s) => ({ value: s, text: sideName(s) }))}
          />
          {scan.capture && scan.shape ? (
            <Suspense fallback={<Loading what="the scan" />}>
              <FootTurned
                id={scan.capture.id}
                version={scan.capture.version}
                side={turned}
                shape={scan.shape}
                width={size.width}
                height={size.height - 52}
              />
            </Suspense>
          ) : (
            <p className="p-4">There is no scan of the {turned} foot.</p>
          )}
        </>
      )}
      {view === "plan" && (
        <div className="flex h-11 items-center gap-2 overflow-hidden max-md:h-auto max-md:flex-wrap">
          {unders.length > 1 && (
            <>
              <span className="shrink-0 text-faint text-sm">Lay under</span>
              <OneOf
                label="Lay under"
                columns="flex gap-1 *:!px-2 *:text-sm max-md:flex-wrap"
                value={under}
                onChange={(v) => onUnder(v as Under)}
                options={unders.map((u) => ({ value: u, text: UNDER_NAMES[u] }))}
              />
            </>
          )}
          {under === "mat" && <PrintKey />}
          {under === "earlier" && (
            <span className="text-sm">
              Dotted: {earlier.map((e) => day(e.on)).join(", ")}, as captured or from its numbers
            </span>
          )}
        </div>
      )}
    </div>
  );
}

function ScanUnder({ shape, place, side }: { shape: Shape; place: Place; side: Side }) {
  return (
    <g data-under="scan">
      {Object.entries(shape.loops).map(([name, loop]) => (
        <path
          key={name}
          d={`M${loop.points
            .map(([x = 0, y = 0]) =>
              place(x, y)
                .map((v) => v.toFixed(1))
                .join(" "),
            )
            .join("L")}Z`}
          fill={`color-mix(in srgb, var(--${side}) 10%, transparent)`}
          stroke={name.endsWith("%") ? `var(--${side})` : "var(--madder)"}
          strokeWidth={name.endsWith("%") ? 0.8 : 1.6}
        />
      ))}
    </g>
  );
}

/** The newest capture of each kind of one foot, with its shape. */
function useDrawn(side: Side) {
  const { captures } = useDesk().fitting;
  const scan = newest(captures, side, "scan");
  const tracing = newest(captures, side, "tracing");
  const mat = newest(captures, side, "mat");
  const record = newest(captures, side, "record");
  return {
    scan: { capture: scan, shape: useShape(scan) },
    tracing: { capture: tracing, shape: useShape(tracing) },
    mat: { capture: mat, shape: useShape(mat) },
    record: { capture: record, shape: useShape(record) },
  };
}

const COLUMN = 172;
const STEP = 47;
const PICKERS = 112;
const LEAST_DRAWN = 250;
const STACKED = 380;

function PlanView({ plan, width, height }: { plan: Record<Side, PlanSide>; width: number; height: number }) {
  if (width < 2 * COLUMN + LEAST_DRAWN) return <PlanStacked plan={plan} width={width} />;
  const middle = width - 2 * COLUMN;
  const { scale, heelY } = planScale(plan, middle, height);
  const length = Math.max(plan.left.shape.length, plan.right.shape.length);
  const wanted = PLAN_FIGURES.map((f) => heelY - f.at * length * scale);
  const places = spread(wanted, STEP, 22, height - PICKERS - 26);
  const leaders = PLAN_FIGURES.map((f, i) => ({ at: f.at, y: (places[i] ?? 0) + 22 }));
  return (
    <div className="relative flex" style={{ height }}>
      <Column side="left" places={places} />
      <FeetPlan sides={plan} width={middle} height={height} leaders={leaders} />
      <Column side="right" places={places} />
    </div>
  );
}

/** Where the columns would leave the drawing too little, they stand below it. */
function PlanStacked({ plan, width }: { plan: Record<Side, PlanSide>; width: number }) {
  return (
    <>
      <FeetPlan sides={plan} width={width} height={STACKED} leaders={[]} />
      <div className="grid grid-cols-2 gap-4">
        <Column side="left" />
        <Column side="right" />
      </div>
    </>
  );
}

function Column({ side, places }: { side: Side; places?: number[] }) {
  const { bodies, fitting, set, locked } = useDesk();
  const foot = bodies.feet[side];
  const found = fitting.found[side];
  const bunion = foot?.bunion ?? found.bunion;
  return (
    <fieldset
      aria-label={sideName(side)}
      className="relative min-w-0 shrink-0"
      style={{ width: places ? COLUMN : undefined, color: `var(--${side})` }}
    >
      {PLAN_FIGURES.map((f, i) => (
        <div
          key={f.name}
          className={places ? "absolute inset-x-0" : ""}
          style={places && { top: (places[i] ?? 0) - 22 }}
        >
          <Figure side={side} spec={f} />
        </div>
      ))}
      <div className={`space-y-1 ${places ? "absolute inset-x-0 bottom-0" : "mt-2"}`}>
        <div className="grid grid-cols-4 gap-0.5 *:first:col-span-3">
          <OneOf
            label={`Longest toe, ${side}`}
            value={foot?.toe_shape ?? found.toe_shape}
            disabled={locked}
            columns="grid grid-cols-3 gap-0.5 *:!px-0 *:text-center *:text-[0.72rem] *:leading-none"
            options={TOES.map(([value, text]) => ({
              value,
              text,
              picture: <ToesPicture side={side} toes={value} />,
            }))}
            onChange={(v) => set("feet", { [`${side}/toe_shape`]: v })}
          />
          <button
            type="button"
            aria-pressed={bunion}
            aria-label={`Bunion, ${side}`}
            disabled={locked}
            data-state={bunion ? "on" : "off"}
            className={`${ITEM} !px-0 text-center text-[0.72rem] !leading-none`}
            onClick={() => set("feet", { [`${side}/bunion`]: !bunion })}
          >
            <ToesPicture side={side} toes="first_longest" bunion />
            Bunion
          </button>
        </div>
        <OneOf
          label={`Arch, ${side}`}
          value={found.arch.value ?? foot?.arch}
          disabled={locked || (!!found.arch.value && found.arch.mark !== "CP")}
          columns="grid grid-cols-3 gap-1 *:!px-1 *:text-center *:text-xs"
          options={ARCHES.map((a) => ({ value: a, text: a, picture: <ArchPicture arch={a} /> }))}
          onChange={(v) => set("feet", { [`${side}/arch`]: v })}
        />
      </div>
    </fieldset>
  );
}

interface SideFiguresProps {
  side: Side;
  shape: { length: number };
  place: (x: number, z: number) => Point;
}

function SideFigures({ side, shape, place }: SideFiguresProps) {
  const { found } = useDesk().fitting;
  const numbers = found[side].numbers;
  const rest = (["arch_height_index", "arch_index", "ball_angle_deg"] as const).filter((n) => numbers[n]);
  const spots: Record<string, Point> = {
    instep_height_mm: place(0.68 * shape.length, 82),
    toe_height_mm: place(0.92 * shape.length, 46),
    heel_to_ball_mm: place(0.36 * shape.length, 32),
  };
  return (
    <>
      {SIDE_FIGURES.map((f) => {
        const [x, y] = spots[f.name] ?? [0, 0];
        return (
          <div
            key={f.name}
            className="absolute w-38"
            style={{ left: x - 70, top: y - 22, color: `var(--${side})` }}
          >
            <Figure side={side} spec={f} />
          </div>
        );
      })}
      <p
        className="absolute inset-x-0 flex flex-wrap justify-center gap-x-4 text-xs"
        style={{ top: place(0, 0)[1] + 35, color: `var(--${side})` }}
      >
        {rest.map((n) => (
          <span key={n}>
            {
              {
                arch_height_index: "Arch height index",
                arch_index: "Arch index",
                ball_angle_deg: "Ball angle",
              }[n]
            }{" "}
            <b className="font-mono">
              {numbers[n]?.value.toFixed(n === "ball_angle_deg" ? 1 : 3)}
              {n === "ball_angle_deg" ? "°" : ""}
            </b>{" "}
            ±{numbers[n]?.uncertainty.toFixed(n === "ball_angle_deg" ? 1 : 3)} {numbers[n]?.source}
          </span>
        ))}
      </p>
    </>
  );
}

function sideFeet(
  shapes: Record<Side, ReturnType<typeof shapeOf>>,
  found: ReturnType<typeof useDesk>["fitting"]["found"],
  drawn: Record<Side, ReturnType<typeof useDrawn>>,
): Record<Side, SideFoot> {
  return Object.fromEntries(
    SIDES.map((side): [Side, SideFoot] => {
      const numbers = found[side].numbers;
      const length = shapes[side].length;
      return [
        side,
        {
          shape: shapes[side],
          instepHeight: numbers.instep_height_mm?.value ?? 0.25 * length,
          toeHeight: numbers.toe_height_mm?.value,
          heelToBall: numbers.heel_to_ball_mm?.value ?? 0.72 * length,
          profile: drawn[side].scan.shape?.profile,
        },
      ];
    }),
  ) as Record<Side, SideFoot>;
}

function UnitsPicked() {
  const { bodies, set, locked } = useDesk();
  return (
    <OneOf
      label="Units typed in; with EU or UK, the length only"
      value={bodies.feet.units}
      columns="flex gap-0.5 *:!px-2 *:text-sm"
      options={[
        { value: "mm", text: "mm" },
        { value: "inch", text: "inch" },
        { value: "eu", text: "EU" },
        { value: "uk", text: "UK" },
      ]}
      onChange={(v) => set("feet", { units: v })}
      disabled={locked}
    />
  );
}

function HowMeasured() {
  const { bodies, set, locked } = useDesk();
  const feet = bodies.feet;
  return (
    <div className="flex flex-wrap items-end gap-x-3 gap-y-1 border-line border-t pt-1.5">
      <Picked label="Sock">
        <OneOf
          label="Sock"
          value={feet.sock}
          options={SOCKS}
          onChange={(v) => set("feet", { sock: v })}
          disabled={locked}
        />
      </Picked>
      <Picked label="Measured by gauge">
        <OneOf
          label="Measured"
          value={feet.stance}
          options={[
            { value: "standing", text: "standing" },
            { value: "sitting", text: "sitting" },
          ]}
          onChange={(v) => set("feet", { stance: v })}
          disabled={locked}
        />
      </Picked>
      <Picked label="Before measuring">
        <OneOf
          label="Before measuring"
          value={feet.effort ?? "rested"}
          options={[
            { value: "rested", text: "rested" },
            { value: "after_effort", text: "trained" },
          ]}
          onChange={(v) => set("feet", { effort: v })}
          disabled={locked}
        />
      </Picked>
      <TextField
        className="w-28"
        label="At what time"
        type="time"
        value={feet.time_of_day ?? ""}
        onChange={(v) => set("feet", { time_of_day: v || null })}
        disabled={locked}
      />
    </div>
  );
}

function Picked({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div>
      <span className="block text-faint text-xs">{label}</span>
      {children}
    </div>
  );
}

/** The size of an element, kept up to date. */
function useSize() {
  const ref = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState<{ width: number; height: number } | null>(null);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return;
    const now = () => setSize({ width: element.clientWidth, height: element.clientHeight });
    const watch = new ResizeObserver(now);
    watch.observe(element);
    now();
    return () => watch.disconnect();
  }, []);
  return [ref, size] as const;
}

function ArchPicture({ arch }: { arch: (typeof ARCHES)[number] }) {
  const rise = { low: 2, medium: 6, high: 11 }[arch];
  return (
    <svg viewBox="0 0 36 16" className="mx-auto h-3.5 w-8" aria-hidden="true">
      <path
        d={`M1 14H9Q18 ${14 - rise * 1.6} 27 14H35`}
        fill="none"
        stroke="currentColor"
        strokeWidth="1.8"
      />
    </svg>
  );
}

interface ToesProps {
  side: Side;
  toes: (typeof TOES)[number][0];
  bunion?: boolean;
}

function ToesPicture({ side, toes, bunion = false }: ToesProps) {
  const outline = footOutline({
    length: 260,
    ballWidth: 104,
    heelWidth: 66,
    arch: "medium",
    toes,
    bunion,
  });
  const points = toScreen(side === "left" ? mirrored(outline) : outline, 0.3, 18, 80);
  return (
    <svg viewBox="0 0 36 26" className="mx-auto h-5 w-8" aria-hidden="true">
      <path d={closedPath(points)} fill="none" stroke="currentColor" strokeWidth="1.6" />
    </svg>
  );
}
