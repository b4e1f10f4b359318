/** A page for the athlete by a link: the plan, the sheet, and logging what they wear. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http } from "../../api/client";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Shown } from "../../ui/Shown";
import { SizeCard } from "./SizeCard";

export function AthletePage({ fittingId, name }: { fittingId: string; name: string }) {
  const [open, setOpen] = useState(false);
  const make = useMutation({
    mutationFn: () =>
      ask(
        http.POST("/api/fittings/{fitting_id}/link", {
          params: { path: { fitting_id: fittingId } },
          // A secret can't be had again: after a lost answer the next link ends the one before.
          body: { id: crypto.randomUUID() },
        }),
      ),
  });
  return (
    <>
      <Button onClick={() => setOpen(true)}>A page for {name.split(" ")[0]} …</Button>
      {open && (
        <Dialog open wide onClose={() => setOpen(false)} title={`A page for ${name}`}>
          <p>
            By a link, on their phone: the break-in with its days, the sheet, the calendar, and one tap for
            each wear. It ends by itself after half a year; a new one ends the one before.
          </p>
          {make.data ? (
            <div className="mt-3">
              <Shown label="The link" path={`/away/${make.data.token}`}>
                Send this to {name} alone, or let their phone read it. It is shown only now.
              </Shown>
              <SizeCard fittingId={fittingId} path={`/away/${make.data.token}`} />
            </div>
          ) : (
            <Button
              kind="strong"
              weight="weighty"
              className="mt-3"
              disabled={make.isPending || make.isSuccess}
              onClick={() => make.mutate()}
            >
              Make the link
            </Button>
          )}
          {make.error && <p role="alert">{make.error.message}</p>}
        </Dialog>
      )}
    </>
  );
}
