/** The day in a calendar on another device, by a secret link. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http } from "../../api/client";
import { Button } from "../../ui/Button";
import { day } from "../../ui/clock";
import { Dialog } from "../../ui/Dialog";
import { Shown } from "../../ui/Shown";

export function Calendars() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>Calendar …</Button>
      {open && <CalendarsDialog onClose={() => setOpen(false)} />}
    </>
  );
}

function CalendarsDialog({ onClose }: { onClose: () => void }) {
  const client = useQueryClient();
  const key = ["calendars"];
  const list = useQuery({ queryKey: key, queryFn: () => ask(http.GET("/api/calendars")) });
  const [id, setId] = useState(() => crypto.randomUUID());
  const refresh = () => client.invalidateQueries({ queryKey: key });
  const make = useMutation({
    mutationFn: (whole: boolean) => ask(http.POST("/api/calendars", { body: { id, whole } })),
    onSuccess: refresh,
    onSettled: () => setId(crypto.randomUUID()),
  });
  const end = useMutation({
    mutationFn: (feed_id: string) =>
      ask(http.DELETE("/api/calendars/{feed_id}", { params: { path: { feed_id } } })),
    onSuccess: refresh,
  });
  return (
    <Dialog open onClose={onClose} title="The day in a calendar" wide>
      <p>
        A calendar asks for the days by a secret link: who is due, pairs to look at, events, young feet. It
        shows first names and an initial. Whoever has the link can read it until you end it; it ends by itself
        after a year, and when you leave the shop.
      </p>
      <span className="mt-3 flex gap-2">
        <Button kind="strong" disabled={make.isPending} onClick={() => make.mutate(false)}>
          A link for my matters
        </Button>
        <Button disabled={make.isPending} onClick={() => make.mutate(true)}>
          A link for the whole shop's
        </Button>
      </span>
      {(make.error ?? end.error) && <p role="alert">{(make.error ?? end.error)?.message}</p>}
      {make.data && (
        <div className="mt-3">
          <Shown label="The calendar" path={`/api/calendar/${make.data.token}.ics`}>
            Add this address to a calendar as a subscription. It is shown this once.
          </Shown>
        </div>
      )}
      <ul className="mt-3">
        {list.data?.map((c) => (
          <li key={c.id} className="flex min-h-12 items-center gap-3 border-line border-t">
            <span className="flex-1">
              {c.mine ? "Mine" : `${c.by}'s`}
              {c.whole ? ", of the whole shop" : ""}, since {day(c.made_at)}, until {day(c.until)}
            </span>
            <Button disabled={end.isPending} onClick={() => end.mutate(c.id)}>
              End it
            </Button>
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
