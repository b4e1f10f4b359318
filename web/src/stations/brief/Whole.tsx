/** The brief when every question is told or passed: what was not asked, and the way on. */
import { useEffect, useRef } from "react";
import { Link } from "react-router";
import { useDesk } from "../../api/desk";
import { holdForLink } from "../../ui/ahead";
import { Button } from "../../ui/Button";
import type { Question } from "./questions";

interface WholeProps {
  missing: Question | undefined;
  onMissing: () => void;
  /** What was not asked, and what is taken for it. */
  usual: { short: string; text: string }[];
  locked: boolean;
}

export function Whole({ missing, onMissing, usual, locked }: WholeProps) {
  const { fitting } = useDesk();
  const box = useRef<HTMLElement>(null);
  useEffect(() => box.current?.querySelector<HTMLElement>("[data-first]")?.focus(), []);
  return (
    <section ref={box} aria-label="The brief is told" className="sticky top-0 max-w-prose self-start">
      {missing ? (
        <>
          <h2 className="mb-2 font-semibold text-2xl tracking-tight">One thing is still needed</h2>
          <Button kind="strong" data-first onClick={onMissing}>
            {missing.text}
          </Button>
        </>
      ) : (
        <>
          <h2 className="mb-2 font-semibold text-2xl tracking-tight">The brief is told</h2>
          <p className="mb-4">
            {locked
              ? "It stays as it was settled."
              : "Any line on the left can be changed; the spec follows at once."}
          </p>
          {usual.length > 0 && (
            <p className="mb-4" data-usual>
              <b>Not asked, so the usual is taken:</b>{" "}
              {usual.map((u) => `${u.short.toLowerCase()}: ${u.text.toLowerCase()}`).join("; ")}.
            </p>
          )}
          <Link
            data-first
            onClick={holdForLink}
            to={`/fittings/${fitting.id}/spec`}
            className="inline-flex min-h-11 items-center rounded-sm border border-madder bg-madder px-3.5 font-medium text-on-madder"
          >
            On to the spec
          </Link>
        </>
      )}
    </section>
  );
}
