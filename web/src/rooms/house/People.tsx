/** Who works here. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { Dialog } from "../../ui/Dialog";
import { TextField } from "../../ui/TextField";
import { Heading, Loading, Note } from "../../ui/words";

const ROLES = [
  { value: "trainee", text: "Trainee", hint: "prepares, doesn't sell" },
  { value: "fitter", text: "Fitter", hint: "settles and sells" },
  { value: "manager", text: "Manager", hint: "also counts stock, adds people" },
];

/** People: who works here, and somebody new. */
export function People() {
  const client = useQueryClient();
  const people = useQuery({ queryKey: ["people"], queryFn: () => ask(http.GET("/api/people")) });
  const [form, setForm] = useState({ login: "", name: "", password: "" });
  const [role, setRole] = useState<"trainee" | "fitter" | "manager">("fitter");
  const [changeId, setChangeId] = useState(() => crypto.randomUUID());
  const [chosen, setChosen] = useState<Schemas["PersonOut"] | null>(null);
  const add = useMutation({
    mutationFn: () => ask(http.POST("/api/people", { body: { ...form, role, change_id: changeId } })),
    onSuccess: (list) => {
      setChangeId(crypto.randomUUID());
      client.setQueryData(["people"], list);
      setForm({ login: "", name: "", password: "" });
    },
  });
  if (people.isPending) return <Loading what="the house" />;
  if (people.error && !people.data)
    return <Note title="The house can't be shown">{people.error.message}</Note>;
  return (
    <>
      <Heading>People</Heading>
      <ul className="max-w-xl">
        {people.data.map((p) => (
          <li
            key={p.id}
            className="grid min-h-11 grid-cols-[1fr_8rem_8rem_6rem] items-center border-line border-b"
          >
            <b className={p.active ? "" : "text-faint line-through"}>{p.name}</b>
            <span className="font-mono">{p.login}</span>
            <span>{p.active ? p.role : "shut out"}</span>
            <Button kind="quiet" aria-label={`Change ${p.name}`} onClick={() => setChosen(p)}>
              Change
            </Button>
          </li>
        ))}
      </ul>
      {chosen && <Change key={chosen.id} person={chosen} onClose={() => setChosen(null)} />}
      <Heading>Somebody new</Heading>
      <form
        className="max-w-xl space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          add.mutate();
        }}
      >
        <OneOf label="Role" value={role} options={ROLES} onChange={(v) => setRole(v as typeof role)} />
        <TextField label="Name" value={form.name} onChange={(name) => setForm({ ...form, name })} />
        <TextField
          label="Sign-in name"
          value={form.login}
          onChange={(login) => setForm({ ...form, login })}
        />
        <TextField
          label="First password, at least 10 characters"
          type="password"
          autoComplete="new-password"
          value={form.password}
          onChange={(password) => setForm({ ...form, password })}
          error={add.error?.message}
        />
        <Button
          kind="strong"
          type="submit"
          disabled={!form.login || !form.name || form.password.length < 10 || add.isPending}
        >
          Add
        </Button>
      </form>
    </>
  );
}

/** What somebody may do, a new password, or out: it ends all their sessions at once. */
function Change({ person, onClose }: { person: Schemas["PersonOut"]; onClose: () => void }) {
  const client = useQueryClient();
  const [password, setPassword] = useState("");
  const [changeId, setChangeId] = useState(() => crypto.randomUUID());
  const change = useMutation({
    mutationFn: (body: Omit<Schemas["PersonChange"], "change_id">) =>
      ask(
        http.PATCH("/api/people/{staff_id}", {
          params: { path: { staff_id: person.id } },
          body: { ...body, change_id: changeId },
        }),
      ),
    onSuccess: (list) => {
      client.setQueryData(["people"], list);
      onClose();
    },
    onError: () => setChangeId(crypto.randomUUID()),
  });
  return (
    <Dialog open onClose={onClose} title={person.name}>
      <p className="mb-3">Whatever you change here ends all sessions of {person.name} at once.</p>
      <div className="space-y-4">
        <div className="flex items-center gap-3">
          <Button
            kind={person.active ? "strong" : "plain"}
            disabled={change.isPending}
            onClick={() => change.mutate({ active: !person.active })}
          >
            {person.active ? "Shut out" : "Let in again"}
          </Button>
          <span className="text-sm">
            {person.active ? "Cannot sign in any more; their work stays." : "May sign in again."}
          </span>
        </div>
        <OneOf
          label="New role"
          value={person.role}
          options={ROLES}
          disabled={change.isPending}
          onChange={(role) => change.mutate({ role: role as "trainee" | "fitter" | "manager" })}
        />
        <form
          className="flex items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            change.mutate({ password });
          }}
        >
          <TextField
            label="New password, at least 10 characters"
            type="password"
            autoComplete="new-password"
            value={password}
            onChange={setPassword}
          />
          <Button type="submit" disabled={password.length < 10 || change.isPending}>
            Set it
          </Button>
        </form>
        {change.error && (
          <p role="alert" className="border-madder border-l-4 pl-2">
            {change.error.message}
          </p>
        )}
        <Button onClick={onClose}>Close</Button>
      </div>
    </Dialog>
  );
}
