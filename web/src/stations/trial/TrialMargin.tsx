/** Beside the trial: what the findings say to try next. */
import type { Schemas } from "../../api/client";
import { Heading, Reason } from "../../ui/words";

type Trial = Schemas["PairTrial"];

export function TrialMargin({ advice, trial }: { advice: Schemas["Advice"][]; trial: Trial }) {
  return (
    <>
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
      <Heading>How to mark a pinch</Heading>
      <p className="text-faint text-sm">
        Touch the spot: once noticed, twice it hurts, three times it can't be worn, once more clears it.
      </p>
      <Heading>Don't let a favourite win</Heading>
      <p className="text-faint text-sm">
        Both shoes, own socks, fully laced, standing first. Common practice.
      </p>
    </>
  );
}
