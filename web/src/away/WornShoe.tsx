/** A shoe an athlete says they wear, and how it fits. */
import { ASKED } from "../api/sizes";
import { factsOf, SPORTS } from "../api/sports";
import { Button } from "../ui/Button";
import { OneOf } from "../ui/choice";
import { NumberField } from "../ui/NumberField";
import { Select } from "../ui/Select";
import { TextField } from "../ui/TextField";
import type { Answers } from "./away";

export type Shoe = Answers["worn"][number];

const WORN = ["street", ...SPORTS] as const;

const word = (sport: string) => (sport === "street" ? "every day" : (factsOf(sport)?.called ?? sport));

interface WornProps {
  shoe: Shoe;
  number: number;
  onChange: (more: Partial<Shoe>) => void;
  onRemove: () => void;
}

export function WornShoe({ shoe, number, onChange, onRemove }: WornProps) {
  return (
    <fieldset aria-label={`Shoe ${number}`}>
      <div className="grid grid-cols-2 gap-2">
        <TextField label="Maker" value={shoe.maker} onChange={(maker) => onChange({ maker })} />
        <TextField label="Name, if it has one" value={shoe.model} onChange={(model) => onChange({ model })} />
        <Select
          label="Size in"
          value={shoe.system}
          options={ASKED}
          onChange={(system) => onChange({ system: system as Shoe["system"] })}
        />
        <NumberField
          label="Size"
          value={shoe.label}
          onChange={(label) => onChange({ label })}
          width="w-full"
        />
        <Select
          className="col-span-2"
          label="For"
          value={shoe.sport}
          options={WORN.map((value) => ({ value, text: word(value) }))}
          onChange={(sport) => onChange({ sport: sport as Shoe["sport"] })}
        />
      </div>
      <span className="mt-2 block text-faint text-xs">Its length is</span>
      <OneOf
        label={`Shoe ${number}: its length is`}
        value={shoe.says}
        options={[
          { value: "tight", text: "too short" },
          { value: "right", text: "right" },
          { value: "loose", text: "too long" },
        ]}
        onChange={(says) => onChange({ says: says as NonNullable<Shoe["says"]> })}
        onClear={() => onChange({ says: null })}
      />
      <Button kind="quiet" onClick={onRemove}>
        Take this shoe out
      </Button>
    </fieldset>
  );
}
