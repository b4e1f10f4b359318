import { useEffect, useId, useState } from "react";

interface DateFieldProps {
  label: string;
  value: string;
  onCommit: (value: string | null) => void;
  disabled?: boolean;
  error?: string | undefined;
  className?: string;
}

/** A day: taken when the field is left or Enter pressed, not while its digits are typed. */
export function DateField({ label, value, onCommit, disabled, error, className }: DateFieldProps) {
  const id = useId();
  const [text, setText] = useState(value);
  const [typing, setTyping] = useState(false);
  useEffect(() => {
    if (!typing) setText(value);
  }, [value, typing]);
  const commit = () => text !== value && onCommit(text || null);
  return (
    <div className={className}>
      <label htmlFor={id} className="block text-faint text-xs">
        {label}
      </label>
      <input
        id={id}
        type="date"
        min="1900-01-01"
        max="2200-12-31"
        value={text}
        disabled={disabled}
        aria-describedby={error ? `${id}-told` : undefined}
        onFocus={() => setTyping(true)}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => {
          setTyping(false);
          commit();
        }}
        onKeyDown={(e) => e.key === "Enter" && commit()}
        className="min-h-11 w-full rounded-sm border border-ink/45 bg-sheet px-2.5 py-1.5"
      />
      {error && (
        <p id={`${id}-told`} role="alert" className="mt-0.5 text-madder text-xs">
          {error}
        </p>
      )}
    </div>
  );
}
