/** One size of a model: what is on hand, counted here; what its inside measures, and how sure that is. */
import { useSyncExternalStore } from "react";
import { allMoves, count, countAgain, dropMove, rememberCount, subscribeMoves } from "../../api/moves";
import type { RackSize } from "../../api/rack";
import { Button } from "../../ui/Button";
import { printed } from "../../ui/pair";

export const KNOWN: Record<string, string> = {
  label: "its label alone",
  learned: "what was learned",
  sheet: "the maker's sheet",
  stick: "an inside gauge",
  insole: "its insole",
  measured: "measured",
};

interface LineProps {
  row: RackSize;
  name: string;
  /** Colour and what leads to the name are hidden. */
  blind: boolean;
  canCount: boolean;
  onOpen: () => void;
}

export function Line({ row, name, blind, canCount, onOpen }: LineProps) {
  const moves = useSyncExternalStore(subscribeMoves, allMoves).filter((m) => m.line === row.id);
  const shown = row.on_hand + moves.filter((m) => !m.refused).reduce((n, m) => n + m.by, 0);
  const failed = moves.find((m) => m.refused) ?? moves.find((m) => m.trouble);
  /** Those the message is about: the one refused, or all that wait together. */
  const told = failed?.refused ? [failed] : moves.filter((m) => !m.refused);
  const by = told.reduce((n, m) => n + m.by, 0);
  const step = (by: number) => {
    count(row.id, by);
    rememberCount(row.id, by, `${name} ${printed(row)}`);
  };
  return (
    <li
      data-line={row.id}
      className="flex min-w-0 flex-wrap items-center justify-between gap-x-1 border-line border-b pl-1"
    >
      <button
        type="button"
        onClick={onOpen}
        disabled={blind}
        className="min-h-11 min-w-24 flex-1 text-left leading-tight hover:bg-paper"
      >
        <span className="font-mono font-semibold">{printed(row)}</span>
        {row.system !== "eu" && <span className="font-mono text-faint text-sm"> EU {row.eu_label}</span>}
        {row.width !== "regular" && <span className="text-sm"> {row.width}</span>}
        {row.colour && !blind && <span className="text-sm"> {row.colour}</span>}
        <span className="block font-mono text-faint text-xs" title={KNOWN[row.known_from]}>
          {row.length_mm.toFixed(0)} ± {row.length_sigma_mm.toFixed(row.length_sigma_mm < 2 ? 1 : 0)} mm
        </span>
        {row.reserved > 0 && (
          <span className="block text-xs">
            {row.reserved > shown ? <b>{row.reserved} held, not so many here</b> : `${row.reserved} held`}
          </span>
        )}
        <span className="sr-only">, {name}: inside and movements</span>
      </button>
      <span
        data-on-hand={shown}
        data-moving={moves.length}
        className={`flex items-center font-mono ${shown ? "" : "text-madder"}`}
      >
        {canCount && (
          <button
            type="button"
            className="size-11 hover:bg-paper disabled:opacity-40"
            aria-label={`One ${name} ${printed(row)} less`}
            disabled={shown < 1}
            onClick={() => step(-1)}
          >
            −
          </button>
        )}
        <span className="min-w-8 text-center">{shown || "none"}</span>
        {canCount && (
          <button
            type="button"
            className="size-11 hover:bg-paper"
            aria-label={`One ${name} ${printed(row)} more`}
            onClick={() => step(1)}
          >
            +
          </button>
        )}
      </span>
      {failed && (
        <span className="flex w-full flex-wrap items-center gap-1 text-madder text-sm leading-tight">
          <span role="alert">
            {by < 0 ? "−" : "+"}
            {Math.abs(by)}{" "}
            {failed.refused ? `was not counted: ${failed.trouble}` : "is kept here and sent again"}
          </span>
          <Button kind="quiet" onClick={() => countAgain(failed)}>
            Again
          </Button>
          <Button
            kind="quiet"
            onClick={() => {
              for (const m of told) dropMove(m.id);
            }}
          >
            Let it go
          </Button>
        </span>
      )}
    </li>
  );
}
