/** What is said: headings, reasons with their mark, that something is coming or went wrong. */
import { type ReactNode, useEffect } from "react";
import { arrived } from "./ahead";

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

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="p-6 text-faint">
      Drawing {what} …
    </p>
  );
}

/** Something went wrong, or isn't there yet: a sentence, and what to do. */
export function Note({ children, title }: { title?: string; children: ReactNode }) {
  // What was on its way came to this: keys that mean nothing here are said to have done nothing.
  useEffect(() => void arrived(), []);
  return (
    <div className="m-6 max-w-prose border-madder border-l-4 bg-sheet p-4">
      {title && <h2 className="mb-1 font-semibold text-lg">{title}</h2>}
      {children}
    </div>
  );
}

/** Advice that couldn't be given: said in a line, never left out in silence. */
export function Untold({ of, what }: { of: { isError: boolean; error: Error | null }; what: string }) {
  if (!of.isError) return null;
  return (
    <p role="alert" className="my-2 border-madder border-l-4 pl-2" data-untold>
      {what} can't be told now. {of.error?.message}
    </p>
  );
}

export const Heading = ({ children }: { children: ReactNode }) => (
  <h2 className="mt-4 mb-1.5 font-semibold text-[0.95rem] first:mt-0">{children}</h2>
);
