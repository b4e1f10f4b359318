/** One's own password, changed by the one there is. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, Trouble } from "../api/client";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { TextField } from "../ui/TextField";

export function OwnPassword({ onClose }: { onClose: () => void }) {
  const [now, setNow] = useState("");
  const [next, setNext] = useState("");
  const change = useMutation({
    mutationFn: () => ask(http.PUT("/api/session/password", { body: { password: now, new_password: next } })),
  });
  const { error } = change;
  const wrong = error instanceof Trouble && error.problem.fields?.some((f) => f.code === "wrong");
  return (
    <Dialog open onClose={onClose} title="Your password">
      {change.isSuccess ? (
        <>
          <p role="status">It is changed. Wherever else you were signed in, you are no longer.</p>
          <Button className="mt-3" kind="strong" onClick={onClose}>
            Good
          </Button>
        </>
      ) : (
        <form
          className="space-y-3"
          onSubmit={(e) => {
            e.preventDefault();
            if (!change.isPending) change.mutate();
          }}
        >
          <TextField
            label="The one you have"
            type="password"
            autoComplete="current-password"
            value={now}
            onChange={setNow}
            error={wrong ? error.message : undefined}
          />
          <TextField
            label="The new one, at least 10 characters"
            type="password"
            autoComplete="new-password"
            value={next}
            onChange={setNext}
            error={error && !wrong ? error.message : undefined}
          />
          <span className="flex gap-2">
            <Button kind="strong" type="submit" disabled={!now || next.length < 10 || change.isPending}>
              Change it
            </Button>
            <Button onClick={onClose}>Leave it</Button>
          </span>
        </form>
      )}
    </Dialog>
  );
}
