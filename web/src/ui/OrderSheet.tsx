/** What goes with an order. */
import type { Schemas } from "../api/client";

type Sheet = Schemas["OrderSheet"];

/** An order sheet: how sure, the half size to add, what to check on arrival. */
export function SheetText({ sheet: given }: { sheet: object }) {
  const sheet = given as Partial<Sheet>;
  if (!sheet.why) return null;
  return (
    <div className="text-sm">
      <p className="font-semibold">{sheet.why}</p>
      <p className="mt-1">On arrival:</p>
      <ol className="ml-5 list-decimal">
        {(sheet.check ?? []).map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ol>
    </div>
  );
}
