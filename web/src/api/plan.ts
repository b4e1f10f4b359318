/** A plan of pairs as the server works it out: kept, and tried out while it is changed. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ask, http, type Schemas } from "./client";

export type PlanBody = Schemas["PlanBody"];
export type PlanPage = Schemas["PlanPage"];

export interface Whose {
  athlete?: string;
  squad?: string;
}

const query = (whose: Whose) => (whose.athlete ? { athlete: whose.athlete } : { squad: whose.squad ?? "" });

export const useKeptPlan = (whose: Whose) =>
  useQuery({
    queryKey: ["plan", whose, "kept"],
    queryFn: () => ask(http.GET("/api/plan", { params: { query: { ...query(whose), curve: false } } })),
    enabled: !!(whose.athlete || whose.squad),
  });

/** What a plan comes to as it is set now, quickly; and with what other budgets would bring, after it. */
export function useTriedPlan(whose: Whose, body: PlanBody | null, curve: boolean) {
  return useQuery({
    queryKey: ["plan", whose, "tried", curve, body],
    queryFn: ({ signal }) =>
      ask(
        http.POST("/api/plan/try", {
          params: { query: query(whose) },
          body: { body: body as PlanBody, curve },
          signal,
        }),
      ),
    enabled: body !== null,
    placeholderData: keepPreviousData,
  });
}

export function useKeepPlan(whose: Whose) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (given: Schemas["PlanIn"]) =>
      ask(http.PUT("/api/plan", { params: { query: query(whose) }, body: given })),
    onSuccess: (page) => {
      client.setQueryData(["plan", whose, "kept"], page);
      client.setQueryData(["plan", whose, "tried", true, page.body], page);
    },
  });
}

export const sheetOf = (whose: Whose, paper: "a4" | "letter"): string =>
  `/api/plan/sheet.pdf?${new URLSearchParams([...Object.entries(query(whose)), ["paper", paper]])}`;
