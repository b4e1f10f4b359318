/** Failures of the interface are told to the log: where they happened, never what was typed. */
import { ask, http } from "./client";

const PLACE = /([\w./-]+\.(?:js|tsx?)(?:\?[\w=]*)?):(\d+):(\d+)/;

/** The places in a stack, without anything else that stands in it. */
export function placesIn(stack: string | undefined): string[] {
  return (stack ?? "")
    .split("\n")
    .map((line) => PLACE.exec(line))
    .flatMap((m) => (m ? [`${(m[1] ?? "").replace(/^.*\//, "").replace(/\?.*$/, "")}:${m[2]}:${m[3]}`] : []))
    .slice(0, 8);
}

let told = 0;

export function tellFailure(error: unknown): void {
  if (told++ > 20) return;
  const known = error instanceof Error ? error : new Error("unknown");
  const kind = known.name.replace(/[^A-Za-z]/g, "").slice(0, 60);
  void ask(http.POST("/api/failures", { body: { kind, where: placesIn(known.stack) } })).catch(
    () => undefined,
  );
}
