/** Brief: what the athlete does, asked in their words, general first. */
import type { Schemas } from "../../api/client";
import { getPath, useDesk } from "../../api/fitting";
import { Button, Heading, Loading, ManyOf, NumberField, OneOf, TextField } from "../../ui/parts";
import { Station, useVocabulary } from "../Station";
import { SurfacePicture } from "./SurfacePicture";

type Ask = Schemas["AskOut"];

export default function Brief() {
  const { bodies, set, locked } = useDesk();
  const words = useVocabulary();
  const brief = bodies.brief;
  if (!words.data) return <Loading what="the questions" />;
  const sport = words.data.sports.find((s) => s.slug === brief.sport);
  const asks =
    sport?.asks.filter((a) => !a.disciplines.length || a.disciplines.includes(brief.discipline ?? "")) ?? [];
  return (
    <Station margin={<BriefMargin sport={sport} />}>
      <div className="space-y-4">
        <Question text="What sport?" missing={!brief.sport}>
          <OneOf
            label="Sport"
            value={brief.sport}
            disabled={locked}
            options={words.data.sports.map((s) => ({ value: s.slug, text: s.name }))}
            onChange={(v) => v !== brief.sport && set("brief", { sport: v, discipline: null, schools: null })}
          />
        </Question>
        {sport && (
          <Question text="What do they do most?" missing={!brief.discipline}>
            <OneOf
              label="Discipline"
              value={brief.discipline}
              disabled={locked}
              options={sport.disciplines}
              onChange={(v) => set("brief", { discipline: v })}
            />
          </Question>
        )}
        {sport && (
          <div className="flex flex-wrap gap-x-8 gap-y-4">
            {asks.map((a) => (
              <AskField key={a.field} ask={a} />
            ))}
          </div>
        )}
        {sport && (
          <TextField
            className="max-w-xl"
            label="What they wear now, and how it fits"
            value={brief.wears_now ?? ""}
            disabled={locked}
            onChange={(v) => set("brief", { wears_now: v || null })}
          />
        )}
      </div>
    </Station>
  );
}

function Question({
  text,
  children,
  missing = false,
}: {
  text: string;
  children: React.ReactNode;
  missing?: boolean;
}) {
  return (
    <div>
      <p className="mb-1 font-semibold">
        {text}
        {missing && <span className="ml-2 font-normal text-madder text-sm">needed</span>}
      </p>
      {children}
    </div>
  );
}

function AskField({ ask }: { ask: Ask }) {
  const { bodies, set, refusal, locked } = useDesk();
  const value = getPath(bodies.brief, ask.field);
  const put = (v: unknown) => set("brief", { [ask.field]: v });
  const missing = ask.needed && (value === null || value === undefined);
  switch (ask.kind) {
    case "number":
      return (
        <Question text={ask.text} missing={missing}>
          <NumberField
            label={ask.text}
            hideLabel
            unit={ask.unit}
            value={value as number | null}
            onChange={put}
            error={refusal("brief", ask.field)}
            disabled={locked}
            width="w-36"
          />
        </Question>
      );
    case "choice":
      return (
        <Question text={ask.text} missing={missing}>
          <OneOf
            label={ask.text}
            value={value as string | null}
            onChange={put}
            disabled={locked}
            columns={ask.field === "surface" ? "grid grid-cols-6 gap-1.5 *:px-2 max-lg:grid-cols-3" : ""}
            options={ask.options.map((o) => ({
              ...o,
              picture: ask.field === "surface" ? <SurfacePicture surface={o.value} /> : undefined,
            }))}
          />
        </Question>
      );
    case "many":
      return (
        <Question text={ask.text}>
          <ManyOf
            label={ask.text}
            value={(value as string[] | null) ?? []}
            options={ask.options}
            onChange={put}
            disabled={locked}
          />
        </Question>
      );
    case "yes":
      return (
        <label className="flex min-h-11 items-center gap-2 self-end font-semibold">
          <input
            type="checkbox"
            className="size-5"
            checked={!!value}
            disabled={locked}
            onChange={(e) => put(e.target.checked)}
          />
          {ask.text}
        </label>
      );
    default:
      return (
        <Question text={ask.text}>
          <TextField
            label={ask.kind === "date" ? "Day" : "In words"}
            type={ask.kind === "date" ? "date" : "text"}
            value={(value as string | null) ?? ""}
            onChange={(v) => put(v || null)}
            error={refusal("brief", ask.field)}
            disabled={locked}
          />
        </Question>
      );
  }
}

function BriefMargin({ sport }: { sport: Schemas["SportOut"] | undefined }) {
  const { bodies, set, locked } = useDesk();
  if (!sport) return <p className="text-faint">Pick a sport; the questions follow.</p>;
  return (
    <>
      <Heading>Where practitioners differ</Heading>
      <p className="mb-3 text-faint text-sm">
        The house's side stands first. Another can be taken for this athlete.
      </p>
      {sport.schools.map((school) => (
        <div key={school.slug} className="mb-4">
          <p className="mb-1">{school.text}</p>
          <OneOf
            label={school.text}
            value={bodies.brief.schools?.[school.slug] ?? school.options[0]?.value}
            options={school.options}
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
