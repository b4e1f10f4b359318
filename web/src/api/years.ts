/** An athlete through the years, and what was changed of their record, page by page. */
import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { ask, http, type Schemas } from "./client";

export type Years = Schemas["YearsOut"];
export type Visit = Schemas["VisitMeasured"];
export type Said = Schemas["SaidOfFeet"];

const path = (athlete_id: string) => ({ path: { athlete_id } });

export const useYears = (athlete: string) =>
  useQuery({
    queryKey: ["athlete", athlete, "years"],
    queryFn: () => ask(http.GET("/api/athletes/{athlete_id}/years", { params: path(athlete) })),
  });

export const useChanges = (athlete: string) =>
  useInfiniteQuery({
    queryKey: ["athlete", athlete, "changes"],
    initialPageParam: null as number | null,
    queryFn: ({ pageParam }) =>
      ask(
        http.GET("/api/athletes/{athlete_id}/changes", {
          params: { ...path(athlete), query: pageParam ? { before: pageParam } : {} },
        }),
      ),
    getNextPageParam: (page) => page.before,
  });
