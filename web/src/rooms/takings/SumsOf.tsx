/** What it came to in one currency: by rate of tax, by person, by kind of line. */
import type { Sums } from "../../api/takings";
import { amount, money } from "../../ui/money";
import { Heading } from "../../ui/words";

export const rateWord = (rate: number | null): string => (rate === null ? "without tax" : `${rate} %`);
const KINDS: Record<Sums["kinds"][number]["kind"], string> = {
  sale: "Sales",
  undone: "Undone",
  refund: "Given back",
  correction: "Corrections",
  deposit: "Deposits",
  deposit_used: "Deposits used",
  deposit_back: "Deposits given back",
};
const FIGURE = "py-1 pl-2 text-right font-mono";

export function SumsOf({ sums }: { sums: Sums }) {
  const of = (minor: number) => money(minor, sums.currency);
  return (
    <section aria-label={`Sums in ${sums.currency}`} className="mb-4" data-sums={sums.currency}>
      <p className="text-3xl">
        <b className="font-mono">{of(sums.total_minor)}</b>
      </p>
      <p className="mb-2 text-faint text-sm">
        {sums.lines === 1 ? "one line" : `${sums.lines} lines`}, {sums.out} out, {sums.back} back
        {sums.discount_minor ? `, ${of(sums.discount_minor)} taken off` : ""}
      </p>
      <table className="w-full text-sm">
        <thead>
          <tr className="border-ink border-b text-faint">
            <th className="py-1 text-left font-normal">Tax</th>
            <th className="text-right font-normal">Net</th>
            <th className="text-right font-normal">Tax</th>
            <th className="text-right font-normal">Total</th>
          </tr>
        </thead>
        <tbody>
          {sums.rates.map((r) => (
            <tr key={r.rate_pct} className="border-line border-b" data-rate={r.rate_pct ?? "none"}>
              <th scope="row" className="py-1 text-left font-normal">
                {rateWord(r.rate_pct)}
              </th>
              {[r.net_minor, r.tax_minor, r.total_minor].map((minor, i) => (
                <td key={i} className={FIGURE}>
                  {amount(minor, sums.currency)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-3 grid grid-cols-2 gap-6 max-sm:grid-cols-1">
        <div>
          <Heading>By person</Heading>
          <ul className="text-sm">
            {sums.people.map((p) => (
              <li key={p.by} className="flex justify-between gap-2 border-line border-b py-1">
                <span>
                  {p.by}
                  <span className="block text-faint text-xs">
                    {p.out} out{p.back ? `, ${p.back} back` : ""}
                  </span>
                </span>
                <span className="font-mono">{amount(p.total_minor, sums.currency)}</span>
              </li>
            ))}
          </ul>
        </div>
        <div>
          <Heading>By kind</Heading>
          <ul className="text-sm">
            {sums.kinds.map((k) => (
              <li key={k.kind} className="flex justify-between gap-2 border-line border-b py-1">
                <span>
                  {KINDS[k.kind]} <span className="text-faint text-xs">{k.lines}</span>
                </span>
                <span className="font-mono">{amount(k.total_minor, sums.currency)}</span>
              </li>
            ))}
          </ul>
        </div>
      </div>
    </section>
  );
}
