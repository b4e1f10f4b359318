/** Brief: one question at a time, from general to particular; what is answered stands beside it. */
import { useEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { getPath, useDesk } from "../../api/fitting";
import { Gauge, Picture } from "../../drawing/pictures";
import { Button, DateField, Heading, Loading, ManyOf, NumberField, OneOf, TextField } from "../../ui/parts";
import { Station, useVocabulary } from "../Station";
import { Also } from "./Also";
import { Present } from "./Present";
import { type Ask, answerOf, isSaid, nameOf, type Question, questionsOf } from "./questions";

/** The open question: one by name, or whichever follows it, for an answer may bring new questions. */
interface Place {
  name: string;
  after: boolean;
}

export default function Brief() {
  const { bodies, said, set, locked } = useDesk();
  const words = useVocabulary();
  const brief = bodies.brief;
  const sports = words.data?.sports ?? [];
  const sport = sports.find((s) => s.slug === brief.sport);
  const questions = questionsOf(sport, brief);
  const missing = questions.findIndex((q) => q.needed && !answerOf(q, brief, sport, sports));
  const [params] = useSearchParams();
  const asked = params.get("ask");
  const [chosen, setChosen] = useState<Place | null>(asked ? { name: asked, after: false } : null);
  const at = chosen
    ? questions.findIndex((q) => nameOf(q) === chosen.name) + (chosen.after ? 1 : 0)
    : missing;
  if (!words.data) return <Loading what="the questions" />;
  const open = questions[at];
  const goTo = (question: Question | undefined) =>
    question && setChosen({ name: nameOf(question), after: false });
  const goOn = () => {
    if (!open) return;
    // Asked, and none of them: that is an answer.
    if (open.key === "ask" && open.ask.kind === "many" && !isSaid(open, said) && !locked)
      set("brief", { [open.ask.field]: [] });
    setChosen({ name: nameOf(open), after: true });
  };
  const usual = questions
    .filter((q) => !isSaid(q, said))
    .map((q) => ({ short: q.short, text: answerOf(q, brief, sport, sports) }))
    .filter((q) => q.text);
  return (
    <Station margin={<BriefMargin sport={sport} />}>
      <div className="grid min-h-full grid-cols-[236px_1fr] gap-6">
        <ol className="-my-2" aria-label="The brief so far">
          {questions.map((q, i) => {
            const answer = isSaid(q, said) && answerOf(q, brief, sport, sports);
            return (
              <li key={nameOf(q)}>
                <button
                  type="button"
                  aria-current={i === at ? "step" : undefined}
                  onClick={() => goTo(q)}
                  className={`grid min-h-11 w-full grid-cols-[6.4rem_1fr] items-center gap-1 border-l-4 py-1 pl-2 text-left text-sm leading-tight hover:bg-paper ${i === at ? "border-madder bg-paper" : "border-line"}`}
                >
                  <span className="text-faint">{q.short}</span>
                  {answer ? (
                    <b>{answer}</b>
                  ) : (
                    <span className={q.needed ? "font-semibold text-madder" : "text-faint"}>
                      {q.needed ? "needed" : "not said"}
                    </span>
                  )}
                </button>
              </li>
            );
          })}
        </ol>
        {open ? (
          <Card
            key={nameOf(open)}
            question={open}
            onNext={goOn}
            onBack={at > 0 ? () => goTo(questions[at - 1]) : undefined}
            focus={chosen !== null}
          >
            <Answer question={open} sport={sport} sports={sports} onNext={goOn} />
          </Card>
        ) : (
          <Whole
            missing={questions[missing]}
            onMissing={() => goTo(questions[missing])}
            usual={usual}
            locked={locked}
          />
        )}
      </div>
    </Station>
  );
}

interface WholeProps {
  missing: Question | undefined;
  onMissing: () => void;
  /** What was not asked, and what is taken for it. */
  usual: { short: string; text: string }[];
  locked: boolean;
}

function Whole({ missing, onMissing, usual, locked }: WholeProps) {
  const { fitting } = useDesk();
  return (
    <section aria-label="The brief is told" className="sticky top-0 max-w-prose self-start">
      {missing ? (
        <>
          <h2 className="mb-2 font-semibold text-2xl tracking-tight">One thing is still needed</h2>
          <Button kind="strong" onClick={onMissing}>
            {missing.text}
          </Button>
        </>
      ) : (
        <>
          <h2 className="mb-2 font-semibold text-2xl tracking-tight">The brief is told</h2>
          <p className="mb-4">
            {locked
              ? "It stays as it was settled."
              : "Any line on the left can be changed; the spec follows at once."}
          </p>
          {usual.length > 0 && (
            <p className="mb-4" data-usual>
              <b>Not asked, so the usual is taken:</b>{" "}
              {usual.map((u) => `${u.short.toLowerCase()}: ${u.text.toLowerCase()}`).join("; ")}.
            </p>
          )}
          <Link
            to={`/fittings/${fitting.id}/spec`}
            className="inline-flex min-h-11 items-center rounded-sm border border-madder bg-madder px-3.5 font-medium text-on-madder"
          >
            On to the spec (3)
          </Link>
        </>
      )}
    </section>
  );
}

const hintOf = (q: Question): string => {
  if (q.key === "also" || q.key === "present") return "";
  const chosen = q.key !== "ask" || ["choice", "many", "yes"].includes(q.ask.kind);
  return chosen ? "Digits choose, Enter goes on." : "Enter goes on.";
};

interface CardProps {
  question: Question;
  onNext: () => void;
  onBack: (() => void) | undefined;
  focus: boolean;
  children: React.ReactNode;
}

/** One question, large. Digits choose an answer, Enter goes on. */
function Card({ question, onNext, onBack, focus, children }: CardProps) {
  const card = useRef<HTMLFormElement>(null);
  useEffect(() => {
    if (focus) card.current?.querySelector<HTMLElement>("[data-answer] input, [data-answer] button")?.focus();
  }, [focus]);
  /** The answer that stands, chosen again, goes on too. */
  const again = (event: React.MouseEvent) => {
    const picked = (event.target as HTMLElement).closest(
      "[data-digits]:not([data-many]) button[data-state=on]",
    );
    if (picked) onNext();
  };
  const press = (event: React.KeyboardEvent) => {
    const target = event.target as HTMLElement;
    if (event.ctrlKey || event.altKey || event.metaKey) return;
    const typing = target.closest("input:not([type=checkbox]), select, textarea");
    if (!typing && /^[1-9]$/.test(event.key)) {
      const options = card.current?.querySelectorAll<HTMLButtonElement>("[data-digits] button");
      const picked = options?.[Number(event.key) - 1];
      if (!picked) return;
      event.preventDefault();
      picked.click();
    } else if (event.key === "Enter" && (typing || target.closest("[data-many]"))) {
      event.preventDefault();
      target.blur();
      onNext();
    }
  };
  return (
    <form
      ref={card}
      className="sticky top-0 self-start"
      data-question={nameOf(question)}
      onKeyDown={press}
      onClickCapture={again}
      onSubmit={(e) => e.preventDefault()}
    >
      <h2 className="mb-1 font-semibold text-2xl tracking-tight">{question.text}</h2>
      <p className="mb-3 min-h-5 text-faint text-sm">
        {question.key === "ask" && question.ask.why}
        {question.needed && <span className="ml-1 text-madder">The spec can't do without it.</span>}
      </p>
      <div data-answer>{children}</div>
      <p className="mt-5 flex items-center gap-2">
        <Button kind="strong" onClick={onNext}>
          Next
        </Button>
        {onBack && <Button onClick={onBack}>Back</Button>}
        <span className="text-faint text-sm">{hintOf(question)}</span>
      </p>
    </form>
  );
}

interface AnswerProps {
  question: Question;
  sport: Schemas["SportOut"] | undefined;
  sports: Schemas["SportOut"][];
  onNext: () => void;
}

const numbered = (i: number) => (
  <span className="absolute top-1 right-2 font-mono text-xs opacity-70">{i < 9 ? i + 1 : ""}</span>
);

function Answer({ question, sport, sports, onNext }: AnswerProps) {
  const { bodies, set, locked } = useDesk();
  const brief = bodies.brief;
  switch (question.key) {
    case "sport":
      return (
        <div data-digits>
          <OneOf
            label="Sport"
            value={brief.sport}
            disabled={locked}
            columns="grid grid-cols-3 gap-2 *:flex *:min-h-16 *:flex-col *:items-start *:pr-6"
            options={sports.map((s, i) => ({ value: s.slug, text: s.name, picture: numbered(i) }))}
            onChange={(v) => {
              if (v !== brief.sport) set("brief", { sport: v, discipline: null, also: [], schools: null });
              onNext();
            }}
          />
        </div>
      );
    case "discipline":
      return (
        <div data-digits>
          <OneOf
            label="Discipline"
            value={brief.discipline}
            disabled={locked}
            columns="grid grid-cols-4 gap-2 *:flex *:min-h-16 *:flex-col *:items-start *:pr-6 max-xl:grid-cols-3 max-lg:grid-cols-2"
            options={(sport?.disciplines ?? []).map((d, i) => ({
              ...d,
              picture: (
                <>
                  {numbered(i)}
                  {sport?.drawn && <Picture kind={sport.drawn} value={d.value} />}
                </>
              ),
            }))}
            onChange={(v) => {
              set("brief", { discipline: v });
              onNext();
            }}
          />
        </div>
      );
    case "also":
      return sport ? <Also sport={sport} /> : null;
    case "present":
      return <Present />;
    default:
      return <AskField ask={question.ask} onNext={onNext} />;
  }
}

function AskField({ ask, onNext }: { ask: Ask; onNext: () => void }) {
  const { bodies, said, set, refusal, locked } = useDesk();
  const value = said.has(ask.field) ? getPath(bodies.brief, ask.field) : null;
  const put = (v: unknown) => set("brief", { [ask.field]: v });
  switch (ask.kind) {
    case "number":
      return (
        <div className="flex flex-wrap items-end gap-6">
          <NumberField
            label={ask.text}
            hideLabel
            unit={ask.unit}
            value={value as number | null}
            onChange={put}
            error={refusal("brief", ask.field)}
            disabled={locked}
            width="w-44"
          />
          {ask.drawn && <Gauge kind={ask.drawn} value={value as number | null} />}
        </div>
      );
    case "choice":
      return (
        <div data-digits>
          <OneOf
            label={ask.text}
            value={value as string | null}
            disabled={locked}
            columns="grid grid-cols-3 gap-2 *:flex *:min-h-16 *:flex-col *:items-start *:pr-6 max-lg:grid-cols-2"
            options={ask.options.map((o, i) => ({
              ...o,
              picture: (
                <>
                  {numbered(i)}
                  {ask.drawn && <Picture kind={ask.drawn} value={o.value} />}
                </>
              ),
            }))}
            onChange={(v) => {
              put(v);
              onNext();
            }}
          />
        </div>
      );
    case "many":
      return (
        <div data-digits data-many>
          <ManyOf
            label={ask.text}
            columns="grid grid-cols-3 gap-2 *:min-h-14 *:pr-6 max-lg:grid-cols-2"
            value={(value as string[] | null) ?? []}
            options={ask.options.map((o, i) => ({ ...o, picture: numbered(i) }))}
            onChange={put}
            disabled={locked}
          />
        </div>
      );
    case "yes":
      return (
        <div data-digits>
          <OneOf
            label={ask.text}
            value={typeof value === "boolean" ? (value ? "yes" : "no") : null}
            disabled={locked}
            columns="grid grid-cols-3 gap-2 *:min-h-16 *:pr-6 max-lg:grid-cols-2"
            options={[
              { value: "yes", text: "Yes", picture: numbered(0) },
              { value: "no", text: "No", picture: numbered(1) },
            ]}
            onChange={(v) => {
              put(v === "yes");
              onNext();
            }}
          />
        </div>
      );
    case "date":
      return (
        <DateField
          className="max-w-md"
          label="Day"
          value={(value as string | null) ?? ""}
          onCommit={put}
          error={refusal("brief", ask.field)}
          disabled={locked}
        />
      );
    default:
      return (
        <TextField
          className="max-w-md"
          label="In words"
          value={(value as string | null) ?? ""}
          onChange={(v) => put(v || null)}
          error={refusal("brief", ask.field)}
          disabled={locked}
        />
      );
  }
}

function BriefMargin({ sport }: { sport: Schemas["SportOut"] | undefined }) {
  const { fitting, bodies, set, locked } = useDesk();
  const side = (slug: string) => fitting.schools[slug] ?? "";
  if (!sport) return <p className="text-faint">Pick a sport; the questions follow.</p>;
  return (
    <>
      <Heading>Where practitioners differ</Heading>
      <p className="mb-3 text-faint text-sm">The house's side is taken unless this athlete's is another.</p>
      {sport.schools.map((school) => (
        <div key={school.slug} className="mb-4">
          <p className="mb-1">{school.text}</p>
          <OneOf
            label={school.text}
            value={bodies.brief.schools?.[school.slug] ?? side(school.slug)}
            options={school.options.map((o) =>
              o.value === side(school.slug) ? { ...o, hint: "the house's" } : o,
            )}
            disabled={locked}
            columns="grid gap-1"
            onChange={(v) => set("brief", { [`schools/${school.slug}`]: v })}
          />
        </div>
      ))}
      <Button
        kind="quiet"
        disabled={locked || !Object.keys(bodies.brief.schools ?? {}).length}
        onClick={() => set("brief", { schools: null })}
      >
        Back to the house's
      </Button>
    </>
  );
}
