/** What was read of a model at the bench, and what it has and hasn't; nothing said is not known. */
import type { Schemas } from "../../api/client";
import { useVocabulary } from "../../api/vocabulary";
import { NumberField } from "../../ui/NumberField";

type Made = Schemas["Made"];

export const without = <T,>(of: Record<string, T>, name: string): Record<string, T> =>
  Object.fromEntries(Object.entries(of).filter(([n]) => n !== name));

interface Props {
  made: Made;
  part: (more: Partial<Made>) => void;
  /** What is wrong with a field. */
  trouble: (field: string) => string | undefined;
}

export function ModelDetails({ made, part, trouble }: Props) {
  const words = useVocabulary().data;
  const scales = words?.sports.find((s) => s.slug === made.sport)?.scales ?? {};
  return (
    <>
      <details className="col-span-full">
        <summary className="flex min-h-11 w-fit cursor-pointer items-center font-semibold underline">
          What was read at the bench ({Object.keys(made.properties ?? {}).length} of{" "}
          {Object.keys(scales).length})
        </summary>
        <div className="grid grid-cols-3 gap-2 max-md:grid-cols-1">
          {Object.entries(scales).map(([name, scale]) => (
            <div key={name}>
              <NumberField
                width="w-full"
                label={scale.name}
                value={made.properties?.[name] ?? null}
                unit={scale.unit}
                decimals={2}
                onChange={(v) =>
                  part({
                    properties:
                      v === null ? without(made.properties ?? {}, name) : { ...made.properties, [name]: v },
                  })
                }
                error={trouble(`properties.${name}`)}
              />
              <span className="block text-faint text-xs leading-tight">{scale.read}</span>
            </div>
          ))}
        </div>
      </details>
      <details className="col-span-full">
        <summary className="flex min-h-11 w-fit cursor-pointer items-center font-semibold underline">
          What it has and hasn't ({Object.keys(made.features ?? {}).length} of{" "}
          {Object.keys(words?.features ?? {}).length} known)
        </summary>
        <ul className="grid grid-cols-3 gap-1 max-md:grid-cols-1">
          {Object.entries(words?.features ?? {}).map(([name, feature]) => {
            const has = made.features?.[name];
            const next = has === undefined ? true : has ? false : undefined;
            return (
              <li key={name}>
                <button
                  type="button"
                  title={feature.seen}
                  onClick={() =>
                    part({
                      features:
                        next === undefined
                          ? without(made.features ?? {}, name)
                          : { ...made.features, [name]: next },
                    })
                  }
                  className="flex min-h-11 w-full items-center justify-between gap-2 border border-line bg-sheet px-2 text-left hover:bg-paper"
                >
                  {feature.name}
                  <b className={has === undefined ? "font-normal text-faint" : ""}>
                    {has === undefined ? "not known" : has ? "yes" : "no"}
                  </b>
                </button>
              </li>
            );
          })}
        </ul>
      </details>
    </>
  );
}
