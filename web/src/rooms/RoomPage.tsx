import type { ReactNode } from "react";
import { useArrival } from "../shell/ahead";

/** A room: the spine, and a page that scrolls. */
export function RoomPage({
  spine,
  title,
  side,
  children,
}: {
  spine: ReactNode;
  title: string;
  side?: ReactNode;
  children: ReactNode;
}) {
  useArrival(title);
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[136px_1fr]">
      <title>{`${title} · Kalon`}</title>
      {spine}
      <main className="flex min-h-0 min-w-0 flex-col px-8 pt-5" tabIndex={-1}>
        <header className="mb-4 flex items-end justify-between gap-4">
          <h1 className="font-semibold text-3xl tracking-tight">{title}</h1>
          {side}
        </header>
        <section className="min-h-0 flex-1 overflow-auto pb-6" tabIndex={0} aria-label={title}>
          {children}
        </section>
      </main>
    </div>
  );
}
