/** What this device may do here, looked at one after the other. */
import { useQuery } from "@tanstack/react-query";
import { allFine, checkDevice } from "../api/device";
import { Button } from "../ui/Button";

export function Checks() {
  const found = useQuery({
    queryKey: ["device"],
    queryFn: checkDevice,
    gcTime: 0,
    staleTime: 0,
    retry: false,
  });
  if (!found.data) return <p role="status">Looking at what works here …</p>;
  const fine = allFine(found.data);
  return (
    <div role="status">
      <p className={`border-l-4 pl-3 font-semibold text-lg ${fine ? "border-ink" : "border-madder"}`}>
        {fine ?? "Not everything works here yet."}
      </p>
      <dl className="mt-2">
        {found.data.map((c) => (
          <div key={c.name} className="flex min-h-9 items-center gap-3 border-line border-b">
            <Mark fine={c.fine} />
            <dt className="w-40 font-semibold">{c.name}</dt>
            <dd>{c.said}</dd>
          </div>
        ))}
      </dl>
      <Button className="mt-2" disabled={found.isFetching} onClick={() => void found.refetch()}>
        Look again
      </Button>
    </div>
  );
}

const Mark = ({ fine }: { fine: boolean }) => (
  <svg width="18" height="18" role="img" aria-label={fine ? "fine" : "not yet"} fill="none" strokeWidth="2.5">
    {fine ? (
      <path d="M2 10L7 15L16 3" stroke="currentColor" />
    ) : (
      <path d="M3 3L15 15M15 3L3 15" stroke="var(--madder)" />
    )}
  </svg>
);
