/** Beside the brief: the matters practitioners differ on, and whose side this athlete's fitting takes. */
import type { Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { Heading } from "../../ui/words";

export function BriefMargin({ sport }: { sport: Schemas["SportOut"] | undefined }) {
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
