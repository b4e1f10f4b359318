/** What the shop has, taken along as a file. */
import { TakeFile, type Taken } from "../../ui/TakeFile";

const KINDS: Taken[] = [
  { value: "stock", text: "Stock", hint: "every size, what is on hand, how it is made" },
  { value: "models", text: "Models", hint: "a line each" },
  { value: "movements", text: "Movements", hint: "every pair that came or went" },
  { value: "athletes", text: "Athletes" },
  { value: "fittings", text: "Fittings", hint: "with what was sold" },
  { value: "follow-ups", text: "Follow-ups", hint: "with what was measured" },
  { value: "learned", text: "What was learned", hint: "of makers, models and sizes" },
];

export function TakeOut({ onClose }: { onClose: () => void }) {
  return (
    <TakeFile
      title="Take out"
      kinds={KINDS}
      href={(kind, form) => `/api/export/${kind}.${form}`}
      onClose={onClose}
    />
  );
}
