/** A number while it is being typed, and what an input needs for it. Arrows step it, with Shift by half a step; from an
 * empty field they begin at the usual value. */
import { type ChangeEvent, type FocusEvent, type KeyboardEvent, useEffect, useRef } from "react";
import { noteUnread } from "./unread";
import { type Read, useTyped } from "./useTyped";

export interface Numbered {
  /** What it is called, where what was typed can't be taken. */
  name: string;
  value: number | null | undefined;
  onChange: (value: number | null) => void;
  decimals: number;
  step: number;
  unit?: string;
  min?: number;
  max?: number;
  /** Where the arrows begin while nothing stands there. */
  usual?: number | null | undefined;
}

const shown = (value: number | null | undefined, decimals: number): string =>
  value === null || value === undefined ? "" : String(Number(value.toFixed(decimals)));
const plain = (text: string) => text.trim().replace(",", ".");
/** Digits with at most one point: no sign of another kind is half a number. */
const NUMBER = /^[-+]?(\d+\.?\d*|\.\d+)$/;
/** What begins a number. */
const BEGINS = /^[-+]?\.?$/;

/** What a text says as a number within its limits. */
export function readNumber(
  text: string,
  { unit, min, max }: Pick<Numbered, "unit" | "min" | "max">,
): Read<number | null> {
  const said = plain(text);
  const of = unit ? ` ${unit}` : "";
  if (said === "") return { value: null };
  if (!NUMBER.test(said))
    return { why: `Must be a number${unit ? ` in ${unit}` : ""}.`, soon: BEGINS.test(said) };
  const value = Number(said);
  if (max !== undefined && value > max) return { why: `At most ${max}${of}.` };
  if (min !== undefined && value < min) return { why: `At least ${min}${of}.`, soon: true };
  return { value };
}

export function useNumber(of: Numbered) {
  const { decimals, step, usual, min = -Infinity, max = Infinity } = of;
  const typed = useTyped<number | null>({
    value: of.value ?? null,
    show: (value) => shown(value, decimals),
    read: (text) => readNumber(text, of),
    onChange: of.onChange,
    gaveWay: (text) => noteUnread({ name: of.name, text }),
  });
  const ref = useRef<HTMLInputElement>(null);
  // No form is sent with it, and nothing weighty done beside it.
  useEffect(() => ref.current?.setCustomValidity(typed.bad), [typed.bad]);
  const left = useRef({ name: of.name, text: "", bad: "" });
  left.current = { name: of.name, text: typed.text, bad: typed.bad };
  // The field goes with its station: what stood there and was no number is told.
  useEffect(
    () => () => {
      const { name, text, bad } = left.current;
      if (bad) noteUnread({ name, text });
    },
    [],
  );
  const walk = (by: number) => {
    const from = plain(typed.text);
    if (from !== "" && !NUMBER.test(from)) return; // what is no number stays, with its complaint
    const next = from === "" && usual != null ? usual : (Number(from) || 0) + by;
    typed.type(shown(Math.min(Math.max(next, min), max), decimals));
  };
  return {
    why: typed.why,
    typing: typed.typing,
    input: {
      ref,
      inputMode: "decimal" as const,
      autoComplete: "off",
      value: typed.text,
      onFocus: (e: FocusEvent<HTMLInputElement>) => e.target.select(),
      onBlur: typed.leave,
      onChange: (e: ChangeEvent<HTMLInputElement>) => typed.type(e.target.value),
      onKeyDown: (e: KeyboardEvent<HTMLInputElement>) => {
        const way = e.key === "ArrowUp" ? 1 : e.key === "ArrowDown" ? -1 : 0;
        if (!way) return;
        e.preventDefault();
        walk(way * step * (e.shiftKey ? 0.5 : 1));
      },
    },
  };
}
