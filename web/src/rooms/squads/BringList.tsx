/** A list of names brought into a squad. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { send } from "../../api/send";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { day } from "../../ui/clock";
import { Dialog } from "../../ui/Dialog";
import { TextField } from "../../ui/TextField";

interface BringProps {
  squad: string;
  onClose: () => void;
  onDone: (squad: string) => void;
}

type Order = NonNullable<Schemas["PeopleList"]["date_order"]>;
interface ListOf {
  file: File;
  name: string;
  /** How its dates are meant, where somebody said so. */
  order?: Order | undefined;
}
/** A date with slashes, both ways. */
const bothWays = (text: string): { value: Order; text: string }[] => {
  const [a = "", b = "", year = ""] = text.split("/").map((part) => part.padStart(2, "0"));
  return [
    { value: "dmy", text: day(`${year}-${b}-${a}`) },
    { value: "mdy", text: day(`${year}-${a}-${b}`) },
  ];
};

/** A list sent and read; with `write` kept. The list's id makes writing it twice harmless. */
function sendList(of: ListOf, id: string, write: boolean): Promise<Schemas["PeopleList"]> {
  const { file, name, order } = of;
  const query = new URLSearchParams({ name, id, write: String(write), ...(order && { date_order: order }) });
  return send(`/api/squad/list?${query}`, file, write ? "brought in" : "read");
}

export function BringList({ squad, onClose, onDone }: BringProps) {
  const client = useQueryClient();
  const [name, setName] = useState(squad);
  const [file, setFile] = useState<File | null>(null);
  /** Each file is a list of its own; the same one written twice is written once. */
  const [id, setId] = useState(() => crypto.randomUUID());
  const input = useRef<HTMLInputElement>(null);
  const [order, setOrder] = useState<Order>();
  const read = useMutation({
    mutationFn: (of: ListOf) => sendList(of, crypto.randomUUID(), false),
  });
  const write = useMutation({
    mutationFn: () => sendList({ file: file as File, name: name.trim(), order }, id, true),
    onSuccess: () => {
      for (const key of ["squads", "squad", "athletes"]) void client.invalidateQueries({ queryKey: [key] });
      onDone(name.trim());
    },
  });
  const found = read.data;
  const trouble = read.error ?? write.error;
  return (
    <Dialog open onClose={onClose} title="A list of names" wide>
      <div className="grid gap-3">
        <TextField label="Squad" value={name} onChange={setName} disabled={!!squad} />
        <p className="text-faint text-sm">
          CSV, XLSX or JSON: a name in each line; birth dates and notes if there are any. Nothing is written
          before you have seen what becomes of each line.
        </p>
        <input
          ref={input}
          type="file"
          accept=".csv,.xlsx,.json,.txt"
          className="sr-only"
          aria-label="The list"
          onChange={(e) => {
            const [chosen] = e.target.files ?? [];
            if (!chosen) return;
            setFile(chosen);
            setId(crypto.randomUUID());
            setOrder(undefined);
            read.mutate({ file: chosen, name: name.trim() });
            e.target.value = "";
          }}
        />
        <span className="flex gap-2">
          <Button disabled={!name.trim() || read.isPending} onClick={() => input.current?.click()}>
            {file ? "Another file" : "Choose a file"}
          </Button>
          {found && (
            <Button
              kind="strong"
              weight="weighty"
              disabled={write.isPending || found.new + found.here === 0 || !!found.two_ways}
              onClick={() => write.mutate()}
            >
              Bring {found.new + found.here} into the squad
            </Button>
          )}
        </span>
        {read.isPending && <p role="status">Reading …</p>}
        {trouble && (
          <p role="alert" className="border-madder border-l-4 pl-2">
            {trouble.message}
          </p>
        )}
        {found && (
          <>
            {file && found.two_ways && (
              <div className="border-madder border-l-4 pl-2">
                <p>
                  <b>{found.two_ways}</b> can be read two ways, and nothing else in the list shows which. What
                  is meant?
                </p>
                <OneOf
                  label={`What ${found.two_ways} means`}
                  value={undefined}
                  options={bothWays(found.two_ways)}
                  onChange={(meant) => {
                    setOrder(meant as Order);
                    read.mutate({ file, name: name.trim(), order: meant as Order });
                  }}
                />
              </div>
            )}
            <p role="status">
              {found.new} new, {found.here} here already, {found.refused} refused.
            </p>
            <ul className="max-h-72 overflow-auto" tabIndex={0} aria-label="Lines of the list">
              {found.lines.map((l) => (
                <li
                  key={l.row}
                  className={`grid grid-cols-[3rem_1fr_8rem] gap-2 border-line border-t py-1 text-sm ${l.verdict === "refused" ? "border-l-4 border-l-madder pl-2" : ""}`}
                >
                  <span className="font-mono text-faint">{l.row}</span>
                  <span>
                    {l.name} {l.said && <span className="text-faint">{l.said}</span>}
                  </span>
                  <span>{l.born_on ? day(l.born_on) : ""}</span>
                </li>
              ))}
            </ul>
          </>
        )}
      </div>
    </Dialog>
  );
}
