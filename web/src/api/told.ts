/**
 * What the server acknowledged and the browser's slower store (written at most once a second) may not have yet. Kept
 * beside it until it has, so that a page opened again shows nothing older than what was already seen to be saved.
 */
import type { PartName } from "./client";

export interface Acknowledged {
  version: number;
  body: Record<string, unknown>;
  said: string[];
}
interface Known {
  id: string;
  parts: Record<PartName, { version: number }>;
}

const FIRST = "kalon.told.";
const nameOf = (fitting: string, part: PartName) => `${FIRST}${fitting}.${part}`;
const names = (of = ""): string[] => Object.keys(localStorage).filter((n) => n.startsWith(`${FIRST}${of}`));

function read(name: string): Acknowledged | null {
  try {
    return JSON.parse(localStorage.getItem(name) ?? "null") as Acknowledged | null;
  } catch {
    return null; // spoilt: the server knows it
  }
}

/** A part as it was acknowledged, unless a newer one was told already (by another tab). */
export function noteTold(fitting: string, part: PartName, now: Acknowledged): void {
  const name = nameOf(fitting, part);
  if ((read(name)?.version ?? 0) > now.version) return;
  try {
    localStorage.setItem(name, JSON.stringify(now));
  } catch {
    localStorage.removeItem(name); // full: the slower store has it in a second
  }
}

/** What is kept of a fitting, with what was acknowledged after it was written. */
export function withTold<T extends Known>(kept: T): T {
  const parts: Known["parts"] = { ...kept.parts };
  for (const part of Object.keys(parts) as PartName[]) {
    const told = read(nameOf(kept.id, part));
    if (told && told.version > parts[part].version) Object.assign(parts, { [part]: told });
  }
  return { ...kept, parts };
}

/** The slower store has a fitting as it is here: no need to keep what is in it a second time. */
export function hasTold(kept: Known): void {
  for (const part of Object.keys(kept.parts) as PartName[]) {
    const name = nameOf(kept.id, part);
    const told = read(name);
    if (told && told.version <= kept.parts[part].version) localStorage.removeItem(name);
  }
}

/** Nothing of it stays: of a fitting, or of all. */
export function dropTold(fitting = ""): void {
  for (const name of names(fitting)) localStorage.removeItem(name);
}
