/** A ground in section: what a stud would meet. */
const BLADES = Array.from({ length: 15 }, (_, i) => 4 + i * 7);

export function SurfacePicture({ surface }: { surface: string }) {
  const soft = surface === "soft_natural";
  const firm = surface === "firm_natural";
  const hard = surface === "hard_natural";
  return (
    <svg
      viewBox="0 0 108 40"
      className="mb-1 h-10 w-27"
      aria-hidden="true"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.3"
    >
      {(soft || firm || hard) && (
        <>
          {BLADES.map((x) => (
            <path key={x} d={`M${x} 20q${hard ? 0 : 1}-4 ${hard ? 1 : 2}-${hard ? 4 : 9}`} />
          ))}
          <path d="M0 20H108" />
          {[0, 1, 2].map((r) => (
            <path
              key={r}
              d={`M${r * 6} ${26 + r * 5}H108`}
              strokeDasharray={soft ? "1 7" : firm ? "5 5" : "12 2"}
            />
          ))}
        </>
      )}
      {surface === "artificial_grass" && (
        <>
          {BLADES.map((x) => (
            <path key={x} d={`M${x} 34q2-12 1-24`} />
          ))}
          {BLADES.map((x) => (
            <g key={`g${x}`} fill="currentColor" stroke="none">
              <circle cx={x + 3.5} cy="31" r="1.6" />
              <circle cx={x + 3} cy="26" r="1.4" />
            </g>
          ))}
          <path d="M0 34H108" strokeWidth="2.2" />
        </>
      )}
      {surface === "carpet_turf" && (
        <>
          {BLADES.map((x) => (
            <path key={x} d={`M${x} 22v-6M${x + 3.5} 22v-6`} />
          ))}
          <path d="M0 22H108" strokeWidth="2.2" />
          <path d="M0 28H108M0 34H108" strokeWidth="2" />
        </>
      )}
      {surface === "indoor_hall" && (
        <>
          <path d="M0 20H108M0 26H108" strokeWidth="2" />
          {[10, 46, 82].map((x) => (
            <path key={x} d={`M${x} 20v6M${x + 8} 26l4 8h8l4-8`} />
          ))}
        </>
      )}
    </svg>
  );
}
