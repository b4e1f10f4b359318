import type { ReactNode } from "react";
import { useArrival } from "../ui/ahead";
import { FrameContext } from "../ui/words";

/** A room: its title, what is done from there, and a page that scrolls. */
export function RoomPage({
  title,
  side,
  children,
}: {
  title: string;
  side?: ReactNode;
  children: ReactNode;
}) {
  useArrival();
  return (
    <>
      <title>{`${title} · Kalon`}</title>
      <main className="flex min-h-0 min-w-0 flex-1 flex-col px-8 pt-4 max-md:px-4" tabIndex={-1}>
        <header className="mb-4 flex items-end justify-between gap-4 max-sm:mb-2 max-sm:flex-wrap max-sm:gap-1">
          <h1 dir="auto" className="font-semibold text-3xl tracking-tight">
            {title}
          </h1>
          {side}
        </header>
        <section className="min-h-0 flex-1 overflow-auto pb-6" tabIndex={0} aria-label={title}>
          <FrameContext.Provider value="whole">{children}</FrameContext.Provider>
        </section>
      </main>
    </>
  );
}
