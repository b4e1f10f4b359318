/** In which units, in which sock, how and when the feet were measured. */
import type { ReactNode } from "react";
import { useDesk } from "../../api/desk";
import { TYPED } from "../../api/sizes";
import { OneOf } from "../../ui/choice";
import { TextField } from "../../ui/TextField";

const SOCKS = ["none", "thin", "medium", "thick"].map((s) => ({ value: s, text: s }));

export function UnitsPicked() {
  const { bodies, set, locked } = useDesk();
  return (
    <OneOf
      label={`Units typed in; with ${TYPED.map((t) => t.text).join(" or ")}, the length only`}
      value={bodies.feet.units}
      columns="flex gap-0.5 *:!px-2 *:text-sm"
      options={[{ value: "mm", text: "mm" }, { value: "inch", text: "inch" }, ...TYPED]}
      onChange={(v) => set("feet", { units: v })}
      disabled={locked}
    />
  );
}

export function HowMeasured() {
  const { bodies, set, locked } = useDesk();
  const feet = bodies.feet;
  return (
    <div className="flex flex-wrap items-end gap-x-3 gap-y-1 border-line border-t pt-1.5">
      <Picked label="Sock">
        <OneOf
          label="Sock"
          value={feet.sock}
          options={SOCKS}
          onChange={(v) => set("feet", { sock: v })}
          disabled={locked}
        />
      </Picked>
      <Picked label="Measured by gauge">
        <OneOf
          label="Measured"
          value={feet.stance}
          options={[
            { value: "standing", text: "standing" },
            { value: "sitting", text: "sitting" },
          ]}
          onChange={(v) => set("feet", { stance: v })}
          disabled={locked}
        />
      </Picked>
      <Picked label="Before measuring">
        <OneOf
          label="Before measuring"
          value={feet.effort ?? "rested"}
          options={[
            { value: "rested", text: "rested" },
            { value: "after_effort", text: "trained" },
          ]}
          onChange={(v) => set("feet", { effort: v })}
          disabled={locked}
        />
      </Picked>
      <TextField
        className="w-28"
        label="At what time"
        type="time"
        value={feet.time_of_day ?? ""}
        onChange={(v) => set("feet", { time_of_day: v || null })}
        disabled={locked}
      />
    </div>
  );
}

function Picked({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div>
      <span className="block text-faint text-xs">{label}</span>
      {children}
    </div>
  );
}
