/** Our look over plain elements and Radix primitives. Targets are at least 44 px. */
import { Dialog as RadixDialog, ToggleGroup } from "radix-ui";
import { type ButtonHTMLAttributes, type ReactNode, useEffect, useId, useState } from "react";
import { useTyped } from "./useTyped";

type Kind = "plain" | "strong" | "quiet";
const KINDS: Record<Kind, string> = {
  plain: "border border-ink/60 bg-sheet hover:bg-paper",
  strong: "border border-madder bg-madder text-on-madder hover:brightness-110",
  quiet: "border border-transparent hover:border-line hover:bg-paper",
};

export function Button({
  kind = "plain",
  className = "",
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: Kind }) {
  return (
    <button
      type="button"
      className={`min-h-11 min-w-11 rounded-sm px-3.5 py-1.5 font-medium disabled:opacity-45 ${KINDS[kind]} ${className}`}
      {...rest}
    />
  );
}

export const MARKS: Record<string, string> = {
  CP: "common practice",
  PUB: "published",
  MEM: "from memory",
  HD: "house default",
};

/** A reason with its mark, as the margin tells it. */
export function Reason({ text, mark, school }: { text: string; mark: string; school?: string | null }) {
  return (
    <span>
      {text}{" "}
      <span className="text-faint text-xs">
        {MARKS[mark]}
        {school ? ", schools differ" : ""}
      </span>
    </span>
  );
}

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

interface NumberFieldProps {
  label: string;
  value: number | null | undefined;
  onChange: (value: number | null) => void;
  unit?: string;
  step?: number;
  /** Why the server refused it. */
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
  const { value, onChange, unit = "", step = 1, decimals = 1 } = props;
  const id = useId();
  const { broken, input } = useTyped({ value, decimals, step, onChange });
  const trouble = broken ? `Must be a number${unit ? ` in ${unit}` : ""}.` : props.error;
  const told = trouble ?? props.doubt;
  return (
    <div className={props.width ?? "w-32"}>
      {!props.inline && (
        <label htmlFor={id} className={props.hideLabel ? "sr-only" : "block text-faint text-xs"}>
          {props.label}
        </label>
      )}
      <div
        className={`flex min-h-11 items-center rounded-sm border bg-sheet ${trouble ? "border-2 border-madder" : props.doubt ? "border-2 border-ink border-dashed" : "border-ink/45"}`}
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
          className={`min-h-11 w-full min-w-0 bg-transparent font-mono outline-offset-0 ${props.inline ? "px-1 text-right text-base" : "px-2 text-lg"}`}
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

export function TextField(props: TextFieldProps) {
  const id = useId();
  const [text, setText] = useState(props.value);
  const [typing, setTyping] = useState(false);
  useEffect(() => {
    if (!typing) setText(props.value);
  }, [props.value, typing]);
  const shared = {
    id,
    value: text,
    disabled: props.disabled,
    onFocus: () => setTyping(true),
    onBlur: () => setTyping(false),
    "aria-describedby": props.error ? `${id}-told` : undefined,
    className: "min-h-11 w-full rounded-sm border border-ink/45 bg-sheet px-2.5 py-1.5",
  };
  const change = (value: string) => {
    setText(value);
    props.onChange(value);
  };
  return (
    <div className={props.className}>
      <label htmlFor={id} className="block text-faint text-xs">
        {props.label}
      </label>
      {props.long ? (
        <textarea rows={3} {...shared} onChange={(e) => change(e.target.value)} />
      ) : (
        <input
          type={props.type ?? "text"}
          autoComplete={props.autoComplete ?? "off"}
          {...shared}
          onChange={(e) => change(e.target.value)}
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

interface DialogProps {
  open: boolean;
  onClose: () => void;
  title: string;
  wide?: boolean;
  /** It can't be closed: something has to be decided first. */
  stays?: boolean;
  children: ReactNode;
}

export function Dialog({ open, onClose, title, wide = false, stays = false, children }: DialogProps) {
  return (
    <RadixDialog.Root open={open} onOpenChange={(o) => !o && onClose()}>
      <RadixDialog.Portal>
        <RadixDialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <RadixDialog.Content
          aria-describedby={undefined}
          className={`fixed top-1/2 left-1/2 z-50 max-h-[92vh] -translate-x-1/2 -translate-y-1/2 overflow-auto border-2 border-ink bg-sheet p-5 ${wide ? "w-[min(46rem,94vw)]" : "w-[min(36rem,92vw)]"}`}
        >
          <RadixDialog.Title className="mr-10 mb-3 font-semibold text-xl leading-tight">
            {title}
          </RadixDialog.Title>
          {children}
          {!stays && (
            <RadixDialog.Close
              className="absolute top-1 right-1 grid size-11 place-items-center hover:bg-paper"
              aria-label="Close"
            >
              <svg width="16" height="16" aria-hidden="true" stroke="currentColor" strokeWidth="2">
                <path d="M2 2L14 14M14 2L2 14" />
              </svg>
            </RadixDialog.Close>
          )}
        </RadixDialog.Content>
      </RadixDialog.Portal>
    </RadixDialog.Root>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="p-6 text-faint">
      Drawing {what} …
    </p>
  );
}

/** Something went wrong, or isn't there yet: a sentence, and what to do. */
export function Note({ children, title }: { title?: string; children: ReactNode }) {
  return (
    <div className="m-6 max-w-prose border-madder border-l-4 bg-sheet p-4">
      {title && <h2 className="mb-1 font-semibold text-lg">{title}</h2>}
      {children}
    </div>
  );
}

export const Heading = ({ children }: { children: ReactNode }) => (
  <h2 className="mt-4 mb-1.5 font-semibold text-[0.95rem] first:mt-0">{children}</h2>
);

export { day } from "./clock";
