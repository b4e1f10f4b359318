import { useEffect, useState } from "react";

/** A value once it has stopped changing for a while: what is read out isn't read out letter by letter. */
export function useSettled<T>(value: T, ms = 700): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
