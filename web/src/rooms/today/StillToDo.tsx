/** What a new shop has still to do: each gone when it is done, or said to be. */
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/Button";

interface Props {
  items: Schemas["BeginItem"][];
  busy: boolean;
  onDone: (item: Schemas["BeginItem"]) => void;
}

export function StillToDo({ items, busy, onDone }: Props) {
  if (!items.length) return null;
  return (
    <section aria-labelledby="begin" className="mb-5 max-w-3xl border-line border-l-4 pl-4">
      <h2 id="begin" className="font-semibold text-lg">
        Still to do in this shop
      </h2>
      <ul>
        {items.map((i) => (
          <li key={i.key} className="flex min-h-12 items-center gap-3 border-line border-b last:border-b-0">
            {i.place ? (
              <Link to={i.place} className="inline-flex min-h-11 flex-1 items-center underline">
                {i.text}
              </Link>
            ) : (
              <span className="flex-1">{i.text}</span>
            )}
            <Button kind="quiet" aria-label={`Done: ${i.text}`} disabled={busy} onClick={() => onDone(i)}>
              Done
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
