/** A number while it is being typed: its text, whether it is a number at all, and what an input needs for it. */
import { type ChangeEvent, type FocusEvent, type KeyboardEvent, useEffect, useState } from "react";

interface Typed {
  value: number | null | undefined;
  decimals: number;
  step: number;
  onChange: (value: number | null) => void;
}

const shown = (value: number | null | undefined, decimals: number) =>
  value === null || value === undefined ? "" : String(Number(value.toFixed(decimals)));
const plain = (text: string) => text.trim().replace(",", ".");

/** Arrows step the number, with Shift by half a step. A value from outside shows while nothing has been typed, also in the
 * field that has the focus. */
export function useTyped({ value, decimals, step, onChange }: Typed) {
  const [text, setText] = useState(() => shown(value, decimals));
  const [typing, setTyping] = useState(false);
  const [broken, setBroken] = useState(false);
  useEffect(() => {
    if (!typing) setText(shown(value, decimals));
  }, [value, typing, decimals]);
  const type = (next: string) => {
    setTyping(true);
    setText(next);
    const parsed = plain(next) === "" ? null : Number(plain(next));
    const bad = parsed !== null && !Number.isFinite(parsed);
    setBroken(bad);
    if (!bad) onChange(parsed);
  };
  return {
    broken,
    input: {
      inputMode: "decimal" as const,
      autoComplete: "off",
      value: text,
      onFocus: (e: FocusEvent<HTMLInputElement>) => e.target.select(),
      onBlur: () => {
        setTyping(false);
        setBroken(false);
      },
      onChange: (e: ChangeEvent<HTMLInputElement>) => type(e.target.value),
      onKeyDown: (e: KeyboardEvent<HTMLInputElement>) => {
        const way = e.key === "ArrowUp" ? 1 : e.key === "ArrowDown" ? -1 : 0;
        if (!way) return;
        e.preventDefault();
        type(shown((Number(plain(text)) || 0) + way * step * (e.shiftKey ? 0.5 : 1), decimals));
      },
    },
  };
}
