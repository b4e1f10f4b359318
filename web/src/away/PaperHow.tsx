/** How a foot is photographed on a sheet of paper, drawn: the heel at the wall, the whole sheet in the picture. */
import { Frame } from "../drawing/axis";

export function PaperHow() {
  return (
    <div className="my-2 flex flex-wrap gap-4">
      <Frame
        width={130}
        height={170}
        label="A foot on a white sheet with its heel at the wall, seen from above, all four corners in the picture"
      >
        <rect x="3" y="3" width="124" height="164" fill="none" stroke="var(--ink)" strokeDasharray="6 4" />
        <rect x="6" y="146" width="118" height="12" fill="var(--ink)" fillOpacity="0.25" />
        <rect x="24" y="22" width="84" height="123" fill="var(--sheet)" stroke="var(--ink)" />
        <path
          d="M66 144c-13 0 -16 -14 -15 -30c1 -18 -9 -26 -8 -46c1 -18 8 -28 18 -30c12 -2 22 8 22 26c0 16 -3 26 -3 44c0 20 2 36 -14 36z"
          fill="var(--paper)"
          stroke="var(--ink)"
          strokeWidth="1.6"
        />
        {[
          [24, 22],
          [108, 22],
          [24, 145],
          [108, 145],
        ].map(([x, y]) => (
          <circle key={`${x}/${y}`} cx={x} cy={y} r="5" fill="none" stroke="var(--madder)" strokeWidth="2" />
        ))}
      </Frame>
      <ol className="ml-4 min-w-48 flex-1 list-decimal text-sm">
        <li>A white sheet on a dark floor, its short edge at a wall.</li>
        <li>Stand on it barefoot, heel at the wall, weight on both feet.</li>
        <li>Ask somebody to hold the phone level above it.</li>
        <li>
          All four corners of the sheet must be in the picture; no flash, no shadow of the leg across the
          toes.
        </li>
      </ol>
    </div>
  );
}
