/** Beside the trial: what the findings say to try next. */

import type { Schemas } from "../../api/client";
import { euText } from "../../ui/label";
import { Heading, Reason } from "../../ui/words";
import { useBlind } from "../blind";
import { Helps, NextPairs } from "./Next";

type Trial = Schemas["PairTrial"];

interface Props {
  advice: Schemas["Advice"][];
  trial: Trial;
  found: Schemas["TrialNextView"] | undefined;
  pair: Schemas["PairOut"];
}

/** From how much more worth another pair is named beside a favourite. */
const CLEARLY = 0.08;

export function TrialMargin({ advice, trial, found, pair }: Props) {
  const { blind } = useBlind();
  const first = found?.places[0];
  const own = found?.runs.find((r) => r.line_id === pair.id);
  const favourite = trial.verdict === "pass" && first && own && first.quality > own.quality + CLEARLY;
  return (
    <>
      {favourite && !blind && (
        <p className="mb-2 border-madder border-l-4 pl-2" data-favourite>
          {pair.name} is the favourite; {first.pair.name} {euText(first.pair)} promises more. Let them try it
          before they settle.
        </p>
      )}
      {found?.questions.map((q) => (
        <p key={q} role="status" className="mb-2 border-madder border-l-4 pl-2" data-question>
          {q} Until one of both goes, neither is learned from.
        </p>
      ))}
      <NextPairs found={found} />
      <Heading>What to try next</Heading>
      {!advice.length && <p className="text-faint">Nothing speaks against this pair so far.</p>}
      <ul className="space-y-2">
        {advice.map((a) => (
          <li key={a.text} className="border-madder border-l-4 pl-2">
            <Reason text={a.text} mark={a.mark} />
          </li>
        ))}
      </ul>
      {trial.verdict === "pass" && advice.length > 0 && (
        <p className="mt-3">It passed although the findings above disagree: say so before settling.</p>
      )}
      <Helps found={found} />
      <Heading>How to mark a pinch</Heading>
      <p className="text-faint text-sm">
        Touch the spot: once noticed, twice it hurts, three times it can't be worn, once more clears it. By
        keys: M, then Up and Down.
      </p>
      <Heading>Don't let a favourite win</Heading>
      <p className="text-faint text-sm">
        Both shoes, own socks, fully laced, standing first. Common practice.
      </p>
    </>
  );
}
