/** How fitters find, and what of them is set aside. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, type Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { day } from "../ui/clock";
import { DateField } from "../ui/DateField";
import { Heading } from "../ui/words";
import { SetAside } from "./SetAside";

/** This shop's fitters, where their verdicts have something of their own; a manager may set a time of theirs aside. */
export function Fitters({
  known,
  asides,
  manages,
}: {
  known: Schemas["LedgerFitter"][];
  asides: Schemas["FitterAside"][];
  manages: boolean;
}) {
  const client = useQueryClient();
  const [of, setOf] = useState<Schemas["LedgerFitter"] | null>(null);
  const again = useMutation({
    mutationFn: (aside_id: string) =>
      ask(http.DELETE("/api/ledger/fitters/asides/{aside_id}", { params: { path: { aside_id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["ledger"] }),
  });
  if (!known.length && !asides.length) return null;
  return (
    <section aria-label="Fitters" className="mt-6 max-w-5xl">
      <Heading>Fitters: whose verdicts have something of their own</Heading>
      <ul>
        {known.map((f) => (
          <li
            key={f.staff_id}
            data-fitter={f.name}
            className={`grid min-h-11 grid-cols-[1fr_auto] items-center gap-3 border-line border-b py-1 ${f.careless ? "border-l-4 border-l-madder pl-2" : ""}`}
          >
            <span>
              {f.says.length ? (
                f.says.map((s) => (
                  <span key={s} className="block">
                    {s}
                  </span>
                ))
              ) : (
                <>{f.name} judges as the others do.</>
              )}{" "}
              <span className="text-faint text-sm">From {f.verdicts} verdicts.</span>
            </span>
            {manages && (
              <Button kind="quiet" onClick={() => setOf(f)} aria-label={`Set aside what ${f.name} found`}>
                Set aside …
              </Button>
            )}
          </li>
        ))}
        {asides.map((a) => (
          <li
            key={a.id}
            data-aside={a.fitter}
            className="grid min-h-11 grid-cols-[1fr_auto] items-center gap-3 border-line border-b py-1 text-faint"
          >
            <span>
              {a.fitter}, {spanned(a)}: set aside by {a.by}: {a.reason}
            </span>
            {manages && (
              <Button kind="quiet" onClick={() => again.mutate(a.id)} disabled={again.isPending}>
                Count it again
              </Button>
            )}
          </li>
        ))}
      </ul>
      {again.error && <p role="alert">{again.error.message}</p>}
      {of && <FitterAside of={of} onClose={() => setOf(null)} />}
    </section>
  );
}

function spanned(of: { from_day: string | null; to_day: string | null }): string {
  const from = of.from_day ? `from ${day(of.from_day)}` : "from the first";
  return `${from} ${of.to_day ? `to ${day(of.to_day)}` : "to the last"}`;
}

function FitterAside({ of, onClose }: { of: Schemas["LedgerFitter"]; onClose: () => void }) {
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  return (
    <SetAside
      title={`Set aside what ${of.name} found`}
      onClose={onClose}
      put={(said) =>
        ask(
          http.PUT("/api/ledger/fitters/{staff_id}/aside", {
            params: { path: { staff_id: of.staff_id } },
            body: { ...said, from_day: from || null, to_day: to || null },
          }),
        )
      }
    >
      <div className="grid grid-cols-2 gap-3">
        <DateField label="From (empty: the first)" value={from} onCommit={(day) => setFrom(day ?? "")} />
        <DateField label="To (empty: the last)" value={to} onCommit={(day) => setTo(day ?? "")} />
      </div>
    </SetAside>
  );
}
