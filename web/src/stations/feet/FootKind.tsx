/** Small pictures of toes and arches. */
import type { Side } from "../../api/client";
import { closedPath, footOutline, mirrored, toScreen } from "../../drawing/foot";

export const ARCHES = ["low", "medium", "high"] as const;

export const TOES = [
  ["first_longest", "Big toe"],
  ["second_longest", "2nd toe"],
  ["square", "Square"],
] as const;

export function ArchPicture({ arch }: { arch: (typeof ARCHES)[number] }) {
  const rise = { low: 2, medium: 6, high: 11 }[arch];
  return (
    <svg viewBox="0 0 36 16" className="mx-auto h-3.5 w-8" aria-hidden="true">
      <path
        d={`M1 14H9Q18 ${14 - rise * 1.6} 27 14H35`}
        fill="none"
        stroke="currentColor"
        strokeWidth="1.8"
      />
    </svg>
  );
}

interface ToesProps {
  side: Side;
  toes: (typeof TOES)[number][0];
  bunion?: boolean;
}

export function ToesPicture({ side, toes, bunion = false }: ToesProps) {
  const outline = footOutline({
    length: 260,
    ballWidth: 104,
    heelWidth: 66,
    arch: "medium",
    toes,
    bunion,
  });
  const points = toScreen(side === "left" ? mirrored(outline) : outline, 0.3, 18, 80);
  return (
    <svg viewBox="0 0 36 26" className="mx-auto h-5 w-8" aria-hidden="true">
      <path d={closedPath(points)} fill="none" stroke="currentColor" strokeWidth="1.6" />
    </svg>
  );
}
