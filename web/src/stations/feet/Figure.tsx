/** A number where it belongs on the drawing: typed in place, with how sure it is and where it comes from. */
import { Popover } from "radix-ui";
import { useId } from "react";
import type { Schemas, Side } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useVocabulary } from "../../api/vocabulary";
import { useNumber } from "../../ui/useNumber";
import {
  clock,
  type FigureSpec,
  type FootByLabel,
  PLAN_FIGURES,
  sideName,
  type Unit,
  unitFor,
} from "./layout";

const TAKEN_FROM: Record<Schemas["Estimated"]["taken_from"], string> = {
  length: "for the length",
  ball_width: "for the ball's width",
  ball_girth: "for the ball's girth",
  other_foot: "beside the other foot",
};

export function Figure({ side, spec }: { side: Side; spec: FigureSpec }) {
  const { bodies, fitting, set, refusal, locked } = useDesk();
  const id = useId();
  const feet = bodies.feet;
  const labels = useVocabulary().data?.foot_by_label;
  const unit = unitFor(spec.name, feet.units, labels);
  const typed = feet[side]?.[spec.name];
  const found = fitting.found[side].numbers[spec.name];
  const usual = fitting.estimated[side]?.[spec.name];
  // What was just typed or cleared counts at once; the server's choice of source follows.
  const chosen = feet.prefer?.[side]?.[spec.name] === "gauge" && typed !== null && typed !== undefined;
  const captured = found?.sources.find((s) => s.id !== "gauge");
  const fromGauge = !found || found.source === "gauge" || chosen;
  const mm = fromGauge ? (typed ?? captured?.value) : found.value;
  const value = mm === null || mm === undefined ? null : unit.show(mm);
  const several = !!found && found.sources.length > 1 && !(chosen && found.source !== "gauge");
  const type = (typedNow: number | null) => {
    set("feet", {
      [`${side}/${spec.name}`]: typedNow === null ? null : Number(unit.read(typedNow).toFixed(2)),
      ...(captured ? { [`prefer/${side}/${spec.name}`]: typedNow === null ? null : "gauge" } : {}),
      ...(feet.time_of_day ? {} : { time_of_day: clock() }),
    });
  };
  const { why, typing, input } = useNumber({
    name: `${side === "left" ? "Left" : "Right"} ${spec.label.toLowerCase()}`,
    value,
    decimals: unit.decimals,
    step: unit.step,
    unit: unit.text,
    usual: usual ? unit.show(usual.mm) : undefined,
    onChange: type,
  });
  const trouble = why || (typing ? undefined : refusal("feet", `${side}/${spec.name}`));
  const doubt = fitting.reading.questions.find((q) => q.field === `${side}.${spec.name}`)?.text;
  const told = trouble ?? doubt;
  const ink = `var(--${side})`;
  return (
    <div className="group relative" data-figure={`${side}/${spec.name}`}>
      <div
        className={`flex min-h-11 items-center gap-0.5 border-b-2 bg-sheet/80 ${trouble ? "border-madder" : doubt ? "border-ink border-dashed" : "border-current/40"}`}
        style={{ color: ink }}
      >
        {several ? (
          <>
            <label htmlFor={id} className="sr-only">
              {spec.label}
            </label>
            <Sources side={side} spec={spec} found={found} />
          </>
        ) : (
          <div className="min-w-0 flex-1">
            <label htmlFor={id} className="block text-[0.82rem] leading-none">
              {spec.label}
            </label>
            {!found && usual && value === null && (
              <p
                className="pt-0.5 text-[0.7rem] text-faint leading-tight"
                title={`Not measured: as usual ${TAKEN_FROM[usual.taken_from]}`}
                data-estimated={spec.name}
              >
                usual {unit.show(usual.mm).toFixed(unit.decimals > 1 ? 2 : 0)} ±{" "}
                {(unit.show(2 * usual.sigma_mm) - unit.show(0)).toFixed(unit.decimals > 1 ? 2 : 0)}
              </p>
            )}
            {found && (
              <p className="pt-0.5 text-[0.7rem] text-faint leading-tight">
                {chosen && found.source !== "gauge" ? "typed" : how(found, unit, labels)}
              </p>
            )}
          </div>
        )}
        <input
          id={id}
          {...input}
          disabled={locked}
          aria-invalid={trouble ? true : undefined}
          aria-describedby={told ? `${id}-told` : undefined}
          data-next={!spec.seldom || (typed !== null && typed !== undefined) || found ? true : undefined}
          data-first={side === "left" && spec === PLAN_FIGURES[0] ? true : undefined}
          onKeyDown={(e) => {
            if (e.key !== "Enter" || e.ctrlKey || e.metaKey) return input.onKeyDown(e);
            e.preventDefault();
            (nextFigure(e.currentTarget) ?? document.querySelector<HTMLElement>("[data-onward]"))?.focus();
          }}
          className={`min-h-11 min-w-11 bg-transparent text-right font-mono font-semibold text-base outline-offset-0 ${unit.decimals > 1 ? "w-14" : "w-13"}`}
          style={{ color: ink }}
        />
        <span className="w-5 text-xs">{unit.text}</span>
      </div>
      {told && (
        <p
          id={`${id}-told`}
          role={trouble ? "alert" : undefined}
          className={`absolute top-full z-20 hidden w-52 border border-ink bg-sheet p-1.5 text-xs group-focus-within:block group-hover:block ${trouble ? "!block border-madder text-madder" : ""} ${side === "right" ? "right-0" : "left-0"}`}
        >
          {told}
        </p>
      )}
    </div>
  );
}

