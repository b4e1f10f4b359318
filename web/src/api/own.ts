/** Whose unsent words this page keeps: under names of theirs, and sealed as soon as nobody is signed in. */
import { connection, subscribeConnection } from "./connection";
import { openAll, sealAll } from "./seal";
import { keepText } from "./store";

let owner = "";
/** With what the owner's words are sealed. */
let seal = "";

export const ownerNow = (): string => owner;

/** From now on it is theirs; what was sealed of theirs is opened. */
export function own(login: string, key: string): void {
  if (key && (owner !== login || !connection().signedOut)) openAll(login, key);
  owner = login;
  seal = key;
}

/** The owner is back on the same page. */
export function openOwn(login: string): void {
  if (seal && owner === login) openAll(login, seal);
}

/** Nobody is signed in any more: what is unsent stays, sealed. */
export function sealOwn(login: string, key: string): void {
  if (!key) return;
  if (owner === login) seal = key;
  sealAll(login, key);
}

function sealIfOut(): void {
  if (connection().signedOut && seal) sealAll(owner, seal);
}
subscribeConnection(sealIfOut);

/** Keep a text of the owner's, or nothing of that name; what is written while nobody is signed in is sealed as well. */
export function keepOwn(name: string, text: string | null): void {
  keepText(name, text);
  sealIfOut();
}

/** For tests: as if the page had just been opened. */
export function forgetOwn(): void {
  owner = seal = "";
}
