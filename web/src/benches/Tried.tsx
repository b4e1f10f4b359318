/** That a drawing shows what was dragged, and the way back. */
export function Tried({ tried, onBack }: { tried: boolean; onBack: () => void }) {
  if (!tried) return <span className="text-faint">Drag the ringed handle, or move it with arrows.</span>;
  return (
    <button
      type="button"
      data-tried
      className="min-h-11 border border-ink border-dashed px-2"
      onClick={onBack}
    >
      Tried, not kept: back
    </button>
  );
}
