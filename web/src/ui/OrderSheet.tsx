/** What goes with an order. */
import type { Schemas } from "../api/client";

type Sheet = Schemas["OrderSheet"] & Schemas["MadeSheet"];

/** An order sheet: how sure, the half size to add (or the feet a last is made for), what to check on arrival. */
export function SheetText({ sheet: given }: { sheet: object }) {
  const sheet = given as Partial<Sheet>;
  if (!sheet.why) return null;
  return (
    <div className="text-sm">
      <p className="font-semibold">{sheet.why}</p>
      {(["feet", "shoe"] as const).map((part) =>
        sheet[part]?.length ? (
          <section key={part}>
            <p className="mt-1">{part === "feet" ? "The feet, and the room wanted in them:" : "The shoe:"}</p>
            <ul className="ml-5 list-disc">
              {sheet[part].map((t) => (
                <li key={t}>{t}</li>
              ))}
            </ul>
          </section>
        ) : null,
      )}
      <p className="mt-1">On arrival:</p>
      <ol className="ml-5 list-decimal">
        {(sheet.check ?? []).map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ol>
    </div>
  );
}
