/** What each sport is asked about, its tests and its words. */
import { useQuery } from "@tanstack/react-query";
import { ask, http } from "./client";

export const useVocabulary = () =>
  useQuery({
    queryKey: ["vocabulary"],
    queryFn: () => ask(http.GET("/api/vocabulary")),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** What the zones of a fit are called. */
export const useZones = (): Record<string, string> => useVocabulary().data?.zones ?? {};
