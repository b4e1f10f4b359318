/** Pictures of one shoe: sent with progress, corrected, kept, taken out; sent again under the same id after a lost answer. */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { ask, http, type Problem, type Schemas, Trouble } from "../../api/client";
import { send } from "../../api/send";

export type Picture = Schemas["PictureOut"];
export type Way = Picture["way"];
export type ShoeSaid = Partial<Schemas["ShoeSaid"]>;

export interface Sending {
  id: string;
  name: string;
  share: number;
  step: string;
  trouble: Problem | null;
  again: () => void;
}

const TELL_EVERY_MS = 300;

/** `to` is where pictures of this shoe go: a size in stock, or a pair somebody owns. */
export function usePictures(to: string, done: (picture: Picture) => void) {
  const client = useQueryClient();
  const [sending, setSending] = useState<Sending[]>([]);
  const change = useCallback(
    (id: string, part: Partial<Sending>) =>
      setSending((all) => all.map((s) => (s.id === id ? { ...s, ...part } : s))),
    [],
  );
  const drop = useCallback((id: string) => setSending((all) => all.filter((s) => s.id !== id)), []);
  const told = useCallback(
    (picture: Picture) => {
      void client.invalidateQueries({ queryKey: ["shoe-bench"] });
      void client.invalidateQueries({ queryKey: ["pair-pictures"] });
      done(picture);
    },
    [client, done],
  );
  const follow = useCallback(
    async (id: string, name: string, run: () => Promise<Picture>, again: () => void) => {
      setSending((all) => [
        ...all.filter((s) => s.id !== id),
        { id, name, share: 0.02, step: "sending", trouble: null, again },
      ]);
      const look = setInterval(async () => {
        const at = await ask(
          http.GET("/api/captures/{capture_id}/progress", { params: { path: { capture_id: id } } }),
        ).catch(() => null);
        if (at) change(id, { share: at.share, step: at.step });
      }, TELL_EVERY_MS);
      try {
        const picture = await run();
        drop(id);
        told(picture);
      } catch (error) {
        if (!(error instanceof Trouble)) {
          drop(id);
          throw error;
        }
        change(id, { trouble: error.problem });
      } finally {
        clearInterval(look);
      }
    },
    [change, drop, told],
  );
  const bring = useCallback(
    (way: Way, file: File) => {
      const id = crypto.randomUUID();
      const query = new URLSearchParams({ id, way, name: file.name });
      const go = () =>
        void follow(
          id,
          file.name,
          () =>
            send<Picture>(
              `${to}/pictures?${query}`,
              file,
              (s) => change(id, { share: s * 0.05 }),
              "measured",
            ),
          go,
        );
      go();
    },
    [to, follow, change],
  );
  const practise = useCallback(
    (line: string, way: Way, seed: number) => {
      const id = crypto.randomUUID();
      const go = () =>
        void follow(
          id,
          `practice ${way}`,
          () =>
            ask(
              http.POST("/api/stock/{line_id}/practice-shoe", {
                params: { path: { line_id: line } },
                body: { id, way, seed },
              }),
            ),
          go,
        );
      go();
    },
    [follow],
  );
  return { sending, drop, bring, practise, told };
}
