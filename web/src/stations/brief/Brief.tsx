/** Brief: a few screens from general to particular, one question at a time holding the keys; what is said beside them. */
import { useLayoutEffect, useRef, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { useDesk } from "../../api/desk";
import { useVocabulary } from "../../api/vocabulary";
import { isTyping, useKeys } from "../../shell/keys";
import { hold } from "../../ui/ahead";
import { Button } from "../../ui/Button";
import { Loading } from "../../ui/words";
import { Station } from "../Station";
import { Answer } from "./Answer";
import { BriefMargin } from "./BriefMargin";
import { answerOf, isSaid, nameOf, type Question, screensOf } from "./questions";
import { Whole } from "./Whole";

/** The question that holds the keys: one by name, or whichever follows it, for an answer may bring new questions. */
interface Place {
  name: string;
  after: boolean;
}

function placed(questions: Question[], { name, after }: Place): Question | undefined {
  const at = questions.findIndex((q) => nameOf(q) === name);
  // Without a sport nothing follows yet.
  return after && questions.length > 1 ? questions[at + 1] : questions[at];
}

const FIELD = "input:not([type=checkbox]), textarea";

export default function Brief() {
  const { fitting, bodies, said, set, locked } = useDesk();
  const words = useVocabulary();
  const navigate = useNavigate();
  const brief = bodies.brief;
  const sports = words.data?.sports ?? [];
  const sport = sports.find((s) => s.slug === brief.sport);
  const screens = screensOf(sport, brief);
  const questions = screens.flat();
  const missing = questions.find((q) => q.needed && !answerOf(q, brief, sport, sports));
  const [params] = useSearchParams();
  const asked = params.get("ask");
  const [chosen, setChosen] = useState<Place | null>(asked ? { name: asked, after: false } : null);
  const open = chosen ? placed(questions, chosen) : missing;
  const at = open ? nameOf(open) : "";
  const screen = screens.find((s) => s.some((q) => nameOf(q) === at));
  const goTo = (question: Question | undefined) =>
    setChosen({ name: question ? nameOf(question) : "", after: false });
  const after = (question: Question) => questions[questions.indexOf(question) + 1];

  /** On from a question: asked, and none of them, is an answer too. */
  const goOn = (question: Question) => {
    if (question.key === "ask" && question.ask.kind === "many" && !isSaid(question, said) && !locked)
      set("brief", { [question.ask.field]: [] });
    setChosen({ name: nameOf(question), after: true });
  };
  const enter = () => {
    if (open) goOn(open);
    else if (!missing) {
      hold();
      navigate(`/fittings/${fitting.id}/spec`);
    } else goTo(missing);
  };
  const digit = (n: number) => () => {
    const answers = document.querySelectorAll<HTMLButtonElement>(
      `[data-question="${at}"] [data-digits] button`,
    );
    answers[(n + 9) % 10]?.click();
  };
  useKeys({
    Enter: enter,
    ...Object.fromEntries(Array.from({ length: 10 }, (_, n) => [String(n), digit(n)])),
  });

  if (!words.data) return <Loading what="the questions" />;
  const usual = questions
    .filter((q) => !isSaid(q, said))
    .map((q) => ({ short: q.short, text: answerOf(q, brief, sport, sports) }))
    .filter((q) => q.text);
  return (
    <Station margin={<BriefMargin sport={sport} />}>
      <div className="grid min-h-full grid-cols-[206px_1fr] gap-5 max-md:grid-cols-1">
        <ol className="-my-2" aria-label="The brief so far">
          {screens.map((questionsThere, i) => (
            <li key={questionsThere[0]?.short} className={i ? "border-line border-t" : ""}>
              <ol>
                {questionsThere.map((q) => (
                  <li key={nameOf(q)}>
                    <Told
                      question={q}
                      answer={isSaid(q, said) ? answerOf(q, brief, sport, sports) : ""}
                      current={nameOf(q) === at}
                      onOpen={() => goTo(q)}
                    />
                  </li>
                ))}
              </ol>
            </li>
          ))}
        </ol>
        {screen && open ? (
          <form
            className="min-w-0 self-start"
            data-screen={nameOf(screen[0] ?? open)}
            onSubmit={(e) => e.preventDefault()}
            onKeyDown={(e) => {
              const field = isTyping(e.target) && (e.target as HTMLElement).closest(FIELD);
              if (e.key !== "Enter" || !field || e.ctrlKey || e.metaKey) return;
              e.preventDefault();
              (e.target as HTMLElement).blur();
              goOn(open);
            }}
          >
            <div className="flex flex-wrap items-start gap-x-6 gap-y-4">
              {screen.map((q) => (
                <Asked key={nameOf(q)} question={q} current={nameOf(q) === at} onCurrent={() => goTo(q)}>
                  <Answer
                    question={q}
                    sport={sport}
                    sports={sports}
                    numbered={nameOf(q) === at}
                    onAnswered={() => goOn(q)}
                  />
                </Asked>
              ))}
            </div>
            <p className="mt-4 flex items-center gap-2">
              <Button kind="strong" onClick={() => goTo(after(screen.at(-1) ?? open))}>
                Next
              </Button>
              {screens.indexOf(screen) > 0 && (
                <Button onClick={() => goTo(screens[screens.indexOf(screen) - 1]?.[0])}>Back</Button>
              )}
              <span className="text-faint text-sm" data-hint>
                {hintOf(open)}
              </span>
            </p>
          </form>
        ) : (
          <Whole missing={missing} onMissing={() => goTo(missing)} usual={usual} locked={locked} />
        )}
      </div>
    </Station>
  );
}

interface ToldProps {
  question: Question;
  answer: string;
  current: boolean;
  onOpen: () => void;
}

/** A line of the brief so far. */
function Told({ question, answer, current, onOpen }: ToldProps) {
  return (
    <button
      type="button"
      aria-current={current ? "step" : undefined}
      onClick={onOpen}
      className={`grid min-h-11 w-full grid-cols-[5.6rem_1fr] items-center gap-1 border-l-4 py-1 pl-2 text-left text-sm leading-tight hover:bg-paper ${current ? "border-madder bg-paper" : "border-line"}`}
    >
      <span className="text-faint">{question.short}</span>
      {answer ? (
        <b className="min-w-0 break-words">{answer}</b>
      ) : (
        <span className={question.needed ? "font-semibold text-madder" : "text-faint"}>
          {question.needed ? "needed" : "not said"}
        </span>
      )}
    </button>
  );
}

const hintOf = (q: Question): string => {
  if (q.key === "also" || q.key === "present") return "Enter goes on.";
  const chosen = q.key !== "ask" || ["choice", "many", "yes"].includes(q.ask.kind);
  return chosen ? "Digits choose, Enter goes on." : "Enter goes on.";
};

interface AskedProps {
  question: Question;
  current: boolean;
  onCurrent: () => void;
  children: React.ReactNode;
}

/** A question of the screen; the one that holds the keys has its answers numbered. */
function Asked({ question, current, onCurrent, children }: AskedProps) {
  const box = useRef<HTMLElement>(null);
  useLayoutEffect(() => {
    const here = box.current;
    if (!current || !here || here.contains(document.activeElement)) return;
    (here.querySelector<HTMLElement>(`[data-answer] :is(${FIELD}):not(:disabled)`) ?? here).focus();
    here.scrollIntoView({ block: "nearest" });
  }, [current]);
  const typed = question.key === "ask" && ["number", "date"].includes(question.ask.kind);
  return (
    <section
      ref={box}
      tabIndex={-1}
      data-question={nameOf(question)}
      data-current={current || undefined}
      data-first={current || undefined}
      aria-label={question.text}
      onFocus={() => !current && onCurrent()}
      className={`border-l-4 pl-3 outline-none ${current ? "border-madder" : "border-line"} ${typed ? "" : "w-full"}`}
    >
      <h2 className="font-semibold text-lg leading-tight tracking-tight">
        {question.text}
        {question.needed && <span className="ml-2 font-normal text-madder text-sm">needed</span>}
      </h2>
      {question.key === "ask" && question.ask.why && <p className="text-faint text-sm">{question.ask.why}</p>}
      <div data-answer className="mt-1.5">
        {children}
      </div>
    </section>
  );
}
