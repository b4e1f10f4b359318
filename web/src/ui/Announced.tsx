/** What the numbers came to, read out once they have settled; seen elsewhere on the sheet. */
import { useSettled } from "./useSettled";

export function Announced({ text }: { text: string }) {
  const settled = useSettled(text, 1000);
  return (
    <p role="status" aria-live="polite" className="sr-only" data-announced>
      {settled}
    </p>
  );
}
