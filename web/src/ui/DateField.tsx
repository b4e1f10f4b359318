import { useEffect, useId, useRef } from "react";
import { useTyped } from "./useTyped";

interface DateFieldProps {
  label: string;
  value: string;
  onCommit: (value: string | null) => void;
  disabled?: boolean;
  error?: string | undefined;
  className?: string;
}

const HALF = "Not a whole date yet: what stood there before stands.";

/** A day: taken when the field is left or Enter pressed, not while its digits are typed. */
export function DateField({ label, value, onCommit, disabled, error, className }: DateFieldProps) {
  const id = useId();
  const input = useRef<HTMLInputElement>(null);
  const { text, why, bad, type, leave } = useTyped<string>({
    value,
    show: (day) => day,
    // Half a date is none: the browser says "" for it, as for an empty field.
    read: (day) => (input.current?.validity.badInput ? { why: HALF, soon: true } : { value: day }),
    onChange: (day) => onCommit(day || null),
    given: "left",
  });
  useEffect(() => input.current?.setCustomValidity(bad), [bad]);
  const told = why || error;
  return (
    <div className={className}>
      <label htmlFor={id} className="block text-faint text-xs">
        {label}
      </label>
      <input
        id={id}
        ref={input}
        type="date"
        min="1900-01-01"
        max="2200-12-31"
        value={text}
        disabled={disabled}
        aria-invalid={why ? true : undefined}
        aria-describedby={told ? `${id}-told` : undefined}
        onChange={(e) => type(e.target.value)}
        onBlur={leave}
        onKeyDown={(e) => e.key === "Enter" && leave()}
        className="min-h-11 w-full rounded-sm border border-ink/45 bg-sheet px-2.5 py-1.5"
      />
      {told && (
        <p id={`${id}-told`} role="alert" className="mt-0.5 text-madder text-xs">
          {told}
        </p>
      )}
    </div>
  );
}
