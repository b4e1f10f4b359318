import { useEffect, useState } from "react";

/** A text once it has stopped changing for a while; none at first, for what stands there from the beginning isn't read
 * out: so that it isn't read out letter by letter, and is read out at all. */
export function useSettled(value: string, ms = 700): string {
  const [settled, setSettled] = useState("");
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
