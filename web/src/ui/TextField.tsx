import { useId } from "react";
import { useTyped } from "./useTyped";

interface TextFieldProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  type?: string;
  long?: boolean;
  disabled?: boolean;
  autoComplete?: string;
  error?: string | undefined;
  className?: string;
}

const asIs = (text: string) => text;

export function TextField(props: TextFieldProps) {
  const id = useId();
  const { text, type, leave } = useTyped({ ...props, show: asIs, read: (said) => ({ value: said }) });
  const shared = {
    id,
    value: text,
    dir: props.type && props.type !== "text" ? undefined : "auto",
    disabled: props.disabled,
    onBlur: leave,
    "aria-describedby": props.error ? `${id}-told` : undefined,
    className: "min-h-11 w-full rounded-sm border border-ink/45 bg-sheet px-2.5 py-1.5",
  };
  return (
    <div className={props.className}>
      <label htmlFor={id} className="block text-faint text-xs">
        {props.label}
      </label>
      {props.long ? (
        <textarea rows={3} {...shared} onChange={(e) => type(e.target.value)} />
      ) : (
        <input
          type={props.type ?? "text"}
          autoComplete={props.autoComplete ?? "off"}
          {...shared}
          onChange={(e) => type(e.target.value)}
        />
      )}
      {props.error && (
        <p id={`${id}-told`} role="alert" className="mt-0.5 text-madder text-xs">
          {props.error}
        </p>
      )}
    </div>
  );
}
