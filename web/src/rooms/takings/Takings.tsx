/** Takings: what was taken and given back in a day, a month or a year, by rate and person; the end of the day. */
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { type Takings as Found, type JournalLine, useCloseDay, useTakings } from "../../api/takings";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { day, moment } from "../../ui/clock";
import { money } from "../../ui/money";
import { Heading, Loading, Note } from "../../ui/words";
import { RoomPage } from "../RoomPage";
import { LineDialog } from "./LineDialog";
import { Lines } from "./Lines";
import { moved, type Span, spanOf, textOf } from "./period";
import { SumsOf } from "./SumsOf";
import { TakenDrawing } from "./TakenDrawing";
import { TakeOut } from "./TakeOut";

const SPANS = [
  { value: "day", text: "Day" },
  { value: "month", text: "Month" },
  { value: "year", text: "Year" },
];

export default function Takings({ me }: { me: Schemas["Me"] }) {
  const [params, setParams] = useSearchParams();
  const of = params.get("of") ?? "";
  const takings = useTakings(of);
  const [line, setLine] = useState<JournalLine | null>(null);
  const [out, setOut] = useState(false);
  const found = takings.data;
  const go = (to: string) => setParams(to ? { of: to } : {}, { replace: true });
  if (me.role === "trainee")
    return (
      <RoomPage title="Takings">
        <p>The takings are for fitters and managers.</p>
      </RoomPage>
    );
  if (takings.isPending) return <Loading what="the takings" />;
  if (!found)
    return (
      <RoomPage title="Takings">
        <Note title="The takings can't be shown" again>
          {takings.error?.message}
        </Note>
      </RoomPage>
    );
  const span = spanOf(found.period);
  return (
    <RoomPage
      title="Takings"
      side={
        <span className="flex flex-wrap items-end gap-2">
          <OneOf
            label="Of a day, a month or a year"
            value={span}
            options={SPANS}
            onChange={(v) => go(textOf(v as Span, [found.last, found.today].sort()[0] ?? found.today))}
          />
          <Button onClick={() => go(moved(found.period, -1))} aria-label="The one before">
            ←
          </Button>
          <Button
            onClick={() => go(moved(found.period, 1))}
            disabled={found.last >= found.today}
            aria-label="The one after"
          >
            →
          </Button>
          <Button onClick={() => setOut(true)}>Take out</Button>
        </span>
      }
    >
      <div className="grid grid-cols-[minmax(0,1fr)_22rem] items-start gap-8 max-lg:grid-cols-1">
        <div className="min-w-0">
          <Heading>{words(found, span)}</Heading>
          <TakenDrawing found={found} span={span} onGo={go} />
          <Lines found={found} of={of} onOpen={setLine} />
        </div>
        <div>
          {!found.sums.length && <p>Nothing was taken.</p>}
          {found.sums.map((s) => (
            <SumsOf key={s.currency} sums={s} />
          ))}
          {span === "day" && <EndOfDay found={found} />}
        </div>
      </div>
      {line && <LineDialog line={line} me={me} onClose={() => setLine(null)} />}
      {out && <TakeOut period={found.period} me={me} onClose={() => setOut(false)} />}
    </RoomPage>
  );
}

function words(found: Found, span: Span): string {
  if (span === "year") return `The year ${found.period}`;
  if (span === "month")
    return new Date(`${found.first}T00:00:00Z`).toLocaleDateString("en-GB", {
      month: "long",
      year: "numeric",
      timeZone: "UTC",
    });
  return found.first === found.today ? `Today, ${day(found.first)}` : day(found.first);
}

/** Closing the day: what is closed stays, and what comes later stands on the next. */
function EndOfDay({ found }: { found: Found }) {
  const close = useCloseDay();
  if (found.closed_at)
    return (
      <section aria-label="End of the day" className="mt-6 border-ink border-t pt-3" data-closed>
        <p>
          Closed by {found.closed_by}, {moment(found.closed_at)}. What was done after it stands on the next
          day.
        </p>
      </section>
    );
  if (found.first > found.today || !found.open_days.length) return null;
  const earlier = found.open_days.filter((d) => d.day !== found.first);
  const here = found.open_days.find((d) => d.day === found.first);
  const taken = found.sums.map((s) => money(s.total_minor, s.currency)).join(" and ");
  return (
    <section aria-label="End of the day" className="mt-6 border-ink border-t pt-3">
      <Heading>End of the day</Heading>
      <p className="mb-2 text-sm">
        {here
          ? `${here.lines === 1 ? "One line" : `${here.lines} lines`}, ${taken}.`
          : "Nothing was taken here."}{" "}
        {earlier.length > 0 &&
          `${earlier.length === 1 ? `${day(earlier[0]?.day)} is` : `${earlier.length} days since ${day(earlier[0]?.day)} are`} open still and closed with it. `}
        A closed day isn't changed any more: a correction is a line of the next.
      </p>
      {close.error && (
        <p role="alert" className="mb-2 border-madder border-l-4 pl-2">
          {close.error.message}
        </p>
      )}
      <Button
        kind="strong"
        weight="seen"
        means={found.first}
        disabled={close.isPending || !here}
        onClick={() => close.mutate(found.first)}
      >
        Close {found.first === found.today ? "the day" : day(found.first)}
      </Button>
    </section>
  );
}
