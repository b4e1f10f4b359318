/** Back to the bench, by touch: whoever is signed in shows by PIN or password that it is they. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, type Schemas, Trouble } from "../api/client";
import { isWhole, PinPad } from "../rooms/PinPad";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { TextField } from "../ui/TextField";
import { turnBack } from "./turned";

type Me = Schemas["Me"];

export function GoBack({ me, onClose }: { me: Me; onClose: () => void }) {
  const [byPin, setByPin] = useState(!!me.tablet);
  return (
    <Dialog open onClose={onClose} title="Back to the bench">
      {byPin ? (
        <ByPin me={me} onIn={turnBack} onPassword={() => setByPin(false)} />
      ) : (
        <ByPassword me={me} onIn={turnBack} />
      )}
    </Dialog>
  );
}

function ByPin({ me, onIn, onPassword }: { me: Me; onIn: () => void; onPassword: () => void }) {
  const [pin, setPin] = useState("");
  const enter = useMutation<unknown, Trouble, string>({
    mutationFn: (digits) => ask(http.POST("/api/session/proof", { body: { pin: digits } })),
    onSuccess: onIn,
    onError: () => setPin(""),
  });
  const over = enter.error instanceof Trouble && enter.error.problem.code === "pin-over";
  return (
    <>
      {!over && (
        <PinPad
          label={`PIN of ${me.name}`}
          value={pin}
          busy={enter.isPending}
          onChange={(digits) => {
            setPin(digits);
            if (isWhole(digits)) enter.mutate(digits);
          }}
        />
      )}
      {enter.error && <p role="alert">{enter.error.message}</p>}
      <Button kind={over ? "strong" : "quiet"} className="mt-3" onClick={onPassword}>
        By password
      </Button>
    </>
  );
}

function ByPassword({ me, onIn }: { me: Me; onIn: () => void }) {
  const [password, setPassword] = useState("");
  const enter = useMutation<unknown, Trouble>({
    mutationFn: () => ask(http.POST("/api/session/proof", { body: { password } })),
    onSuccess: onIn,
  });
  return (
    <form
      className="w-80 max-w-full space-y-3"
      onSubmit={(e) => {
        e.preventDefault();
        enter.mutate();
      }}
    >
      <TextField
        label={`Password of ${me.name}`}
        type="password"
        value={password}
        onChange={setPassword}
        autoComplete="current-password"
        error={enter.error?.message}
      />
      <Button kind="strong" type="submit" disabled={!password || enter.isPending}>
        Back
      </Button>
    </form>
  );
}
