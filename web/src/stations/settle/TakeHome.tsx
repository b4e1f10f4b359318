/** What goes home after the sale: the sheet, the calendar, the follow-up. */
import { useMutation } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { ask, http } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useStoreFitting } from "../../api/fitting";
import { remember } from "../../api/history";
import { Button } from "../../ui/Button";
import { day } from "../../ui/clock";
import { DateField } from "../../ui/DateField";
import { AthletePage } from "./AthletePage";

/** The sheet, the calendar and the follow-up. */
export function TakeHome({ fittingId }: { fittingId: string }) {
  const { fitting } = useDesk();
  const store = useStoreFitting();
  const [due, setDue] = useState(fitting.follow_up?.due_on ?? "");
  const proposed = fitting.follow_up_proposed ?? "";
  const booked = fitting.follow_up?.due_on;
  useEffect(() => {
    if (booked) setDue(booked);
  }, [booked]);
  const book = useMutation({
    mutationFn: () =>
      ask(
        http.PUT("/api/fittings/{fitting_id}/follow-up", {
          params: { path: { fitting_id: fittingId } },
          body: { due_on: due || proposed },
        }),
      ),
    onSuccess: (whole) => {
      store(whole);
      const was = booked;
      const now = whole.follow_up?.due_on;
      if (!now || was === now) return;
      const path = { params: { path: { fitting_id: fittingId } } };
      const to = (due_on: string) =>
        ask(http.PUT("/api/fittings/{fitting_id}/follow-up", { ...path, body: { due_on } })).then(store);
      remember({
        where: fittingId,
        says: `Follow-up booked for ${day(now)}`,
        back: () =>
          was ? to(was) : ask(http.DELETE("/api/fittings/{fitting_id}/follow-up", path)).then(store),
        again: () => to(now),
      });
    },
  });
  const link =
    "inline-flex min-h-11 items-center border border-ink/60 bg-sheet px-3.5 font-medium hover:bg-paper";
  return (
    <div className="mt-4 flex flex-wrap items-end gap-x-6 gap-y-3 border-line border-t pt-3">
      <span className="flex flex-wrap gap-2">
        <a
          className={link}
          href={`/api/fittings/${fittingId}/fit-sheet.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          Fit sheet, A4
        </a>
        <a
          className={link}
          href={`/api/fittings/${fittingId}/fit-sheet.pdf?paper=letter`}
          target="_blank"
          rel="noreferrer"
        >
          Letter
        </a>
        <a className={link} href={`/api/fittings/${fittingId}/fit-sheet.json`} download="fit-sheet.json">
          JSON
        </a>
        <a className={link} href={`/api/fittings/${fittingId}/break-in.ics`}>
          Break-in (calendar)
        </a>
        <a
          className={link}
          href={`/api/fittings/${fittingId}/size-card.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          Size card
        </a>
        <a
          className={link}
          href={`/api/fittings/${fittingId}/size-card.pdf?paper=roll`}
          target="_blank"
          rel="noreferrer"
        >
          As a label
        </a>
        <AthletePage fittingId={fittingId} name={fitting.athlete.name} />
      </span>
      <span className="flex items-end gap-2">
        <DateField
          className="w-40"
          label="See again on"
          value={due || proposed}
          onCommit={(v) => setDue(v ?? "")}
          error={book.error?.message}
        />
        <Button
          weight="weighty"
          kind={booked ? "plain" : "strong"}
          data-book
          disabled={book.isPending || fitting.state === "returned"}
          onClick={() => book.mutate()}
        >
          {booked ? "Move it" : "Book the follow-up"}
        </Button>
        {booked && <span className="pb-2.5">Booked for {day(booked)}.</span>}
      </span>
    </div>
  );
}
