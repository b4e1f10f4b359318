/** The answers of a question: the sports, the disciplines, and whatever the vocabulary asks. */
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { getPath } from "../../api/paths";
import { Gauge, Picture } from "../../drawing/pictures";
import { ITEM, ManyOf, OneOf } from "../../ui/choice";
import { DateField } from "../../ui/DateField";
import { NumberField } from "../../ui/NumberField";
import { TextField } from "../../ui/TextField";
import { Also } from "./Also";
import { Present } from "./Present";
import type { Ask, Question } from "./questions";

interface AnswerProps {
  question: Question;
  sport: Schemas["SportOut"] | undefined;
  sports: Schemas["SportOut"][];
  /** Its answers carry the digits that choose them. */
  numbered: boolean;
  onAnswered: () => void;
}

/** The digit that chooses an answer; the tenth is 0. */
const digits =
  (shown: boolean) =>
  (i: number): ReactNode =>
    shown && i < 10 ? (
      <span aria-hidden="true" className="absolute top-1 right-2 font-mono text-xs opacity-70">
        {(i + 1) % 10}
      </span>
    ) : null;

export function Answer({ question, sport, sports, numbered, onAnswered }: AnswerProps) {
  const { bodies, set, locked } = useDesk();
  const brief = bodies.brief;
  const digit = digits(numbered);
  switch (question.key) {
    case "sport":
      return (
        <div data-digits>
          <OneOf
            label="Sport"
            value={brief.sport}
            disabled={locked}
            columns="grid grid-cols-4 gap-1.5 *:min-h-12 *:pr-6 max-lg:grid-cols-2"
            onClear={onAnswered}
            options={sports.map((s, i) => ({ value: s.slug, text: s.name, picture: digit(i) }))}
            onChange={(v) => {
              if (v !== brief.sport) set("brief", { sport: v, discipline: null, also: [], schools: null });
              onAnswered();
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
            columns="grid grid-cols-4 gap-1.5 *:flex *:min-h-12 *:flex-col *:items-start *:pr-6 max-lg:grid-cols-2"
            onClear={onAnswered}
            options={(sport?.disciplines ?? []).map((d, i) => ({
              ...d,
              picture: (
                <>
                  {digit(i)}
                  {sport?.drawn && <Picture kind={sport.drawn} value={d.value} picture={d.picture} />}
                </>
              ),
            }))}
            onChange={(v) => {
              set("brief", { discipline: v });
              onAnswered();
            }}
          />
        </div>
      );
    case "also":
      return sport ? <Also sport={sport} /> : null;
    case "present":
      return <Present />;
    default:
      return <AskField ask={question.ask} digit={digit} onAnswered={onAnswered} />;
  }
}

interface AskFieldProps {
  ask: Ask;
  digit: (i: number) => ReactNode;
  onAnswered: () => void;
}

function AskField({ ask, digit, onAnswered }: AskFieldProps) {
  const { bodies, said, set, refusal, locked } = useDesk();
  const value = said.has(ask.field) ? getPath(bodies.brief, ask.field) : null;
  const put = (v: unknown) => set("brief", { [ask.field]: v });
  const usual = said.has(ask.field) ? undefined : getPath(bodies.brief, ask.field);
  const hinted = (o: Ask["options"][number]) =>
    usual === o.value ? { ...o, hint: [o.hint, "the usual"].filter(Boolean).join("; ") } : o;
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
            usual={usual as number | null}
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
            columns="grid grid-cols-3 gap-1.5 *:flex *:min-h-12 *:flex-col *:items-start *:pr-6 max-lg:grid-cols-2"
            onClear={onAnswered}
            options={ask.options.map((o, i) => ({
              ...hinted(o),
              picture: (
                <>
                  {digit(i)}
                  {ask.drawn && <Picture kind={ask.drawn} value={o.value} />}
                </>
              ),
            }))}
            onChange={(v) => {
              put(v);
              onAnswered();
            }}
          />
        </div>
      );
    case "many":
      return (
        <div data-digits data-many className="grid gap-1.5">
          <ManyOf
            label={ask.text}
            columns="grid grid-cols-4 gap-1.5 *:min-h-12 *:pr-6 max-lg:grid-cols-2"
            value={(value as string[] | null) ?? []}
            options={ask.options.map((o, i) => ({ ...o, picture: digit(i) }))}
            onChange={put}
            disabled={locked}
          />
          <button
            type="button"
            aria-pressed={said.has(ask.field) && !(value as string[] | null)?.length}
            data-state={said.has(ask.field) && !(value as string[] | null)?.length ? "on" : "off"}
            disabled={locked}
            className={`${ITEM} w-fit min-w-36`}
            onClick={() => {
              put([]);
              onAnswered();
            }}
          >
            Nothing
          </button>
        </div>
      );
    case "yes":
      return (
        <div data-digits>
          <OneOf
            label={ask.text}
            value={typeof value === "boolean" ? (value ? "yes" : "no") : null}
            disabled={locked}
            columns="grid grid-cols-[repeat(2,9rem)] gap-1.5 *:min-h-12 *:pr-6"
            onClear={onAnswered}
            options={[
              { value: "yes", text: "Yes", picture: digit(0) },
              { value: "no", text: "No", picture: digit(1) },
            ]}
            onChange={(v) => {
              put(v === "yes");
              onAnswered();
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
