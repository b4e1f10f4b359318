/** A button in our look; at least 44 px both ways. */
import { type ButtonHTMLAttributes, type MouseEvent, useEffect, useRef } from "react";

type Kind = "plain" | "strong" | "quiet";

const KINDS: Record<Kind, string> = {
  plain: "border border-ink/60 bg-sheet hover:bg-paper",
  strong: "border border-madder bg-madder text-on-madder hover:brightness-110",
  quiet: "border border-transparent hover:border-line hover:bg-paper",
};

type Props = ButtonHTMLAttributes<HTMLButtonElement> & { kind?: Kind };

export function Button({ kind = "plain", className = "", ...rest }: Props) {
  return (
    <button
      type="button"
      className={`min-h-11 min-w-11 rounded-sm px-3.5 py-1.5 font-medium disabled:opacity-45 ${KINDS[kind]} ${className}`}
      {...rest}
    />
  );
}

/** Sooner nobody has seen a button that came: a key pressed by then was meant for what stood there before. */
const SEEN_MS = 400;

/** A button of weight: no key held from before presses it, nor one pressed before it can have been seen. Where it came
 * in place of another (`inPlace`) no finger does either. */
export function SeenButton({ onClick, inPlace = false, ...rest }: Props & { inPlace?: boolean }) {
  const came = useRef(0);
  useEffect(() => {
    came.current = Date.now();
  }, []);
  const byKey = (e: MouseEvent) => e.detail === 0;
  return (
    <Button
      data-seen
      onClick={(e) => !((inPlace || byKey(e)) && Date.now() - came.current < SEEN_MS) && onClick?.(e)}
      {...rest}
    />
  );
}
