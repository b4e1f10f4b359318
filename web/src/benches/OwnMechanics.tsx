/** One shoe under this athlete by what was measured of it: its own studs on this ground, its own drop in the squat. */
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { ask, http, type Schemas } from "../api/client";
import { Heading, Untold } from "../ui/words";

const StudPlate = lazy(() => import("./StudPlate").then((m) => ({ default: m.StudPlate })));
const Lifter = lazy(() => import("./Lifter").then((m) => ({ default: m.Lifter })));

interface Props {
  fitting: string;
  model: string;
  word: (value: string) => string;
  /** Counts what the athlete's numbers rest on. */
  version: number;
  /** Its studs alone. */
  studsOnly?: boolean;
}

export function OwnMechanics({ fitting, model, word, version, studsOnly = false }: Props) {
  const asked = useQuery({
    queryKey: ["own", fitting, model, version],
    queryFn: () =>
      ask(
        http.GET("/api/fittings/{fitting_id}/own/{model_id}", {
          params: { path: { fitting_id: fitting, model_id: model } },
        }),
      ) as Promise<Schemas["OwnMechanics"]>,
  });
  const own = asked.data;
  if (!own?.on_ground && (studsOnly || !own?.lifter))
    return <Untold of={asked} what="What was measured of this shoe" />;
  return (
    <section aria-label={`${own.name} as it was measured`}>
      <Heading>{own.name} as it was measured</Heading>
      <Suspense fallback={null}>
        {own.on_ground && (
          <StudPlate
            ground={own.on_ground}
            word={(v) => (v === "own" ? `${own.name}'s own studs` : word(v))}
          />
        )}
        {own.lifter && !studsOnly && <Lifter lifter={own.lifter} />}
      </Suspense>
    </section>
  );
}
