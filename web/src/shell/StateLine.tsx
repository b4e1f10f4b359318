/** A line above the work: a sentence of the state of things, and what can be done about it. */
import type { ReactNode } from "react";

export function StateLine({ text, children }: { text: string; children?: ReactNode }) {
  return (
    <p className="flex items-center justify-between gap-4 border-madder border-b-2 bg-sheet px-4 py-1">
      <span>{text}</span>
      <span className="flex shrink-0 gap-1">{children}</span>
    </p>
  );
}
