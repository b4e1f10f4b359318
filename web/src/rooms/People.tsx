/** Who works here. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http } from "../api/client";
import { Button, Heading, Loading, Note, OneOf, TextField } from "../ui/parts";

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
  const add = useMutation({
    mutationFn: () => ask(http.POST("/api/people", { body: { ...form, role } })),
    onSuccess: (list) => {
      client.setQueryData(["people"], list);
      setForm({ login: "", name: "", password: "" });
    },
  });
  if (people.isPending) return <Loading what="the house" />;
  if (people.error) return <Note title="The house can't be shown">{people.error.message}</Note>;
  return (
    <>
      <Heading>People</Heading>
      <ul className="max-w-xl">
        {people.data.map((p) => (
          <li
            key={p.id}
            className="grid min-h-11 grid-cols-[1fr_8rem_6rem] items-center border-line border-b"
          >
            <b>{p.name}</b>
            <span className="font-mono">{p.login}</span>
            <span>{p.role}</span>
          </li>
        ))}
      </ul>
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
