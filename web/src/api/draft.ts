/** What was typed into a dialog and isn't kept yet: in this tab, for whoever typed it, over a reload and a wrong press. */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";

const FIRST = "kalon.draft.";

function left<T>(key: string): T | null {
  try {
    return JSON.parse(sessionStorage.getItem(key) ?? "null") as T | null;
  } catch {
    return null;
  }
}

/** The draft of that name, or `start`: its value, how it is changed, how it is let go, and whether it was left here. */
export function useDraft<T>(name: string, start: T) {
  const login = useQueryClient().getQueryData<{ login: string }>(["me"])?.login ?? "";
  const key = `${FIRST}${login}.${name}`;
  const [found] = useState(() => left<T>(key));
  const [value, setValue] = useState<T>(found ?? start);
  const newest = useRef(value);
  const change = useCallback(
    (to: (now: T) => T) => {
      newest.current = to(newest.current);
      sessionStorage.setItem(key, JSON.stringify(newest.current));
      setValue(newest.current);
    },
    [key],
  );
  const letGo = useCallback(() => sessionStorage.removeItem(key), [key]);
  return { value, change, letGo, left: found !== null };
}

/** Nothing of a person's work stays behind when they sign out. */
export function forgetDrafts(): void {
  for (const name of Object.keys(sessionStorage)) if (name.startsWith(FIRST)) sessionStorage.removeItem(name);
}
