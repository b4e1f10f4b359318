/** What was found of a maker, piece by piece; set aside with a reason. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, type Schemas } from "../api/client";
import { useZones } from "../api/vocabulary";
import { Button } from "../ui/Button";
import { day } from "../ui/clock";
import { SetAside } from "./SetAside";

/** What this shop found of a maker's shoes; a manager may set a piece aside. */
export function Evidence({ maker, manages }: { maker: string; manages: boolean }) {
  const client = useQueryClient();
  const zones = useZones();
  const [aside, setAside] = useState<Schemas["EvidenceOut"] | null>(null);
  const list = useQuery({
    queryKey: ["ledger", "evidence", maker],
    queryFn: () => ask(http.GET("/api/ledger/evidence", { params: { query: { maker } } })),
  });
  const again = useMutation({
    mutationFn: (evidence_id: number) =>
      ask(http.DELETE("/api/ledger/evidence/{evidence_id}/aside", { params: { path: { evidence_id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["ledger"] }),
  });
  if (!list.data?.length)
    return <p className="mt-2 text-faint text-sm">This shop has tried none of theirs yet.</p>;
  return (
    <details className="mt-2 px-3">
      <summary className="flex min-h-11 w-fit cursor-pointer items-center underline">
        What this shop found ({list.data.length})
      </summary>
      <ul>
        {list.data.map((e) => (
          <li
            key={e.id}
            data-evidence={e.id}
            className="grid grid-cols-[1fr_auto] items-center gap-3 border-line border-t py-1 text-sm"
          >
            <span className={e.aside ? "text-faint line-through" : ""}>
              {day(e.at)}, {e.athlete}, {e.pair}, {zones[e.zone]}: {e.text}
            </span>
            {manages &&
              (!e.aside || e.aside_alone) &&
              (e.aside ? (
                <Button kind="quiet" onClick={() => again.mutate(e.id)} disabled={again.isPending}>
                  Count it again
                </Button>
              ) : (
                <Button kind="quiet" onClick={() => setAside(e)}>
                  Set aside …
                </Button>
              ))}
            {e.aside && (
              <span className="col-span-2 text-faint">
                Set aside by {e.aside_by}: {e.aside}
              </span>
            )}
          </li>
        ))}
      </ul>
      {aside && <Aside piece={aside} onClose={() => setAside(null)} />}
    </details>
  );
}

const Aside = ({ piece, onClose }: { piece: Schemas["EvidenceOut"]; onClose: () => void }) => (
  <SetAside
    title="Set this aside"
    onClose={onClose}
    put={(body) =>
      ask(
        http.PUT("/api/ledger/evidence/{evidence_id}/aside", {
          params: { path: { evidence_id: piece.id } },
          body,
        }),
      )
    }
  >
    {piece.athlete}, {piece.pair}: {piece.text}
  </SetAside>
);
