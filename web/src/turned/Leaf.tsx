/** One leaf of what is shown to an athlete: a drawing, and a few sentences large enough for two metres away. */
import type { ReactNode } from "react";

/** Sentences: about 34 px on a laptop, smaller where the screen is, however it stands. */
export const LARGE = "text-[clamp(1.15rem,2.55vmax,2.1rem)] leading-snug";
export const HEAD = "text-[clamp(1.6rem,4vmax,3.3rem)] leading-tight font-semibold tracking-tight";

interface LeafProps {
  title: string;
  drawing?: ReactNode;
  children: ReactNode;
}

export function Leaf({ title, drawing, children }: LeafProps) {
  return (
    <section aria-label={title}>
      <h2 className={HEAD}>{title}</h2>
      <div
        className={`mt-4 grid items-start gap-x-10 gap-y-4 ${drawing ? "grid-cols-[minmax(0,1fr)_minmax(0,1fr)] max-lg:grid-cols-1" : ""}`}
      >
        {drawing && <div className="min-w-0">{drawing}</div>}
        <div className={`min-w-0 ${LARGE}`}>{children}</div>
      </div>
    </section>
  );
}

export function Lines({ lines }: { lines: string[] }) {
  return (
    <ul className="space-y-3">
      {lines.map((line) => (
        <li key={line}>{line}</li>
      ))}
    </ul>
  );
}

export function NotYet({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Leaf title={title}>
      <p>{children}</p>
    </Leaf>
  );
}
