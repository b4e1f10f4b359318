/** The practice devices: files of made-up feet, measured like any other. */
import { useState } from "react";
import type { Schemas, Side } from "../../api/client";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { Dialog } from "../../ui/Dialog";
import { NumberField } from "../../ui/NumberField";

type Device = Schemas["PracticeIn"]["device"];

interface PracticeProps {
  open: boolean;
  onClose: () => void;
  onGo: (device: Device, sides: Side[], seed: number) => void;
}

export function Practice({ open, onClose, onGo }: PracticeProps) {
  const [device, setDevice] = useState<Device>("scanner");
  const [sides, setSides] = useState("both");
  const [seed, setSeed] = useState<number | null>(7);
  const wrong = seed === null || !Number.isInteger(seed) || seed < 0 || seed > 1_000_000;
  return (
    <Dialog open={open} onClose={onClose} title="Practice devices">
      <p className="mb-3 text-faint">
        They make files of made-up feet whose true measures are known, noise and all, and measure them like
        any other.
      </p>
      <div className="space-y-3">
        <OneOf
          label="Device"
          value={device}
          onChange={(v) => setDevice(v as Device)}
          options={[
            { value: "scanner", text: "3-D scanner", hint: "a scan with a leg stump" },
            { value: "camera", text: "Camera", hint: "an outline on A4, at an angle" },
            { value: "mat", text: "Pressure mat", hint: "a step over it" },
          ]}
        />
        <OneOf
          label="Which foot"
          value={sides}
          onChange={setSides}
          options={[
            { value: "both", text: "Both feet" },
            { value: "left", text: "Left" },
            { value: "right", text: "Right" },
          ]}
        />
        <NumberField
          label="Made-up person, by number"
          value={seed}
          decimals={0}
          onChange={setSeed}
          error={wrong ? "A whole number from 0 to 1,000,000." : undefined}
        />
        <Button
          kind="strong"
          disabled={wrong}
          onClick={() => onGo(device, sides === "both" ? ["left", "right"] : [sides as Side], seed ?? 7)}
        >
          Measure
        </Button>
      </div>
    </Dialog>
  );
}
