import { useId } from "react";
import { useNumber } from "./useNumber";

interface NumberFieldProps {
  label: string;
  value: number | null | undefined;
  onChange: (value: number | null) => void;
  unit?: string;
  step?: number;
  min?: number;
  max?: number;
  /** Where the arrows begin while nothing stands there. */
  usual?: number | null | undefined;
  /** Why the server refused it: told once the field is left. */
  error?: string | undefined;
  /** A doubt about it. */
  doubt?: string | undefined;
  disabled?: boolean;
  hideLabel?: boolean;
  /** The label inside the box, where height is dear. */
  inline?: boolean;
  width?: string;
  ink?: string;
  decimals?: number;
  /** It takes the focus when its station opens. */
  first?: boolean;
}

/** A measurement: typed once, with its unit; arrows step it. Problems stand right below. */
export function NumberField(props: NumberFieldProps) {
  const { unit = "", step = 1, decimals = 1 } = props;
  const id = useId();
  const { why, typing, input } = useNumber({ ...props, name: props.label, unit, step, decimals });
  const trouble = why || (typing ? undefined : props.error);
  const told = trouble ?? props.doubt;
  return (
    <div className={props.width ?? "w-32"}>
      {!props.inline && (
        <label htmlFor={id} className={props.hideLabel ? "sr-only" : "block text-faint text-xs"}>
          {props.label}
        </label>
      )}
      <div
        className={`flex min-h-11 items-center rounded-sm border bg-sheet has-focus-visible:outline-[2.5px] has-focus-visible:outline-madder has-focus-visible:outline-solid ${trouble ? "border-2 border-madder" : props.doubt ? "border-2 border-ink border-dashed" : "border-ink/45"}`}
      >
        {props.inline && (
          <label htmlFor={id} className="shrink-0 pl-2 text-sm leading-tight">
            {props.label}
          </label>
        )}
        <input
          id={id}
          {...input}
          disabled={props.disabled}
          data-first={props.first || undefined}
          aria-invalid={trouble ? true : undefined}
          aria-describedby={told ? `${id}-told` : undefined}
          className={`min-h-11 w-full min-w-0 bg-transparent font-mono outline-none ${props.inline ? "px-1 text-right text-base" : "px-2 text-lg"}`}
          style={props.ink ? { color: props.ink } : undefined}
        />
        {unit && <span className="whitespace-nowrap pr-2 text-faint text-xs">{unit}</span>}
      </div>
      {told && (
        <p
          id={`${id}-told`}
          className={`mt-0.5 text-xs ${trouble ? "text-madder" : ""}`}
          role={trouble ? "alert" : undefined}
        >
          {told}
        </p>
      )}
    </div>
  );
}
