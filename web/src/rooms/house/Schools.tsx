/** The matters practitioners differ on: the sides beside each other, each drawn by what it wants. */
import { useQuery } from "@tanstack/react-query";
import { ask, http, type Schemas } from "../../api/client";
import { BandScale } from "../../drawing/kit";
import { OneOf } from "../../ui/choice";

interface Props {
  schools: Schemas["SchoolOut"][];
  now: Schemas["House"];
  disabled: boolean;
  onChange: (slug: string, side: string) => void;
}

const WIDE = 254;

export function Schools({ schools, now, disabled, onChange }: Props) {
  const sides = useQuery({
    queryKey: ["house-sides"],
    // The client reads pairs as plain arrays; the contract says they are pairs.
    queryFn: () => ask(http.GET("/api/house/sides")) as Promise<Schemas["SchoolSides"][]>,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <ul className="space-y-5">
      {schools.map((school) => {
        const found = sides.data?.find((s) => s.school === school.slug);
        return (
          <li key={school.slug}>
            <h2 className="font-semibold">
              {school.text}
              {found && (
                <span className="ml-2 font-normal text-faint text-sm">
                  {[found.drawn[0]?.name, `${found.sport}, ${found.brief.toLowerCase()}`]
                    .filter(Boolean)
                    .join(" · ")}
                </span>
              )}
            </h2>
            <OneOf
              label={school.text}
              value={now.schools?.[school.slug] ?? school.options[0]?.value}
              options={school.options.map((o) => ({
                ...o,
                hint: found?.leads[o.value] ?? o.hint,
                picture: <SideDrawn found={found} side={o.value} />,
              }))}
              disabled={disabled}
              columns="mt-1 flex flex-wrap gap-2 *:w-[280px] *:max-w-full"
              onChange={(v) => onChange(school.slug, v)}
            />
          </li>
        );
      })}
    </ul>
  );
}

/** What a side wants, on the scale all sides share. */
function SideDrawn({ found, side }: { found: Schemas["SchoolSides"] | undefined; side: string }) {
  const drawn = found?.drawn[0];
  const [low, high] = drawn?.bands[side] ?? [];
  if (!drawn || low === undefined || high === undefined) return null;
  return (
    <span className="mb-1 block bg-sheet text-ink">
      <BandScale
        low={drawn.low}
        high={drawn.high}
        band={{ low, high }}
        unit={drawn.unit.length < 8 ? drawn.unit : ""}
        width={WIDE}
      />
    </span>
  );
}
