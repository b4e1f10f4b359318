/** An athlete's own data at their request: all of it in a file, or out of the records for good. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, type Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { TextField } from "../ui/TextField";
import { Heading } from "../ui/words";

export function TheirData({ athlete }: { athlete: Schemas["AthleteOut"] }) {
  const client = useQueryClient();
  const [asking, setAsking] = useState(false);
  const [typed, setTyped] = useState("");
  const erase = useMutation({
    mutationFn: () =>
      ask(http.POST("/api/athletes/{athlete_id}/erase", { params: { path: { athlete_id: athlete.id } } })),
    onSuccess: () => {
      setAsking(false);
      void client.invalidateQueries();
    },
  });
  const sure = typed.trim().toLowerCase() === athlete.name.trim().toLowerCase();
  return (
    <section aria-label="Their data" className="mb-4">
      <Heading>Their data, when they ask for it</Heading>
      <span className="flex flex-wrap gap-2">
        <a
          href={`/api/athletes/${athlete.id}/data.json`}
          className="inline-flex min-h-11 items-center rounded-sm border border-ink/60 bg-sheet px-3.5 font-medium hover:bg-paper"
        >
          All of it in a file
        </a>
        <Button onClick={() => setAsking(true)}>Erase it …</Button>
      </span>
      {asking && (
        <Dialog open onClose={() => setAsking(false)} title={`Erase what is kept of ${athlete.name}`}>
          <p>
            Name, birth date, notes, feet, pictures, briefs and answers go for good, and nobody can bring them
            back. What was sold stays as a sale, what was found of the shoes stays without a name, and the
            trail keeps that this was done. Backups made before still hold it until they are thrown away.
          </p>
          <form
            className="mt-3"
            onSubmit={(e) => {
              e.preventDefault();
              if (sure && !erase.isPending) erase.mutate();
            }}
          >
            <TextField
              label={`Type the name to be sure: ${athlete.name}`}
              value={typed}
              onChange={setTyped}
              error={erase.error?.message}
            />
            <Button
              kind="strong"
              weight="seen"
              type="submit"
              className="mt-3"
              disabled={!sure || erase.isPending}
            >
              Erase it for good
            </Button>
          </form>
        </Dialog>
      )}
    </section>
  );
}
