/** Small drawings beside answers: what a ground, a wall, a pedal, a wicket or a lift looks like. */
import type { ReactNode } from "react";
import { SurfacePicture } from "./SurfacePicture";

function Frame({ children, wide = 108, high = 56 }: { children: ReactNode; wide?: number; high?: number }) {
  return (
    <svg
      viewBox={`0 0 ${wide} ${high}`}
      width={wide}
      height={high}
      className="mb-1"
      aria-hidden="true"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.4"
      strokeLinejoin="round"
    >
      {children}
    </svg>
  );
}

/** `picture` is the wall's angle from level, degrees, and the hold one stands on. */
function Wall({ picture }: { picture: string }) {
  const [degrees, hold = "edge"] = picture.split(" ");
  const angle = Number(degrees) || 90;
  const turn = (angle * Math.PI) / 180;
  const foot = { x: 54 - 20 * Math.cos(turn), y: 54 };
  const at = (along: number, out = 0): [number, number] => [
    foot.x + along * Math.cos(turn) - out * Math.sin(turn),
    foot.y - along * Math.sin(turn) - out * Math.cos(turn),
  ];
  const line = (points: [number, number][]) =>
    `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join("L")}`;
  const [hx, hy] = at(24);
  return (
    <Frame>
      <path d="M4 54H104" />
      <path d={line([at(0), at(62)])} strokeWidth="2.4" />
      {[8, 16, 32, 40, 48].map((along) => (
        <path key={along} d={line([at(along), at(along - 4, -6)])} strokeWidth="0.8" />
      ))}
      {hold === "edge" && <path d={line([at(24), at(24, 7), at(21, 7), at(20)])} fill="currentColor" />}
      {hold === "volume" && <path d={line([at(16), at(24, 12), at(33)])} />}
      {hold === "smear" && <path d={line([at(19, 0.5), at(26, 2.5), at(33, 0.5)])} />}
      {hold === "crack" && <path d={line([at(6, 2), at(56, 2)])} strokeDasharray="3 2" />}
      {hold === "pocket" && (
        <ellipse cx={hx} cy={hy} rx="4" ry="2.4" transform={`rotate(${-angle} ${hx} ${hy})`} />
      )}
      <path d={line([at(25, hold === "edge" ? 4 : 3), at(22, 22), at(38, 27)])} strokeWidth="2" />
    </Frame>
  );
}

const LIFTER: Record<string, ReactNode> = {
  olympic: <path d="M50 50L60 42L46 36L54 22M54 22L50 6M30 6H72M30 2v8M72 2v8M40 54H70" />,
  powerlifting_squat: <path d="M50 50L62 42L44 38L58 22M40 26H78M40 21v10M78 21v10M40 54H70" />,
  deadlift: <path d="M52 52L54 36L44 30L62 18M62 18L60 44M34 46H84M34 38v16M84 38v16" />,
  general_strength: <path d="M52 52V32L50 14M50 16L40 28M50 16L62 28M34 28H46M58 28H70M40 54H66" />,
  machines: <path d="M24 50L64 12M40 46L54 30L46 24M30 40L38 50M64 12h10M20 54H70" />,
  mixed_training: <path d="M40 52L46 38L42 24L52 10M52 10L60 18M72 4V54M72 10c-6 4 6 8 0 14M30 54H84" />,
  gym_running: <path d="M44 50L54 38L50 24L54 10M54 38L66 46M52 16L64 22M52 16L42 24M30 54H84" />,
};

const BARS: Record<string, [number, number]> = {
  high: [48, 16],
  low: [44, 22],
  front: [62, 18],
  overhead: [55, 2],
};

function Bar({ value }: { value: string }) {
  const [x, y] = BARS[value] ?? [48, 16];
  return (
    <Frame>
      <path d="M46 54L60 44L38 38L54 16M54 16l3-7M34 54H66" strokeWidth="1.8" />
      <circle cx="58" cy="7" r="4" />
      {value === "overhead" && <path d={`M54 16L${x} ${y + 3}`} />}
      <circle cx={x} cy={y + 2} r="3.2" fill="currentColor" />
      <circle cx={x} cy={y + 2} r="8" strokeDasharray="2 2" />
    </Frame>
  );
}

const PEDALS: Record<string, ReactNode> = {
  flat: (
    <>
      <rect x="30" y="24" width="48" height="12" />
      <path d="M34 24v-4M44 24v-4M54 24v-4M64 24v-4M74 24v-4M34 36v4M44 36v4M54 36v4M64 36v4M74 36v4" />
    </>
  ),
  two_bolt: (
    <>
      <path d="M26 14H84V26H66L62 22H46L42 26H26zM30 26v6M36 26v6M72 26v6M78 26v6" />
      <rect x="47" y="22" width="14" height="6" fill="currentColor" />
      <path d="M44 36H64" />
    </>
  ),
  three_bolt: (
    <>
      <path d="M24 14H86V24H24z" />
      <path d="M34 24L40 34H70L76 24" fill="currentColor" fillOpacity="0.35" />
      <path d="M36 42H74" />
    </>
  ),
  undecided: (
    <>
      <path d="M26 14H84V24H26z" />
      <path d="M46 34h16M54 30v12" strokeDasharray="2 3" />
    </>
  ),
};

