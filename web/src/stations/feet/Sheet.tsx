/** The drawing of both feet: from above, from the side, turned, with what is laid under. */
import { lazy, type ReactNode, Suspense, useMemo } from "react";
import type { Schemas, Side } from "../../api/client";
import { useDesk } from "../../api/desk";
import { PaperUnder, PrintKey, PrintUnder } from "../../benches/FeetLayers";
import type { Place, PlanSide } from "../../benches/FeetPlan";
import { FeetSide } from "../../benches/FeetSide";
import { outlineFrom, shapeOf } from "../../benches/footShapes";
import type { FootShape } from "../../drawing/foot";
import { OneOf } from "../../ui/choice";
import { day } from "../../ui/clock";
import { useSize } from "../../ui/useSize";
import { Loading } from "../../ui/words";
import { sideName, type View } from "./layout";
import { PlanView } from "./PlanView";
import { SideFigures, sideFeet } from "./SideFigures";
import { SIDES } from "./sides";
import type { Shape } from "./useCaptures";
import { useDrawn } from "./useDrawn";

const FootTurned = lazy(() => import("../../benches/FootTurned"));

export type Under = "none" | "scan" | "tracing" | "mat" | "earlier";

const UNDER_NAMES: Record<Under, string> = {
  none: "nothing",
  scan: "scan",
  tracing: "tracing",
  mat: "print",
  earlier: "earlier",
};

interface SheetProps {
  view: View;
  under: Under;
  unders: Under[];
  onUnder: (under: Under) => void;
  earlier: Schemas["VisitOut"][];
  turned: Side;
  onTurned: (side: Side) => void;
}

export function Sheet({ view, under, unders, onUnder, earlier, turned, onTurned }: SheetProps) {
  const { bodies, fitting } = useDesk();
  const [box, size] = useSize();
  const drawn = {
    left: useDrawn("left"),
    right: useDrawn("right"),
  };
  const shapes = {
    left: shapeOf(bodies.feet.left, fitting.found.left, fitting.estimated.left),
    right: shapeOf(bodies.feet.right, fitting.found.right, fitting.estimated.right),
  };
  const outlines = {
    left: useEarlier(under === "earlier" ? earlier : NONE, "left", shapes.left),
    right: useEarlier(under === "earlier" ? earlier : NONE, "right", shapes.right),
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
          earlier: outlines[side],
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

const NONE: Schemas["VisitOut"][] = [];

/** Outlines of earlier visits, as captured or from their numbers with this foot's toes; the same until those change. */
function useEarlier(visits: Schemas["VisitOut"][], side: Side, like: FootShape): PlanSide["earlier"] {
  const { toes, bunion, arch } = like;
  return useMemo(() => {
    const shape = { toes, bunion, arch, length: 0, ballWidth: 0, heelWidth: 0 };
    return visits.flatMap((v) => {
      const outline = v.outlines[side] ?? outlineFrom(v[side], shape);
      return outline ? [{ on: v.on, outline }] : [];
    });
  }, [visits, side, toes, bunion, arch]);
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
