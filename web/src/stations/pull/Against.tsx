/** The shoe looked at, laid into the wanted one. */
import { useQuery } from "@tanstack/react-query";
import { ask, http, type Pair, type Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useVocabulary } from "../../api/vocabulary";
import { OwnMechanics } from "../../benches/OwnMechanics";
import { choicesOf } from "../../ui/pair";
import { Loading } from "../../ui/words";
import { Parts } from "../spec/Parts";

interface Props {
  pair: Pair;
  label: number;
  name: string;
  version: number;
}

export function Against({ pair, label, name, version }: Props) {
  const { fitting } = useDesk();
  const words = useVocabulary();
  const spec = useQuery({
    queryKey: ["of", fitting.id, "spec", version],
    queryFn: () =>
      ask(
        http.GET("/api/fittings/{fitting_id}/spec", { params: { path: { fitting_id: fitting.id } } }),
      ) as Promise<Schemas["SpecView"]>,
  });
  if (spec.error && !spec.data) return <p role="alert">{spec.error.message}</p>;
  if (!spec.data || !words.data) return <Loading what="the wanted shoe" />;
  const sport = words.data.sports.find((s) => s.slug === spec.data.spec.sport);
  const word = (value: string) => words.data?.values[value] ?? value.replaceAll("_", " ");
  return (
    <>
      {/* What was measured of this very shoe comes before what is usual of its kind. */}
      <OwnMechanics fitting={fitting.id} model={pair.model_id} word={word} version={version} />
      <Parts
        view={spec.data}
        was={undefined}
        scales={sport?.scales ?? {}}
        choices={words.data.choices}
        features={words.data.features}
        word={word}
        footMm={spec.data.foot_mm}
        others={[
          {
            name: `${name} ${label}`,
            values: pair.properties,
            features: pair.features ?? {},
            choices: choicesOf(pair),
          },
        ]}
      />
    </>
  );
}