/** The next number in measuring order: down the left foot, then the right. */
function nextFigure(from: HTMLInputElement): HTMLInputElement | undefined {
  const all = [...document.querySelectorAll<HTMLInputElement>("input[data-next]")];
  return all[all.indexOf(from) + 1];
}

/** Doubts are told in millimetres where the number is typed as a size. */
const plainOf = (unit: Unit, labels: FootByLabel | undefined): Unit =>
  unit.text === "EU" || unit.text === "UK" ? unitFor("ball_width_mm", "mm", labels) : unit;

/** How sure a number is, and what it is from; a size's doubt is told in millimetres. */
function how(found: Schemas["NumberFound"], unit: Unit, labels: FootByLabel | undefined): string {
  const plain = plainOf(unit, labels);
  const size = plain !== unit;
  return `±${plain.show(found.uncertainty).toFixed(plain.decimals)}${size ? " mm" : ""} ${found.source}`;
}

interface SourcesProps {
  side: Side;
  spec: FigureSpec;
  found: Schemas["NumberFound"];
}

function Sources({ side, spec, found }: SourcesProps) {
  const { bodies, set, locked } = useDesk();
  const labels = useVocabulary().data?.foot_by_label;
  const unit = unitFor(spec.name, bodies.feet.units, labels);
  const plain = plainOf(unit, labels);
  const said = how(found, unit, labels);
  return (
    <Popover.Root>
      <Popover.Trigger
        className="min-h-11 min-w-0 flex-1 text-left leading-none"
        aria-label={`${sideName(side)} ${spec.label}: ${said}, ${found.sources.length} sources`}
      >
        <span className="block text-[0.82rem]">{spec.label}</span>
        <span
          className={`text-[0.7rem] underline ${found.conflict ? "font-bold text-madder" : "text-faint"}`}
        >
          {found.conflict ? "≠ " : ""}
          {said}
        </span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="bottom"
          collisionPadding={8}
          className="z-30 w-64 border-2 border-ink bg-sheet p-2"
          aria-label={`Sources of ${spec.label}, ${side}`}
        >
          {found.conflict && <p className="mb-1 text-madder text-sm">{found.conflict}</p>}
          {found.sources.map((s) => (
            <button
              key={s.id}
              type="button"
              disabled={locked}
              onClick={() => set("feet", { [`prefer/${side}/${spec.name}`]: s.id })}
              className={`flex min-h-11 w-full items-center justify-between gap-2 border-line border-b px-1 text-left hover:bg-paper ${s.id === found.id ? "font-bold" : ""}`}
            >
              <span>
                {s.id === found.id ? "› " : ""}
                {s.source}
                {s.corrected ? " (sitting → standing)" : ""}
              </span>
              <span className="font-mono">
                {plain.show(s.value).toFixed(plain.decimals)} ±
                {plain.show(s.uncertainty).toFixed(plain.decimals)} {plain.text}
              </span>
            </button>
          ))}
          {found.chosen && (
            <button
              type="button"
              disabled={locked}
              onClick={() => set("feet", { [`prefer/${side}/${spec.name}`]: null })}
              className="min-h-11 w-full text-left text-sm underline"
            >
              Let the surest count again
            </button>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
