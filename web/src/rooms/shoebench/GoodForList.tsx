/** What a shoe is good for by the rulebook: each discipline's verdict with its reason, and the grounds it differs on. */
import type { Schemas } from "../../api/client";

type Found = Schemas["GoodFor"];
export const VERDICTS: Record<Found["verdict"], string> = {
  suits: "suits",
  serves: "serves",
  poor: "not for this",
  never: "never",
  unknown: "too little known",
};

export function GoodForList({ found, label }: { found: Found[]; label: string }) {
  return (
    <ul aria-label={label}>
      {found.map((g, i) => (
        <li key={`${g.sport}/${g.discipline}`} className="border-line border-b py-1 leading-tight">
          <span className="flex items-baseline justify-between gap-2">
            <b>{g.name}</b>
            <span
              className={
                g.verdict === "never" ? "text-madder" : g.verdict === "suits" ? "font-semibold" : "text-faint"
              }
            >
              {VERDICTS[g.verdict]}
            </span>
          </span>
          <span className="block text-sm">{g.why}</span>
          {Object.keys(g.each ?? {}).length > 1 &&
            JSON.stringify(g.each) !== JSON.stringify(found[i - 1]?.each) && (
              <span className="block text-faint text-sm">
                {Object.entries(g.each ?? {})
                  .map(([on, v]) => `${on.replaceAll("_", " ")}: ${VERDICTS[v]}`)
                  .join("; ")}
              </span>
            )}
          {g.verdict === "unknown" && (g.ask ?? []).length > 0 && (
            <span className="block text-faint text-sm">To read first: {(g.ask ?? []).join(", ")}</span>
          )}
        </li>
      ))}
    </ul>
  );
}
