/** The margin at Settle: this size, what it gives up, breaking in. */
import type { Schemas } from "../../api/client";
import { HopeWithNumbers } from "../../drawing/Hope";
import { price } from "../../ui/money";
import { Heading } from "../../ui/words";
import { useBlind } from "../blind";
import { Costs } from "./Costs";

export function SettleMargin({
  found,
  passed,
}: {
  found: Schemas["SettlePreview"] | undefined;
  passed: boolean;
}) {
  if (!found) return null;
  const { blind } = useBlind();
  return (
    <>
      {!passed && <p className="mb-3 border-madder border-l-4 pl-2">No pair has passed the trial yet.</p>}
      <Heading>This size</Heading>
      <p>{found.size.verdict}</p>
      <HopeWithNumbers size={found.size} />
      <Heading>What it gives up</Heading>
      {found.in_a_word && <p className="mb-1 font-semibold">{found.in_a_word}</p>}
      {!found.gives_up.length && <p className="text-faint">Nothing the spec asked for.</p>}
      <ul className="space-y-1">
        {found.gives_up.map((p) => (
          <li key={p.text}>{p.text}</li>
        ))}
      </ul>
      {(blind ? [] : found.older).map((o) => (
        <p key={o.line_id} className="mt-2 border-ink border-l-4 pl-2" data-older>
          <b>
            {o.name}, {price(o.price_minor, found.pair.currency)}.
          </b>{" "}
          {o.text}
        </p>
      ))}
      {!blind && <Costs />}
      <Heading>Breaking in</Heading>
      <p className={found.plan.in_time ? "" : "border-madder border-l-4 pl-2 font-semibold"}>
        {found.plan.verdict}
      </p>
      {found.by_zone.length > 0 && (
        <ul className="mt-1" data-by-zone>
          {found.by_zone.map((z) => (
            <li key={z.zone}>{z.text}</li>
          ))}
        </ul>
      )}
      {found.plan.old_pair && <p className="mt-1">{found.plan.old_pair}</p>}
      {found.old_pair && <p className="mt-1 font-semibold">{found.old_pair}</p>}
      <ul className="mt-2 space-y-1">
        {found.plan.rules.map((r) => (
          <li key={r}>{r}</li>
        ))}
      </ul>
    </>
  );
}
