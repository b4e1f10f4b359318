/** One stud of a sole by calliper: round or blade, its sides, its turn, and how tall it stands where it isn't as the rest. */
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { NumberField } from "../../ui/NumberField";
import type { ShoeSaid } from "./usePictures";

export type Spot = NonNullable<NonNullable<ShoeSaid["spots"]>[number]>;

interface Props {
  spot: Spot;
  /** Its sides as measured, mm. */
  sides: readonly number[];
  name: string;
  usual: number | null;
  /** Why a part of it was refused. */
  wrong: (part: keyof Spot) => string | undefined;
  /** What becomes of it as it was last said: typed ahead, that may be newer than what is shown. */
  onChange: (change: (now: Spot) => Spot, typing: boolean) => void;
  onOut: () => void;
}

const BLADE_OF_ROUND = 2;
/** Answers in a row of fields, level with what is typed. */
export const BESIDE = "mt-4 flex flex-wrap gap-1.5";

export function StudFields({ spot, sides, name, usual, wrong, onChange, onOut }: Props) {
  const own = spot.calliper ? [spot.long, spot.wide] : [sides[0] ?? spot.long, sides[1] ?? spot.wide];
  const [long = spot.long, wide = spot.wide] = own;
  const by = (part: Partial<Spot>) =>
    onChange(
      (now) => ({ ...now, ...(now.calliper ? {} : { long, wide }), calliper: true, told: true, ...part }),
      true,
    );
  return (
    <fieldset className="mt-2 flex flex-wrap items-start gap-2" aria-label={name}>
      <span className="mt-7 font-semibold">{name}</span>
      <OneOf
        columns={BESIDE}
        label={`${name}, shape`}
        value={spot.blade ? "blade" : "round"}
        options={[
          { value: "round", text: "round" },
          { value: "blade", text: "blade" },
        ]}
        onChange={(v) =>
          onChange(
            (now) =>
              v === "blade"
                ? { ...now, blade: true, long: BLADE_OF_ROUND * now.wide }
                : { ...now, blade: false, long: now.wide, angle_deg: 0 },
            false,
          )
        }
      />
      {spot.blade ? (
        <>
          <NumberField
            label="Length"
            unit="mm"
            width="w-24"
            value={long}
            error={wrong("long")}
            onChange={(v) => v && by({ long: v })}
          />
          <NumberField
            label="Width"
            unit="mm"
            width="w-24"
            value={wide}
            error={wrong("wide")}
            onChange={(v) => v && by({ wide: v })}
          />
          <NumberField
            label="Turned"
            unit="°"
            width="w-24"
            value={spot.angle_deg}
            error={wrong("angle_deg")}
            onChange={(v) => v !== null && onChange((now) => ({ ...now, angle_deg: v }), true)}
          />
        </>
      ) : (
        <NumberField
          label="Diameter"
          unit="mm"
          width="w-24"
          value={long}
          error={wrong("wide") ?? wrong("long")}
          onChange={(v) => v && by({ long: v, wide: v })}
        />
      )}
      <NumberField
        label={usual === null ? "Its height" : `Its height, if not ${usual}`}
        unit="mm"
        width="w-36"
        value={spot.height_mm}
        error={wrong("height_mm")}
        onChange={(v) => onChange((now) => ({ ...now, height_mm: v }), true)}
      />
      <Button kind="quiet" className="mt-4" onClick={onOut}>
        Take this stud out
      </Button>
    </fieldset>
  );
}
