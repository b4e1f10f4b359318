/** What a list says in words nobody knows: asked once each, with how many lines hang on it and a guess. */
import { useState } from "react";
import { useVocabulary } from "../../api/vocabulary";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import type { Settings, Sheet } from "./listed";

type Ask = Sheet["asks"][number];
type Answers = Record<string, string>;

const LEFT_OUT = "-";
/** Not answered yet. */
const OPEN = "open";
const WIDTHS = ["narrow", "regular", "wide"];
const keyOf = (ask: Ask) => `${ask.field} ${ask.word}`;

interface Props {
  sheet: Sheet;
  change: (part: Partial<Settings>) => void;
  disabled: boolean;
}

/** The settings with what was answered; what was left open stays as it was. */
export function answered(sheet: Sheet, answers: Answers): Partial<Settings> {
  const words = { ...sheet.settings.words };
  let child = sheet.settings.child ?? null;
  for (const ask of sheet.asks) {
    const answer = answers[keyOf(ask)];
    if (!answer || answer === OPEN) continue;
    if (ask.field === "child") child = answer as "uk" | "us";
    else words[ask.field] = { ...words[ask.field], [ask.word]: answer };
  }
  return { words, child };
}

export function SheetAsks({ sheet, change, disabled }: Props) {
  const guesses = Object.fromEntries(sheet.asks.map((a) => [keyOf(a), a.guess || OPEN]));
  const [said, setSaid] = useState<Answers>({});
  if (!sheet.asks.length) return null;
  const answers = { ...guesses, ...said };
  const open = sheet.asks.filter((a) => answers[keyOf(a)] === OPEN).length;
  return (
    <form
      aria-label="What the list means"
      className="mb-3 max-w-4xl border-madder border-l-4 bg-sheet p-3"
      onSubmit={(e) => {
        e.preventDefault();
        change(answered(sheet, answers));
      }}
    >
      <h2 className="font-semibold">What does it mean?</h2>
      <p className="text-faint text-sm">
        Said once, it holds for all its lines and for this supplier's next list. What is filled in is a guess.
      </p>
      <ul>
        {sheet.asks.map((a) => (
          <li
            key={keyOf(a)}
            className="grid min-h-14 grid-cols-[1fr_18rem] items-center gap-3 border-line border-b py-1 max-md:grid-cols-1"
          >
            <span>
              {a.said}? <span className="text-faint text-sm">{linesOf(a.lines)}</span>
            </span>
            <Answer
              ask={a}
              value={answers[keyOf(a)] ?? OPEN}
              disabled={disabled}
              onChange={(value) => setSaid((all) => ({ ...all, [keyOf(a)]: value }))}
            />
          </li>
        ))}
      </ul>
      <p className="mt-2 flex items-center gap-3">
        <Button type="submit" kind="strong" disabled={disabled || open === sheet.asks.length}>
          Read it so
        </Button>
        {open > 0 && (
          <span className="text-faint text-sm">
            {open} not answered: {open === 1 ? "it stays" : "they stay"} as{" "}
            {open === 1 ? "it is" : "they are"}.
          </span>
        )}
      </p>
    </form>
  );
}

export const linesOf = (n: number) => `${n.toLocaleString("en")} ${n === 1 ? "line" : "lines"}`;

interface AnswerProps {
  ask: Ask;
  value: string;
  disabled: boolean;
  onChange: (value: string) => void;
}

function Answer({ ask, value, disabled, onChange }: AnswerProps) {
  const words = useVocabulary().data;
  if (ask.field === "pairs") {
    return (
      <span className="flex items-end gap-2">
        <NumberField
          label={`Pairs meant by ${ask.word}`}
          value={/^\d+$/.test(value) ? Number(value) : null}
          decimals={0}
          min={0}
          max={9999}
          disabled={disabled}
          onChange={(n) => onChange(n === null ? OPEN : String(n))}
        />
        <Button
          aria-pressed={value === LEFT_OUT}
          className="aria-pressed:bg-ink aria-pressed:text-sheet"
          disabled={disabled}
          onClick={() => onChange(LEFT_OUT)}
        >
          don't count
        </Button>
      </span>
    );
  }
  const options = {
    sport: [
      ...(words?.sports ?? []).map((s) => ({ value: s.slug, text: s.name })),
      { value: LEFT_OUT, text: "not ours: leave out" },
    ],
    width: [
      ...WIDTHS.map((w) => ({ value: w, text: w })),
      { value: LEFT_OUT, text: "says nothing: regular" },
    ],
    upper: [
      ...(words?.kinds.upper ?? []).map((u) => ({
        value: u,
        text: words?.values[u] ?? u.replaceAll("_", " "),
      })),
      { value: LEFT_OUT, text: "says nothing" },
    ],
    meant_for: [
      ...(words?.sports ?? []).flatMap((s) =>
        s.purposes.map((p) => ({ value: p.value, text: `${s.name}: ${p.text}` })),
      ),
      { value: LEFT_OUT, text: "says nothing" },
    ],
    colour: [
      ...(ask.guess ? [{ value: ask.guess, text: `the ${ask.guess} known here` }] : []),
      { value: LEFT_OUT, text: "a colour of its own" },
    ],
    child: [
      { value: "uk", text: "UK children's" },
      { value: "us", text: "US children's" },
    ],
  }[ask.field];
  return (
    <Select
      label={ask.field === "child" ? "Children's letters are" : `What ${ask.word} means`}
      value={value}
      disabled={disabled}
      options={[{ value: OPEN, text: "not answered" }, ...options]}
      onChange={onChange}
    />
  );
}

/** Why lines can't be used: each reason once, with how many it holds for. */
export function Reasons({ sheet }: { sheet: Sheet }) {
  if (!sheet.reasons.length) return null;
  return (
    <ul aria-label="Why lines can't be used" className="mt-2 max-w-4xl">
      {sheet.reasons.map((r) => (
        <li key={r.said} className="grid grid-cols-[6rem_1fr] gap-3 border-line border-b py-1">
          <b className="text-right">{linesOf(r.lines)}</b>
          <span>{r.said}</span>
        </li>
      ))}
    </ul>
  );
}
