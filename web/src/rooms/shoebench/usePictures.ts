/** Pictures of one shoe: sent with progress, and again under the same id after a lost answer; then shown. */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { ask, http, type Schemas } from "../../api/client";
import { send } from "../../api/send";
import { type Share, upload } from "../../api/uploads";

export type Picture = Schemas["PictureOut"];
export type Way = Picture["way"];
export type ShoeSaid = Partial<Schemas["ShoeSaid"]>;

/** `of` is what the pictures are of, a size in stock or a pair somebody owns; `place` is where one looks at them. */
export function usePictures(of: { to: string; place: string }, done: (picture: Picture) => void) {
  const { to, place } = of;
  const client = useQueryClient();
  const told = useCallback(
    (picture: Picture) => {
      void client.invalidateQueries({ queryKey: ["shoe-bench"] });
      void client.invalidateQueries({ queryKey: ["pair-pictures"] });
      done(picture);
    },
    [client, done],
  );
  const measure = useCallback(
    (id: string, name: string, run: (tell: Share) => Promise<Picture>) =>
      upload({ id, of: place, place, name, run: async (_, tell) => told(await run(tell)) }),
    [place, told],
  );
  const bring = useCallback(
    (way: Way, file: File) => {
      const id = crypto.randomUUID();
      const query = new URLSearchParams({ id, way, name: file.name });
      measure(id, file.name, (tell) => send(`${to}/pictures?${query}`, file, "measured", tell));
    },
    [to, measure],
  );
  const practise = useCallback(
    (line: string, way: Way, seed: number) => {
      const id = crypto.randomUUID();
      measure(id, `practice ${way}`, () =>
        ask(
          http.POST("/api/stock/{line_id}/practice-shoe", {
            params: { path: { line_id: line } },
            body: { id, way, seed },
          }),
        ),
      );
    },
    [measure],
  );
  return { bring, practise, told };
}
