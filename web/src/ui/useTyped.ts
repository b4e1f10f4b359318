/**
 * A value while it is being typed: one way for every field. What comes from outside takes the place of what was typed;
 * what is no whole value is never given on as half of one, and the complaint of it stays until it is mended.
 */
import { type RefObject, useEffect, useRef, useState } from "react";

/** What a text says, or why it says nothing; `soon` where more typing may still make something of it. */
export type Read<T> = { value: T } | { why: string; soon?: boolean };

interface Drafted<T> {
  value: T;
  show: (value: T) => string;
  read: (text: string) => Read<T>;
  onChange: (value: T) => void;
  /** When it is given on: with every sign, or when the field is left. */
  given?: "typed" | "left";
  /** What stood there and was no value has given way to a value from outside. */
  gaveWay?: (text: string) => void;
}

export interface Typed {
  text: string;
  /** Why what stands there is no value; nothing while it may still become one. */
  why: string;
  /** Why it is none, told or not: whatever hangs on it can't be done so. */
  bad: string;
  /** A hand is in the middle of it. */
  typing: boolean;
  type: (text: string) => void;
  leave: () => void;
}

/** What came of our own change is no change from outside; it comes in the same turn. */
function useOwn(): [RefObject<boolean>, (act: () => void) => void] {
  const own = useRef(false);
  return [
    own,
    (act) => {
      own.current = true;
      act();
      setTimeout(() => {
        own.current = false;
      });
    },
  ];
}

export function useTyped<T>({ value, show, read, onChange, given = "typed", gaveWay }: Drafted<T>): Typed {
  const now = show(value);
  const [text, setText] = useState(now);
  const [why, setWhy] = useState("");
  const [typing, setTyping] = useState(false);
  /** What stood there before this hand began. */
  const before = useRef(value);
  /** Something of it was given on already. */
  const gave = useRef(false);
  const [own, ourselves] = useOwn();
  const says = read(text);
  const same = "value" in says && show(says.value) === now;
  useEffect(() => {
    if (own.current || (typing && same)) return;
    if ((typing || why) && !("value" in says)) gaveWay?.(text);
    setText(now);
    setWhy("");
    setTyping(false);
  }, [now]);

  const give = (next: T) => ourselves(() => onChange(next));
  const type = (next: string) => {
    if (!typing && !why) before.current = value;
    setTyping(true);
    setText(next);
    const said = read(next);
    if ("value" in said) {
      setWhy("");
      if (given === "left") return;
      gave.current = true;
      give(said.value);
    } else {
      setWhy(said.soon ? "" : said.why);
      if (gave.current) give(before.current);
      gave.current = false;
    }
  };
  const leave = () => {
    setTyping(false);
    gave.current = false;
    const said = read(text);
    if (!("value" in said)) return setWhy(said.why);
    setWhy("");
    setText(given === "left" ? show(said.value) : now);
    if (given === "left" && show(said.value) !== now) give(said.value);
  };
  return { text, why, bad: "value" in says ? "" : says.why, typing, type, leave };
}
