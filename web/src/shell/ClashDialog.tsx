/** Somebody else changed the same field: who, when, to what, and a choice. */
import { useOutbox } from "../api/desk";
import { decide } from "../api/outbox";
import { Button } from "../ui/Button";
import { timeOf } from "../ui/clock";
import { Dialog } from "../ui/Dialog";
import { fieldName, written } from "./said";

export function ClashDialog() {
  const { entries } = useOutbox();
  const found = Object.entries(entries).find(([, e]) => e.clash);
  if (!found) return null;
  const [key, entry] = found;
  const clashes = entry.clash?.clashes ?? [];
  return (
    <Dialog open stays onClose={() => {}} title="Changed by somebody else meanwhile">
      <ul className="space-y-3">
        {clashes.map((c) => (
          <li key={c.path}>
            <p className="font-semibold">{fieldName(c.path)}</p>
            <p>
              {c.by} put <b className="font-mono">{written(c.path, c.theirs)}</b> at {timeOf(c.at)}.
            </p>
            <p>
              You put <b className="font-mono">{written(c.path, c.mine)}</b>.
            </p>
          </li>
        ))}
      </ul>
      <div className="mt-5 flex gap-2">
        <Button onClick={() => decide(key, false)}>Keep theirs</Button>
        <Button kind="strong" onClick={() => decide(key, true)}>
          Put mine
        </Button>
      </div>
    </Dialog>
  );
}
