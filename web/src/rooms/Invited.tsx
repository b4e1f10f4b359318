/** What an invitation opens, without a session: whoever it is of sets their own password, once. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http } from "../api/client";
import { Button } from "../ui/Button";
import { moment } from "../ui/clock";
import { TextField } from "../ui/TextField";
import { Loading, Note } from "../ui/words";

export default function Invited({ token }: { token: string }) {
  const path = { params: { path: { token } } };
  const invited = useQuery({
    queryKey: ["invited", token],
    queryFn: () => ask(http.GET("/api/invited/{token}", path)),
  });
  const [password, setPassword] = useState("");
  const set = useMutation({
    mutationFn: () => ask(http.POST("/api/invited/{token}", { ...path, body: { password } })),
    // The bench is opened anew: whoever was signed in on this device is no longer who sits before it.
    onSuccess: () => window.location.assign("/"),
  });
  if (invited.isPending) return <Loading what="the invitation" />;
  if (!invited.data)
    return (
      <Note title="This invitation can't be opened" again>
        {invited.error.message}
      </Note>
    );
  const { name, login, shop_name, until } = invited.data;
  return (
    <main className="mx-auto max-w-md p-8">
      <p className="text-faint">{shop_name}</p>
      <h1 className="font-semibold text-3xl tracking-tight">Welcome, {name}</h1>
      <p className="mt-3 mb-4">
        Set your own password; nobody else knows it, your manager neither. You sign in with it as{" "}
        <b className="font-mono">{login}</b>. This invitation holds once, until {moment(until)}.
      </p>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (!set.isPending) set.mutate();
        }}
      >
        <input type="hidden" autoComplete="username" value={login} readOnly />
        <TextField
          label="Password, at least 10 characters"
          type="password"
          autoComplete="new-password"
          value={password}
          onChange={setPassword}
          error={set.error?.message}
        />
        <Button kind="strong" type="submit" disabled={password.length < 10 || set.isPending}>
          Set it
        </Button>
      </form>
    </main>
  );
}
