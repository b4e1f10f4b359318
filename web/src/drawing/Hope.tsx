/** What may be hoped of a size: words first, the zone in doubt; the numbers when asked for. */
import type { Schemas } from "../api/client";
import { useVocabulary } from "../api/vocabulary";

const percent = (share: number) => `${Math.round(share * 100)} in 100`;
const first = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** "Worth trying, may be tight at the ball."; nothing for a size judged before it was said in words. */
export function useHope(): (size: {
  hope?: string | null | undefined;
  doubt?: string | undefined;
}) => string {
  const words = useVocabulary().data?.values ?? {};
  return ({ hope, doubt }) =>
    hope ? `${first(words[hope] ?? hope.replaceAll("_", " "))}${doubt ? `, ${doubt}` : ""}.` : "";
}

export function HopeWithNumbers({ size }: { size: Schemas["SizeFit"] }) {
  const { data } = useVocabulary();
  const said = useHope();
  return (
    <details className="text-sm">
      <summary className="flex min-h-11 cursor-pointer items-center gap-2">
        <b>{said(size) || "How sure"}</b> <span className="text-faint underline">Numbers</span>
      </summary>
      <p>{percent(size.chance)} that every zone ends where it is wanted.</p>
      <ul className="font-mono">
        {size.zones.map((z) => (
          <li key={z.zone} className="flex justify-between gap-3">
            <span>{data?.zones[z.zone]}</span>
            <span>
              {percent(z.chance)}
              {z.worth != null && `, worth ${z.worth.toFixed(2)} of 1`}
            </span>
          </li>
        ))}
      </ul>
    </details>
  );
}
