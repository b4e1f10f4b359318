/** A button in our look; at least 44 px both ways. */
import type { ButtonHTMLAttributes } from "react";

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
