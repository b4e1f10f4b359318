/** One's own PIN for the shop's tablets, set by one's password. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, Trouble } from "../api/client";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { TextField } from "../ui/TextField";

export function OwnPin({ onClose }: { onClose: () => void }) {
  const [password, setPassword] = useState("");
  const [pin, setPin] = useState("");
  const change = useMutation({
    mutationFn: (next: string | null) => ask(http.PUT("/api/session/pin", { body: { password, pin: next } })),
  });
  const { error } = change;
  const wrong = error instanceof Trouble && error.problem.fields?.some((f) => f.code === "wrong");
  return (
    <Dialog open onClose={onClose} title="Your PIN">
      {change.isSuccess ? (
        <>
          <p role="status">
            {change.variables
              ? "It is set: on the shop's own tablets it signs you in."
              : "There is none any more."}
          </p>
          <Button className="mt-3" kind="strong" onClick={onClose}>
            Good
          </Button>
        </>
      ) : (
        <form
          className="space-y-3"
          onSubmit={(e) => {
            e.preventDefault();
            if (!change.isPending) change.mutate(pin);
          }}
        >
          <p>
            Four digits that sign you in on the shop's own tablets, and nowhere else. After five wrong ones a
            tablet wants your password. A new password takes the PIN with it.
          </p>
          <TextField
            label="Your password"
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={setPassword}
            error={wrong ? error.message : undefined}
          />
          <TextField
            label="The PIN, four digits"
            type="password"
            value={pin}
            onChange={setPin}
            error={error && !wrong ? error.message : undefined}
          />
          <span className="flex gap-2">
            <Button
              kind="strong"
              type="submit"
              disabled={!password || !/^\d{4}$/.test(pin) || change.isPending}
            >
              Set it
            </Button>
            <Button
              weight="weighty"
              disabled={!password || change.isPending}
              onClick={() => change.mutate(null)}
            >
              I want none
            </Button>
            <Button onClick={onClose}>Leave it</Button>
          </span>
        </form>
      )}
    </Dialog>
  );
}
