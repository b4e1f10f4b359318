/** Four digits, by fingers or keys; the fourth sends them. */
import { useEffect, useRef } from "react";
import { Button } from "../ui/Button";

const DIGITS = 4;
const KEYS = ["1", "2", "3", "4", "5", "6", "7", "8", "9"];

interface PadProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  /** Nothing is taken meanwhile. */
  busy?: boolean;
}

export function PinPad({ label, value, onChange, busy = false }: PadProps) {
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  const put = (text: string) => {
    const digits = text.replace(/\D/g, "").slice(0, DIGITS);
    if (!busy && digits !== value) onChange(digits);
  };
  return (
    <div className="w-64">
      <label className="mb-1.5 block text-faint text-xs" htmlFor="pin">
        {label}
      </label>
      <input
        id="pin"
        ref={field}
        type="text"
        inputMode="none"
        autoComplete="off"
        data-first
        value={value}
        aria-busy={busy}
        onChange={(e) => put(e.target.value)}
        className="mb-2 min-h-12 w-full rounded-sm border border-ink/45 bg-sheet px-3 font-mono text-2xl tracking-[0.6em] [-webkit-text-security:disc]"
      />
      <div className="grid grid-cols-3 gap-2">
        {[...KEYS, "", "0"].map((key) =>
          key ? (
            <Button key={key} className="min-h-14 text-xl" tabIndex={-1} onClick={() => put(value + key)}>
              {key}
            </Button>
          ) : (
            <span key="gap" />
          ),
        )}
        <Button
          kind="quiet"
          className="min-h-14"
          tabIndex={-1}
          aria-label="Take back the last digit"
          onClick={() => put(value.slice(0, -1))}
        >
          ←
        </Button>
      </div>
    </div>
  );
}

export const isWhole = (pin: string): boolean => pin.length === DIGITS;
