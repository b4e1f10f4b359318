/** Feet: what was captured and typed, drawn to scale, each number where it is measured. */
import { lazy, Suspense, useCallback, useMemo, useState } from "react";
import type { Schemas, Side } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useKeys } from "../../shell/keys";
import { Announced } from "../../ui/Announced";
import { OneOf } from "../../ui/choice";
import { Station } from "../Station";
import { FeetMargin } from "./FeetMargin";
import { HowMeasured, UnitsPicked } from "./HowMeasured";
import { Jobs } from "./Jobs";
import { sideName, VIEW_NAMES, type View } from "./layout";
import { Sheet, type Under } from "./Sheet";
import { SIDES } from "./sides";
import { useCaptures, useDrop, useOverTime } from "./useCaptures";
import { WaysIn } from "./WaysIn";

const Correct = lazy(() => import("./Correct"));

export default function Feet() {
  const { fitting } = useDesk();
  const captures = useCaptures();
  const [view, setView] = useState<View>("plan");
  const [under, setUnder] = useState<Under>("none");
  const [checking, setChecking] = useState<string | null>(null);
  const [turned, setTurned] = useState<Side>("left");
  const brought = useCallback(() => setChecking(null), []);
  const over = useDrop(
    useCallback((files: File[]) => fitting.state === "open" && captures.bring(files), [captures, fitting]),
  );
  const kinds = new Set(fitting.captures.map((c) => c.kind));
  const time = useOverTime();
  const visits = time?.visits;
  const earlier = useMemo(
    () => visits?.filter((v) => v.fitting_id !== fitting.id) ?? [],
    [visits, fitting.id],
  );
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
        <Jobs of={fitting.id} captures={captures} />
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
