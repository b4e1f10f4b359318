/** What was changed of an athlete's record, by whom, in words with values: all of it, and searched. */
import { useEffect, useState } from "react";
import { useChanges } from "../../api/years";
import { trailLine } from "../../shell/said";
import { Button } from "../../ui/Button";
import { moment } from "../../ui/clock";
import { TextField } from "../../ui/TextField";
import { Loading } from "../../ui/words";

/** Every word of a question stands in what is told, in any order. */
const holds = (told: string, asked: string): boolean => {
  const low = told.toLowerCase();
  return asked
    .toLowerCase()
    .split(/\s+/)
    .every((word) => low.includes(word));
};

export function Changes({ athlete }: { athlete: string }) {
  const [asked, setAsked] = useState("");
  const found = useChanges(athlete);
  const { hasNextPage, isFetching, isError, fetchNextPage } = found;
  const searching = asked.trim() !== "";
  /** What is looked for may stand anywhere: the rest is read while it is. */
  const wantsRest = searching && hasNextPage;
  useEffect(() => {
    if (wantsRest && !isFetching && !isError) void fetchNextPage();
  }, [wantsRest, isFetching, isError, fetchNextPage]);
  if (found.isPending) return <Loading what="what was changed" />;
  if (!found.data) return <p role="alert">{found.error?.message}</p>;
  const names = Object.assign({}, ...found.data.pages.map((p) => p.pairs)) as Record<string, string>;
  const lines = found.data.pages
    .flatMap((p) => p.changes)
    .map((c) => ({ ...c, when: moment(c.at), where: c.part.replace("_", " "), told: trailLine(c, names) }));
  const shown = searching
    ? lines.filter((l) => holds(`${l.when} ${l.by} ${l.where} ${l.told}`, asked.trim()))
    : lines;
  return (
    <section aria-label="What was changed">
      <div className="mb-2 flex flex-wrap items-end gap-3">
        <span className="w-80 max-w-full">
          <TextField label="Find in it" value={asked} onChange={setAsked} />
        </span>
        <p className="min-h-11 content-center text-faint" role="status">
          {searching
            ? `${shown.length} of ${lines.length}${wantsRest ? ", reading older ones …" : ""}`
            : `${lines.length}${hasNextPage ? " newest" : ""}`}
        </p>
      </div>
      <table className="w-full text-left text-sm">
        <thead className="sr-only">
          <tr>
            <th>When</th>
            <th>By whom</th>
            <th>Where</th>
            <th>What</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((c) => (
            <tr key={c.id} className="border-line border-b">
              <td className="whitespace-nowrap py-1 pr-3 font-mono">{c.when}</td>
              <td className="whitespace-nowrap pr-3">{c.by}</td>
              <td className="whitespace-nowrap pr-3">{c.where}</td>
              <td dir="auto">{c.told}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {searching && !shown.length && !wantsRest && <p>Nothing of what was changed says that.</p>}
      {found.error && <p role="alert">{found.error.message}</p>}
      {hasNextPage && !wantsRest && (
        <Button className="mt-2" disabled={isFetching} onClick={() => void fetchNextPage()}>
          Older ones
        </Button>
      )}
    </section>
  );
}
