interface CountsProps {
  weight: number;
  byHand: boolean;
  name: string;
  onClick: () => void;
}

/** How much it counts; opens the weight. */
export function CountsButton({ weight, byHand, name, onClick }: CountsProps) {
  return (
    <button
      type="button"
      className="min-h-11 whitespace-nowrap px-1.5 text-right text-sm underline decoration-dotted underline-offset-4 hover:bg-paper"
      aria-label={`${name} counts ${weight.toFixed(1)}${byHand ? ", moved by hand" : ""}. Change`}
      onClick={onClick}
    >
      counts <span className="font-mono font-semibold">{weight.toFixed(1)}</span>
      {byHand && <span className="block font-semibold">by hand</span>}
    </button>
  );
}
