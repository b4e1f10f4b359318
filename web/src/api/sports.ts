/** What the interface takes over of each sport from the core, which writes `sports.json`. */
import type { Schemas } from "./client";
import sports from "./sports.json";

export type Sport = keyof typeof sports;

export const SPORTS = Object.keys(sports) as Sport[];

export interface SportFacts {
  /** What an athlete calls such a shoe. */
  called: string;
  /** How it is built where nobody says. */
  build: Schemas["Made"]["build"];
  /** What is drawn where nothing is said, mm and degrees. */
  drawn: { stack: number; drop: number; collar: number; spring: number; sole: number; blade_mm: number };
}

/** What is known of a sport; nothing of one nobody knows. */
export const factsOf = (sport: string): SportFacts | undefined =>
  (sports as unknown as Record<string, SportFacts>)[sport];
