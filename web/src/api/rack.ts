/** The rack as the server holds it: asked page by page, given up when another is asked for. */
import {
  type InfiniteData,
  keepPreviousData,
  type QueryClient,
  useInfiniteQuery,
  useQuery,
} from "@tanstack/react-query";
import { ask, http, type Pair, type Schemas } from "./client";

export type RackModel = Schemas["RackModel"];
export type RackSize = Schemas["RackSize"];

export interface Narrowed {
  text: string;
  sport?: string;
  plate?: string;
  width?: string;
  feature?: string;
  most_minor?: number;
  here?: boolean;
}

export function useRack(query: Narrowed) {
  return useInfiniteQuery({
    queryKey: ["rack", query],
    queryFn: ({ pageParam, signal }) =>
      ask(http.GET("/api/rack", { params: { query: { ...query, ...pageParam } }, signal })),
    initialPageParam: {} as { after_maker?: string; after_name?: string },
    getNextPageParam: (page) => {
      const last = page.models.at(-1);
      return page.more && last ? { after_maker: last.maker, after_name: last.name } : undefined;
    },
    placeholderData: keepPreviousData,
  });
}

export const useRackTotals = (query: Narrowed) =>
  useQuery({
    queryKey: ["rack-totals", query],
    queryFn: ({ signal }) => ask(http.GET("/api/rack/totals", { params: { query }, signal })),
    placeholderData: keepPreviousData,
  });

/** So many are on hand now: everywhere a line is shown. */
export function counted(client: QueryClient, line: string, onHand: number): void {
  client.setQueriesData<Pair[]>({ queryKey: ["stock"] }, (rows) =>
    rows?.map((r) => (r.id === line ? { ...r, on_hand: onHand } : r)),
  );
  client.setQueriesData<InfiniteData<Schemas["RackOut"]>>({ queryKey: ["rack"] }, (rack) => {
    if (!rack) return rack;
    const pages = rack.pages.map((page) => ({
      ...page,
      models: page.models.map((m) =>
        m.sizes.some((s) => s.id === line)
          ? { ...m, sizes: m.sizes.map((s) => (s.id === line ? { ...s, on_hand: onHand } : s)) }
          : m,
      ),
    }));
    return { ...rack, pages };
  });
  void client.invalidateQueries({ queryKey: ["rack-totals"] });
  void client.invalidateQueries({ queryKey: ["line", line] });
}
