/** What is said: headings, reasons with their mark, that something is coming or went wrong. */
import { useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useEffect } from "react";
import { arrived } from "./ahead";
import { Button } from "./Button";

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

/** What there is of a page already round what is drawn: nothing, its title alone, or all of it. */
export const FrameContext = createContext<"none" | "titled" | "whole">("none");

/** A page with nothing on it yet, or for long: it has a place for the focus, a heading and a title like any other. */
function Framed({
  title,
  hidden = false,
  children,
}: {
  title: string;
  hidden?: boolean;
  children: ReactNode;
}) {
  const frame = useContext(FrameContext);
  if (frame === "whole") return children;
  return (
    <main tabIndex={-1} className="min-h-0 flex-1 overflow-auto">
      {frame === "none" && (
        <>
          <title>{`${title} · Kalon`}</title>
          <h1 className={hidden ? "sr-only" : "m-6 mb-0 w-fit font-semibold text-3xl tracking-tight"}>
            {title}
          </h1>
        </>
      )}
      {children}
    </main>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <Framed title={`Drawing ${what}`} hidden>
      <p role="status" className="p-6 text-faint">
        Drawing {what} …
      </p>
    </Framed>
  );
}

interface NoteProps {
  title?: string;
  /** It may be asked for again. */
  again?: boolean;
  children: ReactNode;
}

/** Something went wrong, or isn't there yet: a sentence, and what to do. */
export function Note({ children, title, again = false }: NoteProps) {
  const client = useQueryClient();
  const frame = useContext(FrameContext);
  // What was on its way came to this: keys that mean nothing here are said to have done nothing.
  useEffect(() => {
    if (frame !== "whole") document.querySelector<HTMLElement>("main")?.focus({ preventScroll: true });
    void arrived();
  }, [frame]);
  return (
    <Framed title={title ?? "Not now"}>
      <div className="m-6 max-w-prose border-madder border-l-4 bg-sheet p-4">
        {title && frame !== "none" && <h2 className="mb-1 font-semibold text-lg">{title}</h2>}
        {children}
        {again && (
          <Button
            className="mt-3 block"
            onClick={() => void client.refetchQueries({ predicate: (q) => q.state.status === "error" })}
          >
            Try again
          </Button>
        )}
      </div>
    </Framed>
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
