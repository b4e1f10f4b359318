/** Who works here. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { moment } from "../../ui/clock";
import { Dialog } from "../../ui/Dialog";
import { Shown } from "../../ui/Shown";
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
  const [form, setForm] = useState({ login: "", name: "" });
  const [role, setRole] = useState<"trainee" | "fitter" | "manager">("fitter");
  const [changeId, setChangeId] = useState(() => crypto.randomUUID());
  const [chosen, setChosen] = useState<Schemas["PersonOut"] | null>(null);
  const invite = useInvite();
  const add = useMutation({
    mutationFn: () => ask(http.POST("/api/people", { body: { ...form, role, change_id: changeId } })),
    onSuccess: (list) => {
      setChangeId(crypto.randomUUID());
      client.setQueryData(["people"], list);
      void client.invalidateQueries({ queryKey: ["today"] });
      const login = form.login.trim().toLowerCase();
      setForm({ login: "", name: "" });
      const added = list.find((p) => p.login === login);
      if (added) invite.mutate(added);
    },
  });
  if (people.isPending) return <Loading what="the house" />;
  if (people.error && !people.data)
    return (
      <Note title="The house can't be shown" again>
        {people.error.message}
      </Note>
    );
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
            <span>{!p.active ? "shut out" : p.invited_until ? `${p.role}, invited` : p.role}</span>
            <Button kind="quiet" aria-label={`Change ${p.name}`} onClick={() => setChosen(p)}>
              Change
            </Button>
          </li>
        ))}
      </ul>
      {chosen && <Change key={chosen.id} person={chosen} invite={invite} onClose={() => setChosen(null)} />}
      <Heading>Somebody new</Heading>
      {invite.data && !chosen && <Invitation {...invite.data} />}
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
        {(add.error ?? invite.error) && (
          <p role="alert" className="border-madder border-l-4 pl-2">
            {(add.error ?? invite.error)?.message}
          </p>
        )}
        <Button kind="strong" type="submit" disabled={!form.login || !form.name || add.isPending}>
          Add and invite
        </Button>
      </form>
    </>
  );
}

type Person = Schemas["PersonOut"];

/** A link by which somebody sets their own password; those made before end. */
function useInvite() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (person: Person) => {
      const made = await ask(
        http.POST("/api/people/{staff_id}/invitation", { params: { path: { staff_id: person.id } } }),
      );
      return { person, path: made.path, until: made.until };
    },
    onSuccess: () => client.invalidateQueries({ queryKey: ["people"] }),
  });
}

const Invitation = ({ person, path, until }: { person: Person; path: string; until: string }) => (
  <div className="mb-3 max-w-xl">
    <Shown label={`Invitation of ${person.name}`} path={path}>
      Give this to {person.name} alone: whoever opens it sets the password. It is shown only now, and holds
      once, until {moment(until)}.
    </Shown>
  </div>
);

/** What somebody may do, a new password, or out: it ends all their sessions at once. */
function Change({
  person,
  invite,
  onClose,
}: {
  person: Person;
  invite: ReturnType<typeof useInvite>;
  onClose: () => void;
}) {
  const client = useQueryClient();
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
      <p className="mb-3">
        Another role, or being shut out or let in, ends all sessions of {person.name} at once.
      </p>
      <div className="space-y-4">
        <div className="flex items-center gap-3">
          <Button
            weight="weighty"
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
        {invite.data?.person.id === person.id ? (
          <Invitation {...invite.data} />
        ) : (
          person.active && (
            <div className="flex items-center gap-3">
              <Button weight="weighty" disabled={invite.isPending} onClick={() => invite.mutate(person)}>
                Invite anew
              </Button>
              <span className="text-sm">
                A link by which they set a new password; the one they have holds until then.
              </span>
            </div>
          )
        )}
        {(change.error ?? invite.error) && (
          <p role="alert" className="border-madder border-l-4 pl-2">
            {(change.error ?? invite.error)?.message}
          </p>
        )}
        <Button onClick={onClose}>Close</Button>
      </div>
    </Dialog>
  );
}
