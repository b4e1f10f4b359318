/** The same again: what a fitter would ask before selling it, and what is nearest where it can't be had. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, http } from "../../api/client";
import { useStoreFitting } from "../../api/fitting";
import type { OwnedPair } from "../../api/pairs";
import { useVocabulary } from "../../api/vocabulary";
import { hold } from "../../ui/ahead";
import { Button } from "../../ui/Button";
import { Heading, Loading } from "../../ui/words";

export function Again({ pair }: { pair: OwnedPair }) {
  const [asked, setAsked] = useState(false);
  const found = useQuery({
    queryKey: ["again", pair.id, pair.version],
    queryFn: () => ask(http.GET("/api/pairs/{pair_id}/again", { params: { path: { pair_id: pair.id } } })),
    enabled: asked,
  });
  const begin = useBeginWith(pair.athlete_id);
  const values = useVocabulary().data?.values ?? {};
  if (!asked) return <Button onClick={() => setAsked(true)}>The same again?</Button>;
  if (found.isPending) return <Loading what="what there is of it" />;
  if (!found.data) return <p role="alert">{found.error?.message}</p>;
  const { again, line_id, nearest } = found.data;
  return (
    <section aria-label="The same again">
      <Heading>The same again?</Heading>
      <p className="text-lg">
        <b>{again.text}</b>
      </p>
      <ul className="mt-1">
        {again.points.map((p) => (
          <li key={p.about} className={p.fine ? "" : "border-madder border-l-4 pl-2"}>
            {p.text}
          </li>
        ))}
      </ul>
      <span className="mt-2 flex gap-2">
        <Button
          kind={again.verdict === "like_it" ? "plain" : "strong"}
          disabled={begin.isPending}
          onClick={() => begin.mutate(again.verdict === "measure_first" ? null : line_id)}
        >
          {again.verdict === "measure_first"
            ? "Begin a fitting: feet first"
            : line_id
              ? "Begin a fitting with it"
              : "Begin a fitting"}
        </Button>
      </span>
      {nearest.length > 0 && (
        <>
          <Heading>Nearest to it, on the shelf</Heading>
          <ul>
            {nearest.map((n) => (
              <li key={n.line_id} className="flex items-center gap-3 border-line border-t py-1.5">
                <span className="flex-1 leading-snug">
                  <b>
                    {n.name} <span className="font-mono">EU {n.label}</span>
                  </b>
                  , {values[n.hope] ?? n.hope}
                  <span className="block text-faint text-sm">{n.differs.join(" ")}</span>
                </span>
                <Button disabled={begin.isPending} onClick={() => begin.mutate(n.line_id)}>
                  Try it
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
      {begin.error && <p role="alert">{begin.error.message}</p>}
    </section>
  );
}

/** A fitting begun with a pair already in its tray; where a caution has to be acknowledged first, without it. */
function useBeginWith(athlete: string) {
  const navigate = useNavigate();
  const store = useStoreFitting();
  const [id] = useState(() => crypto.randomUUID());
  return useMutation({
    mutationFn: async (line: string | null) => {
      hold();
      const fitting = await ask(http.POST("/api/fittings", { body: { id, athlete_id: athlete } }));
      if (!line) return { fitting, to: "feet" };
      const params = { params: { path: { fitting_id: id, line_id: line } } };
      try {
        await ask(http.PUT("/api/fittings/{fitting_id}/tray/{line_id}", params));
      } catch {
        return { fitting, to: "feet" };
      }
      const whole = await ask(
        http.GET("/api/fittings/{fitting_id}", { params: { path: { fitting_id: id } } }),
      );
      return { fitting: whole, to: "pull" };
    },
    onSuccess: ({ fitting, to }) => {
      store(fitting);
      navigate(`/fittings/${fitting.id}/${to}`);
    },
  });
}
