/** A text for another device's camera. */
import { useQuery } from "@tanstack/react-query";
import { ask, http } from "../api/client";

const RIM = 4;

export function Qr({ text, label, className = "" }: { text: string; label: string; className?: string }) {
  const drawn = useQuery({
    queryKey: ["qr", text],
    queryFn: () => ask(http.POST("/api/qr", { body: { text } })),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0, // a secret may stand in it
  });
  if (!drawn.data) return <span className={`inline-block size-40 ${className}`} />;
  const side = drawn.data.size + 2 * RIM;
  return (
    <svg
      role="img"
      aria-label={label}
      data-qr={text}
      viewBox={`${-RIM} ${-RIM} ${side} ${side}`}
      shapeRendering="crispEdges"
      className={`size-40 shrink-0 bg-white ${className}`}
    >
      <path d={drawn.data.path} fill="#000" />
    </svg>
  );
}
