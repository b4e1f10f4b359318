/**
 * What somebody typed and didn't send stays on the device when their session is over, sealed: with a key that the
 * server tells that person alone, and that is forgotten here with the session. XChaCha20-Poly1305, by a library that
 * needs no secure context.
 */
import { xchacha20poly1305 } from "@noble/ciphers/chacha.js";
import { bytesToHex, hexToBytes, randomBytes, utf8ToBytes } from "@noble/ciphers/utils.js";

const FIRST = "kalon.sealed.";
const NONCE = 24;

/** What is whose: the names under which a person's unsent words are kept. */
const isOf = (login: string, name: string): boolean =>
  [`kalon.outbox.${login}`, `kalon.move.${login}`].some((own) => name === own || name.startsWith(`${own}.`));

/** A text sealed with a key of 64 hexadecimal digits. */
export function sealed(key: string, text: string): string {
  const nonce = randomBytes(NONCE);
  return bytesToHex(nonce) + bytesToHex(xchacha20poly1305(hexToBytes(key), nonce).encrypt(utf8ToBytes(text)));
}

/** What was sealed with this key; nothing where it was another one, or where it was altered. */
export function opened(key: string, text: string): string | null {
  try {
    const bytes = hexToBytes(text);
    const plain = xchacha20poly1305(hexToBytes(key), bytes.subarray(0, NONCE)).decrypt(bytes.subarray(NONCE));
    return new TextDecoder().decode(plain);
  } catch {
    return null;
  }
}

/** Seal all that a person left unsent on this device. */
export function sealAll(login: string, key: string): void {
  for (const name of Object.keys(localStorage).filter((n) => isOf(login, n))) {
    const text = localStorage.getItem(name) ?? "";
    localStorage.removeItem(name); // first: where the store is nearly full, both would not fit
    try {
      localStorage.setItem(FIRST + name, sealed(key, text));
    } catch {
      localStorage.setItem(name, text); // no room for it sealed: it stays, rather than be lost
    }
  }
}

/** Whoever it is of is back: it lies where it lay. What can't be opened stays sealed. */
export function openAll(login: string, key: string): void {
  for (const name of Object.keys(localStorage).filter((n) => n.startsWith(FIRST))) {
    const own = name.slice(FIRST.length);
    const text = isOf(login, own) ? opened(key, localStorage.getItem(name) ?? "") : null;
    if (text === null) continue;
    // What was typed since, on a page that was still open, is newer.
    if (localStorage.getItem(own) === null) localStorage.setItem(own, text);
    localStorage.removeItem(name);
  }
}
