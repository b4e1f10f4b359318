/** Bringing files and practice devices to a fitting, with progress; correcting and removing what was captured. */
import { replaceEqualDeep, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState, useSyncExternalStore } from "react";
import { ask, http, type Schemas, type Side } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useStoreFitting } from "../../api/fitting";
import { send } from "../../api/send";
import { changeJob, dropJob, follow, type Job, subscribeUploads, uploads } from "../../api/uploads";
import { clock } from "./layout";

export type Capture = Schemas["CaptureOut"];
export type Shape = Schemas["ShapeOut"];
type Said = Partial<Schemas["Said"]>;

const TELL_EVERY_MS = 300;

export function useCaptures() {
  const { fitting, bodies, set } = useDesk();
  const timed = !!bodies.feet.time_of_day;
  const store = useStoreFitting();
  const jobs = useSyncExternalStore(subscribeUploads, uploads).filter((j) => j.fitting === fitting.id);
  const [removed, setRemoved] = useState<Capture | null>(null);

  const work = useCallback(
    (id: string, name: string, run: () => Promise<Schemas["CaptureDone"]>, again: Job["again"]) =>
      follow({ id, fitting: fitting.id, name, again }, async () => {
        const look = setInterval(async () => {
          const at = await ask(
            http.GET("/api/captures/{capture_id}/progress", { params: { path: { capture_id: id } } }),
          ).catch(() => null);
          if (at) changeJob(id, { share: at.share, step: at.step });
        }, TELL_EVERY_MS);
        try {
          const answer = await run();
          store(answer.fitting);
          if (!timed) set("feet", { time_of_day: clock() });
        } finally {
          clearInterval(look);
        }
      }),
    [fitting.id, store, timed, set],
  );

  const bring = useCallback(
    async (files: File[]) => {
      for (const file of files) {
        const id = crypto.randomUUID();
        const go = (said: Said = {}) => {
          const query = new URLSearchParams({ id, name: file.name, said: JSON.stringify(said) });
          const url = `/api/fittings/${fitting.id}/captures?${query}`;
          return work(
            id,
            file.name,
            () =>
              send<Schemas["CaptureDone"]>(url, file, (s) => changeJob(id, { share: s * 0.05 }), "measured"),
            (more?: Said) => void go({ ...said, ...more }),
          );
        };
        await go();
      }
    },
    [fitting.id, work],
  );

  const practise = useCallback(
    async (device: Schemas["PracticeIn"]["device"], side: Side, seed: number) => {
      const id = crypto.randomUUID();
      const run = () =>
        ask(
          http.POST("/api/fittings/{fitting_id}/practice", {
            params: { path: { fitting_id: fitting.id } },
            body: { id, device, side, seed },
          }),
        );
      const go = () => work(id, `practice ${device}, ${side} foot`, run, () => void go());
      await go();
    },
    [fitting.id, work],
  );

  const correct = useCallback(
    async (capture: Capture, said: Said) => {
      store(
        await ask(
          http.PATCH("/api/captures/{capture_id}", {
            params: { path: { capture_id: capture.id } },
            body: { version: capture.version, said: said as Schemas["Said"] },
          }),
        ),
      );
    },
    [store],
  );

  const remove = useCallback(
    async (capture: Capture) => {
      const params = { path: { capture_id: capture.id } };
      store(await ask(http.DELETE("/api/captures/{capture_id}", { params })));
      setRemoved(capture);
    },
    [store],
  );
  const putBack = useCallback(async () => {
    if (!removed) return;
    store(
      await ask(
        http.POST("/api/captures/{capture_id}/back", { params: { path: { capture_id: removed.id } } }),
      ),
    );
    setRemoved(null);
  }, [removed, store]);

  return { jobs, drop: dropJob, bring, practise, correct, remove, removed, putBack };
}
export type Captures = ReturnType<typeof useCaptures>;

/** What is drawn of a capture; asked for once a version. */
export function useShape(capture: Capture | undefined) {
  return useQuery({
    queryKey: ["shape", capture?.id, capture?.version],
    enabled: !!capture,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      ask(
        http.GET("/api/captures/{capture_id}/shape", {
          params: { path: { capture_id: capture?.id ?? "" } },
        }),
      ),
  }).data;
}

/** Growth, swelling and earlier visits, as they follow from what is measured now. */
export function useOverTime() {
  const { fitting } = useDesk();
  const versions = [fitting.parts.feet.version, ...fitting.captures.map((c) => c.version)];
  const kept = useRef<Schemas["FeetOverTime"]>(undefined);
  const { data } = useQuery({
    queryKey: ["of", fitting.id, "feet-over-time", versions.join()],
    queryFn: () =>
      ask(
        http.GET("/api/fittings/{fitting_id}/feet/over-time", {
          params: { path: { fitting_id: fitting.id } },
        }),
      ),
    placeholderData: (old) => old,
  });
  // What an edit leaves as it was stays the same object, so that it isn't drawn again.
  kept.current = replaceEqualDeep(kept.current, data);
  return kept.current;
}

/** Files dropped anywhere on the page while the station is open. */
export function useDrop(onFiles: (files: File[]) => void): boolean {
  const [over, setOver] = useState(false);
  useEffect(() => {
    const hover = (e: DragEvent) => {
      if (!e.dataTransfer?.types.includes("Files")) return;
      e.preventDefault();
      setOver(true);
    };
    const leave = (e: DragEvent) => {
      if (!e.relatedTarget) setOver(false);
    };
    const put = (e: DragEvent) => {
      setOver(false);
      if (!e.dataTransfer?.files.length) return;
      e.preventDefault();
      onFiles([...e.dataTransfer.files]);
    };
    window.addEventListener("dragover", hover);
    window.addEventListener("dragleave", leave);
    window.addEventListener("drop", put);
    return () => {
      window.removeEventListener("dragover", hover);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("drop", put);
    };
  }, [onFiles]);
  return over;
}
