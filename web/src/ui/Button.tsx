/** A button in our look; at least 44 px both ways. It says what it weighs, and never leaves the hand that is on it. */
import { type ButtonHTMLAttributes, type MouseEvent, useEffect, useRef, useState } from "react";
import { useInSight, type Weight } from "./guard";

type Kind = "plain" | "strong" | "quiet";

const KINDS: Record<Kind, string> = {
  plain: "border border-ink/60 bg-sheet hover:bg-paper",
  strong: "border border-madder bg-madder text-on-madder hover:brightness-110",
  quiet: "border border-transparent hover:border-line hover:bg-paper",
};
const OFF = "disabled:opacity-45 data-[off]:opacity-45";

/** Two keys within this time are one: whatever was pressed may not have answered yet. Once it has (it was switched off
 * meanwhile), a key means it anew. Of a double click the browser itself tells the second press, which never counts. */
const PRESSED_TWICE_MS = 500;

type Props = ButtonHTMLAttributes<HTMLButtonElement> & {
  kind?: Kind;
  /** What pressing it does; see `ui/guard`. */
  weight?: Weight;
  /** What it would do now, where its words don't say: pressed for another, it does nothing. */
  means?: string;
};

/** A field beside it that holds no value: what would be done would be done with another. */
const unreadNear = (button: Element) =>
  button.closest("[role=dialog], form, main")?.querySelector<HTMLElement>("input:invalid");

export function Button(props: Props) {
  const { kind = "plain", className = "", weight = "harmless", means, disabled, onClick, ...rest } = props;
  const said = typeof rest.children === "string" ? rest.children : "";
  const { ref, ready, canBe } = useInSight<HTMLButtonElement>(weight, means ?? said);
  const pressed = useRef(-PRESSED_TWICE_MS);
  const [focused, setFocused] = useState(false);
  const off = useRef(false);
  useEffect(() => {
    if (off.current && !disabled) pressed.current = -PRESSED_TWICE_MS;
    off.current = !!disabled;
  }, [disabled]);
  // What has the focus keeps it: it is said to be off, and does nothing.
  const held = !!disabled && focused;
  const press = (event: MouseEvent<HTMLButtonElement>) => {
    const counts = weight !== "harmless" || rest.type === "submit";
    const now = performance.now();
    const byKey = event.detail === 0;
    const again = counts && (event.detail > 1 || (byKey && now - pressed.current < PRESSED_TWICE_MS));
    const unread = weight === "harmless" ? null : unreadNear(event.currentTarget);
    if (!disabled && !again && canBe() && !unread) {
      pressed.current = now;
      return onClick?.(event);
    }
    event.preventDefault();
    event.stopPropagation();
    unread?.focus();
  };
  return (
    <button
      type="button"
      ref={ref}
      className={`min-h-11 min-w-11 rounded-sm px-3.5 py-1.5 font-medium ${OFF} ${KINDS[kind]} ${className}`}
      {...rest}
      disabled={!!disabled && !focused}
      aria-disabled={held || !ready || undefined}
      data-off={held || undefined}
      data-weight={weight === "harmless" ? undefined : weight}
      onClick={press}
      onFocus={(event) => {
        setFocused(true);
        rest.onFocus?.(event);
      }}
      onBlur={(event) => {
        setFocused(false);
        rest.onBlur?.(event);
      }}
    />
  );
}
