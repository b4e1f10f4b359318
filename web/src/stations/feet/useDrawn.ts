import type { Side } from "../../api/client";
import { useDesk } from "../../api/desk";
import { type Capture, useShape } from "./useCaptures";

const newest = (captures: Capture[], side: Side, ...kinds: Capture["kind"][]) =>
  captures.filter((c) => c.side === side && kinds.includes(c.kind)).at(-1);

/** The newest capture of each kind of one foot, with its shape. */
export function useDrawn(side: Side) {
  const { captures } = useDesk().fitting;
  const scan = newest(captures, side, "scan");
  const tracing = newest(captures, side, "tracing");
  const mat = newest(captures, side, "mat");
  const record = newest(captures, side, "record");
  return {
    scan: { capture: scan, shape: useShape(scan) },
    tracing: { capture: tracing, shape: useShape(tracing) },
    mat: { capture: mat, shape: useShape(mat) },
    record: { capture: record, shape: useShape(record) },
  };
}
