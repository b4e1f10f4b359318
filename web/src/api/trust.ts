/** How tablets come to this machine. */
import { useQuery } from "@tanstack/react-query";
import { ask, http } from "./client";
import { useHouse } from "./house";

export const useTrust = () =>
  useQuery({ queryKey: ["trust"], queryFn: () => ask(http.GET("/api/trust")), staleTime: 15_000 });

const HERE_ALONE = /^(localhost|127\.|\[::1\])/;

/** Where links given to others lead, and whether that is this machine alone. */
export function useLinks(): { to: (path: string) => string; onlyHere: boolean } {
  const known = useHouse().data?.link_address;
  const address = known ?? location.origin;
  return { to: (path) => address + path, onlyHere: HERE_ALONE.test(new URL(address).host) };
}
