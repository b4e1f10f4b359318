/** Athletes and the chain's other shops: those who agreed to be known here, and an athlete's own consent. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, http, type Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { day } from "../ui/clock";
import { Dialog } from "../ui/Dialog";
import { Heading } from "../ui/words";

const LEAST_LETTERS = 3;

/** Who of that name is known in a sister shop, and agreed to be known here. */
export function KnownElsewhere({ text }: { text: string }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const asks = text.length >= LEAST_LETTERS;
  const found = useQuery({
    queryKey: ["known", text],
    queryFn: ({ signal }) => ask(http.GET("/api/known", { params: { query: { text } }, signal })),
    enabled: asks,
    placeholderData: (old) => old,
  });
  const take = useMutation({
    mutationFn: (id: string) =>
      ask(
        http.POST("/api/known/{known_id}/athlete", {
          params: { path: { known_id: id } },
          body: { change_id: crypto.randomUUID() },
        }),
      ),
    onSuccess: (athlete) => {
      void client.invalidateQueries({ queryKey: ["athletes"] });
      navigate(`/athletes/${athlete.id}`);
    },
  });
  if (!asks || !found.data?.length) return null;
  return (
    <section
      aria-label="Known in other shops"
      className="mt-3 mb-4 border-ink border-l-4 bg-sheet px-3 pt-2 pb-1"
    >
      <Heading>Known in another shop, and agreed to be known here</Heading>
      {take.error && <p role="alert">{take.error.message}</p>}
      <ul>
        {found.data.map((k) => (
          <li key={k.id} className="flex min-h-14 flex-wrap items-center gap-3 border-line border-t">
            <span className="min-w-56 flex-1">
              <b>{k.name}</b>
              <span className="block text-faint text-sm">
                {k.shop}
                {k.squad && `, ${k.squad}`}
                {k.born_on && `, born ${day(k.born_on)}`}
              </span>
            </span>
            <Button weight="weighty" onClick={() => take.mutate(k.id)} disabled={take.isPending}>
              Take up here
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Whether the athlete lets the other shops see what this one knows; their word is read out first. */
export function Consent({ page }: { page: Schemas["AthletePage"] }) {
  const [reading, setReading] = useState(false);
  const [id] = useState(() => crypto.randomUUID());
  const client = useQueryClient();
  const key = ["athlete", page.athlete.id];
  const change = useMutation({
    mutationFn: (agrees: boolean) =>
      ask(
        http.PUT("/api/athletes/{athlete_id}/consent", {
          params: { path: { athlete_id: page.athlete.id } },
          body: { id: agrees ? id : crypto.randomUUID(), agrees },
        }),
      ),
    onSuccess: (now) => {
      client.setQueryData(key, now);
      setReading(false);
    },
  });
  if (!page.sisters.length) return null;
  return (
    <section aria-label="In the other shops" className="mt-4 mb-4">
      <Heading>In the other shops</Heading>
      {page.from_shop && (
        <p>
          Taken up from {page.from_shop}: a first fitting begins with what was measured there, as of its day.
        </p>
      )}
      <p className="flex flex-wrap items-center gap-3">
        {page.consent ? (
          <>
            <span>
              Known to {page.sisters.join(" and ")}: agreed on {day(page.consent.given_at)}, recorded by{" "}
              {page.consent.by}.
            </span>
            <Button weight="weighty" onClick={() => change.mutate(false)} disabled={change.isPending}>
              They take it back
            </Button>
          </>
        ) : (
          <>
            <span className="text-faint">Known only here.</span>
            <Button onClick={() => setReading(true)}>Known elsewhere too …</Button>
          </>
        )}
      </p>
      {change.error && <p role="alert">{change.error.message}</p>}
      {reading && (
        <Dialog open onClose={() => setReading(false)} title={`Read this to ${page.athlete.name}`}>
          <blockquote className="border-ink border-l-4 pl-3 text-lg">{page.would_say}</blockquote>
          <p className="mt-2 text-faint text-sm">
            The other shops: {page.sisters.join(", ")}. For a minor, a parent or guardian agrees; local rules
            come first.
          </p>
          <span className="mt-4 flex gap-2">
            <Button
              kind="strong"
              weight="seen"
              onClick={() => change.mutate(true)}
              disabled={change.isPending}
            >
              They agree
            </Button>
            <Button onClick={() => setReading(false)}>They don't</Button>
          </span>
        </Dialog>
      )}
    </section>
  );
}