const FLOORS: Record<string, ReactNode> = {
  sprung_wood: (
    <path d="M4 16H104M4 22H104M16 22v5c8 0-8 6 0 6v6M54 22v5c8 0-8 6 0 6v6M92 22v5c8 0-8 6 0 6v6M4 46H104" />
  ),
  hard_wood: <path d="M4 16H104M4 22H104M12 22v18h12V22M48 22v18h12V22M84 22v18h12V22M4 46H104" />,
  vinyl_foam: (
    <>
      <path d="M4 16H104M4 20H104M4 34H104" />
      {[10, 26, 42, 58, 74, 90].map((x) => (
        <circle key={x} cx={x} cy="27" r="3" />
      ))}
      <path d="M4 46H104" strokeWidth="2.5" />
    </>
  ),
  concrete: (
    <>
      <path d="M4 16H104" strokeWidth="3" />
      {[12, 30, 48, 66, 84].map((x) => (
        <path key={x} d={`M${x} 30l5 8h-10zM${x + 9} 22l3 4h-6z`} />
      ))}
    </>
  ),
  clay: (
    <>
      <path d="M4 24H104M14 20c14-10 30-10 44 0" strokeDasharray="2 3" />
      {[10, 24, 38, 52, 66, 80, 94].map((x) => (
        <path key={x} d={`M${x} 32h4M${x + 6} 40h3`} />
      ))}
    </>
  ),
};

const WICKETS: Record<string, ReactNode> = {
  grass: (
    <>
      <path d="M4 46H104M40 46V14M48 46V14M56 46V14M38 14H58" />
      {[66, 74, 82, 90, 98].map((x) => (
        <path key={x} d={`M${x} 46q1-5 3-9`} />
      ))}
    </>
  ),
  artificial_outdoor: (
    <>
      <path d="M4 46H104M40 46V14M48 46V14M56 46V14M38 14H58" />
      <path d="M62 44H102M62 41H102" strokeWidth="2" />
      <circle cx="90" cy="12" r="5" />
    </>
  ),
  artificial_indoor: (
    <>
      <path d="M4 46H104M40 46V20M48 46V20M56 46V20M38 20H58" />
      <path d="M4 6H104M4 6V46M104 6V46" />
      <path d="M62 43H102" strokeWidth="3" />
    </>
  ),
  sports_hall: (
    <>
      <path d="M4 46H104M40 46V20M48 46V20M56 46V20M38 20H58M4 6H104M4 6V46M104 6V46" />
      <path d="M64 52l8-6M78 52l8-6M92 52l8-6" strokeWidth="0.8" />
    </>
  ),
};

/** The picture of an answer; none where nothing would be told by one. */
export function Picture({ kind, value, picture = "" }: { kind: string; value: string; picture?: string }) {
  switch (kind) {
    case "surface":
      return <SurfacePicture surface={value} />;
    case "wall":
      return <Wall picture={picture} />;
    case "bar":
      return <Bar value={value} />;
    case "lift":
      return <Frame>{LIFTER[value]}</Frame>;
    case "pedal":
      return <Frame>{PEDALS[value]}</Frame>;
    case "floor":
      return <Frame>{FLOORS[value]}</Frame>;
    case "wicket":
      return <Frame>{WICKETS[value]}</Frame>;
    default:
      return null;
  }
}

/** A number drawn as it is typed: an edge under the toe, to scale; the knee's way to the wall. */
export function Gauge({ kind, value }: { kind: string; value: number | null | undefined }) {
  if (kind === "edge") {
    const mm = Math.min(Math.max(value ?? 15, 1), 60);
    const scale = 4;
    return (
      <svg width="330" height="150" role="img" aria-label={`An edge of ${mm} mm, drawn four times its size`}>
        <path d="M60 10V140" stroke="var(--ink)" strokeWidth="2.5" />
        <rect
          x="60"
          y="92"
          width={mm * scale}
          height="34"
          fill="color-mix(in srgb, var(--ink) 14%, transparent)"
          stroke="var(--ink)"
        />
        <path
          d={`M66 90c0-22 20-34 60-40l150-14v34l-120 20z`}
          fill="none"
          stroke="var(--right)"
          strokeWidth="2"
        />
        <text
          x={60 + (mm * scale) / 2}
          y="144"
          textAnchor="middle"
          fontSize="12"
          className="font-mono"
          fill="var(--ink)"
        >
          {mm} mm
        </text>
      </svg>
    );
  }
  if (kind === "wall_test") {
    const cm = Math.min(Math.max(value ?? 8, 0), 25);
    const toe = 250 - cm * 6;
    const lean = Math.atan((cm * 3.6 * Math.PI) / 180);
    const knee: [number, number] = [toe - 50 + 95 * Math.sin(lean), 128 - 95 * Math.cos(lean)];
    return (
      <svg
        width="330"
        height="150"
        role="img"
        aria-label={`Toes ${cm} cm from the wall, heel down, knee to the wall`}
      >
        <path d="M250 6V134M10 134H320" stroke="var(--ink)" strokeWidth="2.5" />
        <path
          d={`M${toe - 66} 132H${toe}l-30-12-20-4zM${toe - 50} 124L${knee[0]} ${knee[1]}L${knee[0] - 60} ${knee[1] - 20}`}
          fill="none"
          stroke="var(--right)"
          strokeWidth="2.2"
        />
        <path d={`M${toe} 142H250`} stroke="var(--ink)" />
        <text
          x={(toe + 250) / 2}
          y="149"
          textAnchor="middle"
          fontSize="12"
          className="font-mono"
          fill="var(--ink)"
        >
          {cm} cm
        </text>
      </svg>
    );
  }
  return null;
}
