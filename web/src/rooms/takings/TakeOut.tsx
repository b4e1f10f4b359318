/** Takings as files: lines, sums by rate, what models earned, what lies; and the day to print. */
import type { Schemas } from "../../api/client";
import { TakeFile, type Taken } from "../../ui/TakeFile";

const KINDS: Taken[] = [
  { value: "journal", text: "The journal", hint: "every line" },
  { value: "sums", text: "Sums", hint: "by day and rate of tax" },
  {
    value: "day",
    text: "To print",
    hint: "sums, a day with its lines",
    forms: [
      { value: "a4", text: "PDF, A4" },
      { value: "letter", text: "PDF, Letter" },
    ],
    shown: true,
  },
];
const FOR_MANAGERS: Taken[] = [
  { value: "models", text: "Models", hint: "sold, earned, what lies at cost and price" },
  { value: "slow", text: "Slow sizes now", hint: "none sold for a long time" },
];

interface Props {
  period: string;
  me: Schemas["Me"];
  onClose: () => void;
}

export function TakeOut({ period, me, onClose }: Props) {
  return (
    <TakeFile
      title={`Take out ${period}`}
      kinds={me.role === "manager" ? [...KINDS, ...FOR_MANAGERS] : KINDS}
      href={(kind, form) =>
        `/api/takings/${kind === "day" ? `day.pdf?paper=${form}&` : `${kind}.${form}?`}of=${period}`
      }
      onClose={onClose}
    />
  );
}
