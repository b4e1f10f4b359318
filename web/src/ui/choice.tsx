/** One answer of several, or any: toggles in our look over Radix primitives. */
import { ToggleGroup } from "radix-ui";
import type { ReactNode } from "react";

interface OneOfProps {
  label: string;
  value: string | null | undefined;
  options: { value: string; text: string; hint?: string; picture?: ReactNode }[];
  onChange: (value: string) => void;
  /** The answer that stands can be withdrawn by choosing it again. */
  onClear?: () => void;
  disabled?: boolean;
  columns?: string;
  /** Arrows belong to the station, not to the answers. */
  arrowsFree?: boolean;
}

/** One answer of several. */
export function OneOf(props: OneOfProps) {
  const { label, value, options, onChange, onClear, disabled = false, columns = "" } = props;
  const arrowsFree = props.arrowsFree ?? false;
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value ?? ""}
      onValueChange={(v) => (v ? onChange(v) : onClear?.())}
      disabled={disabled}
      rovingFocus={!arrowsFree}
      className={columns || "flex flex-wrap gap-1.5"}
    >
      {options.map((o) => (
        <ToggleGroup.Item key={o.value} value={o.value} className={ITEM}>
          {o.picture}
          <span>{o.text}</span>
          {o.hint && <span className="block font-normal text-xs opacity-80">{o.hint}</span>}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}

export const ITEM =
  "relative min-h-11 min-w-11 rounded-sm border border-ink/45 bg-sheet px-3 py-1.5 text-left leading-tight hover:bg-paper " +
  "data-[state=on]:border-ink data-[state=on]:bg-ink data-[state=on]:text-sheet data-[state=on]:font-semibold disabled:opacity-60";

/** Any answers of several. */
export function ManyOf(
  props: Omit<OneOfProps, "value" | "onChange" | "onClear"> & {
    value: string[];
    onChange: (v: string[]) => void;
  },
) {
  return (
    <ToggleGroup.Root
      type="multiple"
      aria-label={props.label}
      value={props.value}
      onValueChange={props.onChange}
      disabled={props.disabled ?? false}
      className={props.columns || "flex flex-wrap gap-1.5"}
    >
      {props.options.map((o) => (
        <ToggleGroup.Item key={o.value} value={o.value} className={ITEM}>
          {o.picture}
          {o.text}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
