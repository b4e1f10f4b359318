/** Field drills for two plates side by side, one on each foot: which did better. */
import { useDesk } from "../../api/desk";
import { OneOf } from "../../ui/choice";
import { Heading } from "../../ui/words";
import { useBlind } from "../blind";

const DRILLS = [
  ["straight", "Straight run", "Three sprints of ten metres, one shoe of each on a foot; then change feet."],
  ["turns", "Turns", "Cuts off either foot at half speed, then fast: which foot comes free, which sticks."],
  ["eight", "Figure of eight", "Round two marks five metres apart: slip, drag, an edge that is felt."],
] as const;

export function Drills() {
  const { fitting, bodies, set, locked } = useDesk();
  const { nameOf } = useBlind();
  const plates = new Set(fitting.tray.map((p) => p.choices.plate ?? p.choices.sole));
  if (fitting.tray.length < 2 || plates.size < 2) return null;
  const options = [
    ...fitting.tray.map((p) => ({ value: p.id, text: nameOf(p) })),
    { value: "same", text: "the same" },
  ];
  return (
    <section aria-label="Side by side" className="mt-4">
      <Heading>Two soles side by side, on the ground they are for</Heading>
      <ul>
        {DRILLS.map(([slug, name, how]) => (
          <li
            key={slug}
            className="grid grid-cols-[1fr_auto] items-center gap-3 border-line border-b py-1 max-md:grid-cols-1"
          >
            <span>
              <b>{name}</b> <span className="text-sm">{how}</span>
            </span>
            <OneOf
              label={`${name}: which did better`}
              arrowsFree
              disabled={locked}
              value={bodies.trial.drills?.[slug]}
              options={options}
              onChange={(v) => set("trial", { [`drills/${slug}`]: v })}
              onClear={() => set("trial", { [`drills/${slug}`]: null })}
            />
          </li>
        ))}
      </ul>
    </section>
  );
}
