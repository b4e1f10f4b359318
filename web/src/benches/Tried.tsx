/** That a drawing shows what was dragged, or why it can't, and the way back. */
interface TriedProps {
  tried: boolean;
  /** Why the drawing isn't of what was dragged. */
  trouble: string | null;
  onBack: () => void;
}

export function Tried({ tried, trouble, onBack }: TriedProps) {
  if (!tried) return <span className="text-faint">Drag the ringed handle, or move it with arrows.</span>;
  return (
    <>
      <button
        type="button"
        data-tried
        className="min-h-11 border border-ink border-dashed px-2"
        onClick={onBack}
      >
        Tried, not kept: back
      </button>
      {trouble && (
        <span role="alert" className="block border-madder border-l-4 pl-2">
          Not computed: {trouble}
        </span>
      )}
    </>
  );
}
