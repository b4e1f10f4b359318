/** Bringing files and practice devices to a fitting, with progress; correcting and removing what was captured. */
import { replaceEqualDeep, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { ask, http, type Schemas, type Side } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useStoreFitting } from "../../api/fitting";
import { send } from "../../api/send";
import { type Share, upload } from "../../api/uploads";
import { clock } from "./layout";

export type Capture = Schemas["CaptureOut"];
export type Shape = Schemas["ShapeOut"];
type Said = Partial<Schemas["Said"]>;

export function useCaptures() {
  const { fitting, bodies, set } = useDesk();
  const store = useStoreFitting();
  const [removed, setRemoved] = useState<Capture | null>(null);
  /** A file sent again later finds the desk as it is then. */
  const desk = useRef({ timed: false, set });
  desk.current = { timed: !!bodies.feet.time_of_day, set };

  const measure = useCallback(
    (id: string, name: string, run: (said: object, tell: Share) => Promise<Schemas["CaptureDone"]>) =>
      upload({
        id,
        of: fitting.id,
        place: `/fittings/${fitting.id}/feet`,
        name,
        run: async (said, tell) => {
          store((await run(said, tell)).fitting);
          if (!desk.current.timed) desk.current.set("feet", { time_of_day: clock() });
        },
      }),
    [fitting.id, store],
  );

  const bring = useCallback(
    (files: File[]) => {
      for (const file of files) {
        const id = crypto.randomUUID();
        measure(id, file.name, (said, tell) => {
          const query = new URLSearchParams({ id, name: file.name, said: JSON.stringify(said) });
          return send(`/api/fittings/${fitting.id}/captures?${query}`, file, "measured", tell);
        });
      }
    },
    [fitting.id, measure],
  );

  const practise = useCallback(
    (device: Schemas["PracticeIn"]["device"], side: Side, seed: number) => {
      const id = crypto.randomUUID();
      measure(id, `practice ${device}, ${side} foot`, () =>
        ask(
          http.POST("/api/fittings/{fitting_id}/practice", {
            params: { path: { fitting_id: fitting.id } },
            body: { id, device, side, seed },
          }),
        ),
      );
    },
    [fitting.id, measure],
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

  return { bring, practise, correct, remove, removed, putBack };
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
