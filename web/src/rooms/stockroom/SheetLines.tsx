/** A list's lines, by what becomes of them. */
import { useInfiniteQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useRef } from "react";
import { ask, http } from "../../api/client";
import { useFurther } from "../../api/useFurther";
import type { Verdict } from "./listed";

const ROW = 44;

export function Lines({ id, verdict, count }: { id: string; verdict: Verdict; count: number }) {
  const list = useInfiniteQuery({
    queryKey: ["sheet-rows", id, verdict],
    queryFn: ({ pageParam, signal }) =>
      ask(
        http.GET("/api/sheets/{sheet_id}/rows", {
          params: { path: { sheet_id: id }, query: { verdict, after: pageParam, limit: 200 } },
          signal,
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (page) => (page.more ? page.rows.at(-1)?.row : undefined),
  });
  const rows = list.data?.pages.flatMap((p) => p.rows) ?? [];
  const box = useRef<HTMLElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 10,
  });
  const items = virtual.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  useFurther(list, last >= rows.length - 40);
  if (list.error && !list.data) return <p role="alert">{list.error.message}</p>;
  return (
    <section
      ref={box}
      tabIndex={0}
      aria-label={`${count.toLocaleString("en")} lines ${verdict}`}
      className="mt-2 h-[46vh] min-h-56 overflow-auto border border-line bg-sheet"
    >
      {!list.isPending && !rows.length && <p className="p-3">None.</p>}
      <ol className="relative" style={{ height: virtual.getTotalSize() }}>
        {items.map((item) => {
          const row = rows[item.index];
          return row ? (
            <li
              key={row.row}
              ref={virtual.measureElement}
              data-index={item.index}
              data-row={row.row}
              className="absolute inset-x-0 grid min-h-11 grid-cols-[6rem_minmax(12rem,2fr)_minmax(14rem,3fr)] items-center gap-3 border-line border-b px-2 py-1"
              style={{ transform: `translateY(${item.start}px)` }}
            >
              <span className="text-right font-mono text-faint text-sm">{row.place}</span>
              <span className="min-w-0 break-words">{row.text}</span>
              <span className={verdict === "refused" ? "text-madder" : ""}>{row.said}</span>
            </li>
          ) : null;
        })}
      </ol>
      {list.isFetchNextPageError && (
        <p role="alert" className="p-3">
          The rest can't be shown yet. {list.error?.message}
        </p>
      )}
    </section>
  );
}
