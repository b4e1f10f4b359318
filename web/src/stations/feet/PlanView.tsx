/** Both feet from above, with a column of numbers beside each; below them where there is no room beside. */
import type { Side } from "../../api/client";
import { useDesk } from "../../api/desk";
import { FeetPlan, type PlanSide, planScale } from "../../benches/FeetPlan";
import { ITEM, OneOf } from "../../ui/choice";
import { Figure } from "./Figure";
import { ARCHES, ArchPicture, TOES, ToesPicture } from "./FootKind";
import { PLAN_FIGURES, sideName, spread } from "./layout";

const COLUMN = 172;

const STEP = 47;

const PICKERS = 112;

const LEAST_DRAWN = 250;

const STACKED = 380;

export function PlanView({
  plan,
  width,
  height,
}: {
  plan: Record<Side, PlanSide>;
  width: number;
  height: number;
}) {
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
