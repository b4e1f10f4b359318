/** What would be left if this machine died: its archive, how far back it goes, and whether that was tried. */
import { useQuery } from "@tanstack/react-query";
import { ask, http, type Schemas } from "../../api/client";
import { moment } from "../../ui/clock";
import { Heading, Loading, Note } from "../../ui/words";

const GB = 1e9;
const size = (bytes: number): string =>
  bytes >= GB ? `${(bytes / GB).toFixed(1)} GB` : `${Math.max(1, Math.round(bytes / 1e6))} MB`;

export function Kept() {
  const archive = useQuery({ queryKey: ["archive"], queryFn: () => ask(http.GET("/api/archive")) });
  if (archive.isPending) return <Loading what="the archive" />;
  if (!archive.data) return <Note again>{archive.error.message}</Note>;
  const { to, trouble } = archive.data;
  return (
    <div className="max-w-2xl">
      <Heading>The archive</Heading>
      {!to ? (
        <p className="border-madder border-l-4 pl-3">
          There is none: if this machine's disk dies, what was done since the last backup somebody carried
          away is lost. Whoever runs the machine puts another disk in and says, while Kalon is stopped,{" "}
          <b className="font-mono">./kalon archive /mnt/that-disk/kalon</b>.
        </p>
      ) : (
        <>
          {trouble && (
            <p role="alert" className="mb-2 border-madder border-l-4 pl-3 font-semibold">
              Nothing is written there now. {trouble}
            </p>
          )}
          <Standing of={archive.data} />
          <p className="mt-3">
            To have the shop as it was at a moment, whoever runs the machine stops Kalon and says{" "}
            <b className="font-mono">./kalon restore --at "2026-11-30 14:05"</b>. What was there stays beside
            it; who was erased since stays erased.
          </p>
        </>
      )}
    </div>
  );
}

function Standing({ of }: { of: Schemas["ArchiveOut"] }) {
  const { tried } = of;
  const rows: [string, string, boolean?][] = [
    ["Where", of.bytes == null ? `${of.to}` : `${of.to}, ${size(of.bytes)}`],
    ["Back to", of.since ? `${moment(of.since)}, and any moment since` : "not written yet"],
    [
      "Last written",
      of.newest ? `${moment(of.newest)}; what is done since goes there each minute` : "not yet",
    ],
    [
      "Tried",
      !tried
        ? "not yet; it is each week, by itself"
        : tried.trouble
          ? `${moment(tried.at)}: it can't be had back. ${tried.trouble}`
          : `${moment(tried.at)}: ${tried.records} records as they are here, ${tried.pages} pages whole`,
      !!tried?.trouble,
    ],
  ];
  return (
    <dl>
      {rows.map(([name, said, bad]) => (
        <div key={name} className="flex min-h-11 items-center gap-3 border-line border-b">
          <dt className="w-32 shrink-0 font-semibold">{name}</dt>
          <dd className={bad ? "text-madder" : ""}>{said}</dd>
        </div>
      ))}
    </dl>
  );
}
