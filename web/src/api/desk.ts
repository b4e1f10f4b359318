/** A fitting as it stands on the desk: what the server knows, with what is typed and still on its way laid over it. */
import { createContext, useCallback, useContext, useMemo, useSyncExternalStore } from "react";
import type { Fitting, PartName, Schemas } from "./client";
import { useConnection } from "./connection";
import { type Entry, toSend, typedOf } from "./entries";
import { withAcknowledged } from "./fitting";
import { rememberFields } from "./history";
import { acknowledgedOf, setFields, snapshot, subscribe } from "./outbox";
import { getPath, withPath } from "./paths";

export const useOutbox = () => useSyncExternalStore(subscribe, snapshot);

export interface Bodies {
  feet: Schemas["Feet"];
  brief: Schemas["BriefDraft"];
  spec: Schemas["SpecPart"];
  trial: Schemas["TrialPart"];
  settle: Schemas["SettlePart"];
  return: Schemas["ReturnPart"];
}

const overlaid = (body: unknown, entry: Entry | undefined): unknown =>
  Object.entries(typedOf(entry)).reduce((now, [path, value]) => withPath(now, path, value), body);

/** The brief's answers that somebody gave; the others hold their usual values. */
function saidOf(given: string[], entry: Entry | undefined): ReadonlySet<string> {
  const said = new Set(given);
  for (const [path, value] of Object.entries(typedOf(entry))) {
    const [top = ""] = path.split("/");
    if (value === null && top === path) said.delete(top);
    else said.add(top);
  }
  return said;
}

export interface FittingDesk {
  fitting: Fitting;
  bodies: Bodies;
  said: ReadonlySet<string>;
  /** Set fields of a part by path; null clears. */
  set: (part: PartName, values: Record<string, unknown>) => void;
  /** Why the value at a path isn't saved: it was refused, or somebody else changed it meanwhile. */
  refusal: (part: PartName, path: string) => string | undefined;
  locked: boolean;
}

export const FittingContext = createContext<FittingDesk | null>(null);

export function useDesk(): FittingDesk {
  const desk = useContext(FittingContext);
  if (!desk) throw new Error("useDesk outside a fitting");
  return desk;
}

/** Whether what is typed has arrived, or can't for now: what is computed from it may be asked for. */
export function useTypedThere(fitting: Fitting): boolean {
  const { offline, signedOut } = useConnection();
  const entries = Object.values(useOutbox().entries).filter((e) => e.fitting === fitting.id);
  const onItsWay = entries.some((e) => !e.trouble && toSend(e));
  // Acknowledged, and not yet in the fitting as it is drawn: what is asked now would be of the version before.
  const behind = (Object.keys(fitting.parts) as PartName[]).some(
    (part) => (acknowledgedOf(fitting.id, part)?.version ?? 0) > fitting.parts[part].version,
  );
  return !(onItsWay || behind) || offline || signedOut;
}

export function useFittingDesk(fitting: Fitting): FittingDesk {
  const { entries } = useOutbox();
  // What was acknowledged leaves the outbox a turn before the fitting comes with it: the desk is never without it.
  const parts = useMemo(() => withAcknowledged(fitting).parts, [fitting, entries]);
  const bodies = useMemo(() => {
    const all = Object.entries(parts) as [PartName, { body: unknown }][];
    return Object.fromEntries(
      all.map(([name, part]) => [name, overlaid(part.body, entries[`${fitting.id}/${name}`])]),
    ) as unknown as Bodies;
  }, [parts, fitting.id, entries]);
  const said = useMemo(
    () => saidOf(parts.brief.said, entries[`${fitting.id}/brief`]),
    [parts, fitting.id, entries],
  );
  const set = useCallback(
    (part: PartName, values: Record<string, unknown>) => {
      const now = (path: string) =>
        part === "brief" && !said.has(path.split("/")[0] ?? "")
          ? null
          : (getPath(bodies[part], path) ?? null);
      const before = Object.fromEntries(Object.keys(values).map((path) => [path, now(path)]));
      rememberFields({ where: fitting.id, part, before, after: values, at: Date.now() });
      setFields(fitting.id, part, fitting.parts[part].version, values);
    },
    [fitting, bodies, said],
  );
  const refusal = useCallback(
    (part: PartName, path: string) => {
      const entry = entries[`${fitting.id}/${part}`];
      const clash = entry?.clash?.clashes?.find((c) => c.path === path);
      return entry?.refused[path]?.text ?? (clash && `${clash.by} changed this meanwhile: choose above.`);
    },
    [entries, fitting.id],
  );
  return { fitting, bodies, said, set, refusal, locked: fitting.state !== "open" };
}
