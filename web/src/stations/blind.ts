/** Judging blind: until every pulled pair is scored, the bench keeps maker, name and price to itself. */
import { useDesk } from "../api/desk";

interface Blind {
  /** Asked for, and something is still to be scored. */
  blind: boolean;
  asked: boolean;
  ask: (blind: boolean) => void;
  /** A pulled pair's name, or the letter it goes by. */
  nameOf: (pair: { id: string; name: string }) => string;
}

export function useBlind(): Blind {
  const { fitting, bodies, set, locked } = useDesk();
  const asked = bodies.trial.blind ?? false;
  const scored =
    fitting.tray.length > 0 && fitting.tray.every((p) => bodies.trial.pairs?.[p.id]?.verdict != null);
  const blind = asked && !scored && !locked;
  return {
    blind,
    asked,
    ask: (now) => set("trial", { blind: now || null }),
    nameOf: (pair) =>
      blind ? `Pair ${String.fromCharCode(65 + fitting.tray.findIndex((p) => p.id === pair.id))}` : pair.name,
  };
}
