/** What was typed into one part of a fitting and isn't acknowledged yet, as a value: what becomes of it, step by step. */
import type { PartName, Problem } from "./client";

export type Values = Record<string, unknown>;
export interface Refusal {
  value: unknown;
  text: string;
}
export interface Entry {
  fitting: string;
  part: PartName;
  base: number;
  waiting: Values;
  sending: { id: string; set: Values } | null;
  refused: Record<string, Refusal>;
  /** What somebody else changed meanwhile: who, to what. */
  clash: Problem | null;
  /** What was typed where they did, until it is decided. Other fields go on. */
  held: Values;
  /** Why the last try failed, while it is being tried again. */
  trouble: string | null;
}

export const keyOf = (fitting: string, part: PartName) => `${fitting}/${part}`;

export const blank = (fitting: string, part: PartName, base: number): Entry => ({
  fitting,
  part,
  base,
  waiting: {},
  sending: null,
  refused: {},
  clash: null,
  held: {},
  trouble: null,
});

export function without<T>(from: Record<string, T>, paths: string[]): Record<string, T> {
  return Object.fromEntries(Object.entries(from).filter(([path]) => !paths.includes(path)));
}
const only = (from: Values, paths: string[]): Values => without(from, Object.keys(without(from, paths)));
const pathsOf = (clash: Problem | null): string[] => (clash?.clashes ?? []).map((c) => c.path);

/** Whether something of it can be sent. */
export const toSend = (e: Entry): boolean => !!e.sending || Object.keys(e.waiting).length > 0;

export const isEmpty = (e: Entry): boolean => !toSend(e) && !e.clash && !Object.keys(e.refused).length;

/** How much of what somebody typed is in it; which source counts goes with its number. */
export const typedIn = (e: Entry): number =>
  Object.keys({ ...e.held, ...e.waiting, ...e.sending?.set }).filter((path) => !path.startsWith("prefer/"))
    .length;

/** All that is typed and not acknowledged, by path. */
export function typedOf(e: Entry | undefined): Values {
  if (!e) return {};
  const refused = Object.fromEntries(Object.entries(e.refused).map(([path, r]) => [path, r.value]));
  return { ...refused, ...e.held, ...e.sending?.set, ...e.waiting };
}

/** Set fields: what was refused is mended by it, what is to be decided waits for that. */
export function withSet(e: Entry, set: Values): Entry {
  const decided = pathsOf(e.clash);
  return {
    ...e,
    refused: without(e.refused, Object.keys(set)),
    held: { ...e.held, ...only(set, decided) },
    waiting: { ...e.waiting, ...without(set, decided) },
  };
}

/** Somebody else changed the same: those fields are held, the others go on, on top of theirs. */
export function withClash(e: Entry, problem: Problem): Entry {
  const typed = { ...e.sending?.set, ...e.waiting };
  const named = pathsOf(problem);
  const paths = named.length ? named : Object.keys(typed);
  const before = (e.clash?.clashes ?? []).filter((c) => !paths.includes(c.path));
  return {
    ...e,
    base: problem.version ?? e.base,
    sending: null,
    waiting: without(typed, paths),
    held: { ...e.held, ...only(typed, paths) },
    clash: { ...problem, clashes: [...before, ...(problem.clashes ?? [])] },
    trouble: null,
  };
}

/** Values that will never be taken as they are: beside their fields, with the reason, out of the way of others. */
export function withRefusal(e: Entry, problem: Problem): Entry {
  const set = e.sending?.set ?? {};
  const text = (path: string) => {
    const dotted = path.replaceAll("/", ".");
    return problem.fields?.find((f) => f.field === dotted || f.field.startsWith(`${dotted}.`))?.text;
  };
  const named = problem.status === 422 ? Object.keys(set).filter(text) : [];
  const bad = named.length ? named : Object.keys(set);
  const refused = { ...e.refused };
  for (const path of bad) {
    if (!(path in e.waiting)) refused[path] = { value: set[path], text: text(path) ?? problem.title };
  }
  return { ...e, sending: null, refused, trouble: null, waiting: { ...without(set, bad), ...e.waiting } };
}

/** Mine is sent again, on top of theirs; or it is dropped. */
export function decided(e: Entry, mine: boolean): Entry {
  return { ...e, waiting: { ...(mine ? e.held : {}), ...e.waiting }, held: {}, clash: null };
}

/** What was kept by an earlier version, or spoilt: whole again. A clash held all that was being sent, once. */
export function restored(left: Partial<Entry>): Entry {
  const e = { ...blank(left.fitting ?? "", left.part ?? "feet", left.base ?? 0), ...left };
  return e.clash && !left.held ? withClash(e, e.clash) : e;
}

/** Two clashes of one part, to be decided together: none is settled without having been shown. */
function both(own: Problem | null, left: Problem | null): Problem | null {
  if (!own || !left) return own ?? left;
  const older = (left.clashes ?? []).filter((c) => !pathsOf(own).includes(c.path));
  return { ...own, clashes: [...older, ...(own.clashes ?? [])] };
}

/** What two left of one part, the own counting as newer and going first. */
export function merged(own: Entry, left: Entry): Entry {
  const newer = Object.keys(typedOf(own));
  const older = without({ ...left.sending?.set, ...left.waiting }, newer);
  return {
    ...own,
    waiting: { ...older, ...own.waiting },
    held: { ...without(left.held, newer), ...own.held },
    refused: { ...without(left.refused, newer), ...own.refused },
    clash: both(own.clash, left.clash),
  };
}
