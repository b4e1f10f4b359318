/** Why there is nothing to plan yet, and the way to what is missing: an athlete's brief, in a fitting of theirs. */
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { ask, http } from "../../api/client";
import { useBegin } from "../../shell/begin";
import { Button } from "../../ui/Button";
import { Note } from "../../ui/words";

const LINK = "inline-flex min-h-11 items-center underline";

export function NoPlanYet({ athlete, why }: { athlete?: string | undefined; why?: string | undefined }) {
  return (
    <Note title="There is no plan yet">
      {why} {athlete && <OnFromHere athlete={athlete} />}
    </Note>
  );
}

function OnFromHere({ athlete }: { athlete: string }) {
  const begin = useBegin();
  const page = useQuery({
    queryKey: ["athlete", athlete],
    queryFn: () => ask(http.GET("/api/athletes/{athlete_id}", { params: { path: { athlete_id: athlete } } })),
  });
  const open = page.data?.fittings.find((f) => f.state === "open");
  return (
    <span className="mt-2 flex flex-wrap items-center gap-4">
      {open && (
        <Link className={LINK} to={`/fittings/${open.id}/brief`}>
          Answer the brief
        </Link>
      )}
      {page.data && !open && (
        <Button kind="strong" disabled={begin.isPending} onClick={() => begin.mutate(athlete)}>
          Begin a fitting
        </Button>
      )}
      <Link className={LINK} to={`/athletes/${athlete}`}>
        To the athlete
      </Link>
      {begin.error && <span role="alert">{begin.error.message}</span>}
    </span>
  );
}
