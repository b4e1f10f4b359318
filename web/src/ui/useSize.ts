import { useLayoutEffect, useRef, useState } from "react";

/** The size of an element, kept up to date. */
export function useSize() {
  const ref = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState<{ width: number; height: number } | null>(null);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return;
    const now = () => setSize({ width: element.clientWidth, height: element.clientHeight });
    const watch = new ResizeObserver(now);
    watch.observe(element);
    now();
    return () => watch.disconnect();
  }, []);
  return [ref, size] as const;
}
