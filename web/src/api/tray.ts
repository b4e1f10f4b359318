/** A fitting's tray: pairs put into it and back out of it, each with its way back. */
import { useMutation } from "@tanstack/react-query";
import { ask, type Fitting, http, type Trouble } from "./client";
import { useStoreFitting } from "./fitting";
import { remember } from "./history";
import { whenSaved } from "./saved";

export interface TrayMove {
  line: string;
  out: boolean;
  /** Why it is taken although it is promised to another. */
  anyway?: string;
  /** The pair, as it is called there. */
  name: string;
}

const URL = "/api/fittings/{fitting_id}/tray/{line_id}";

/** Put a pair into a fitting's tray, or back; the fitting as it is then. */
async function moved(fitting: string, { line, out, anyway }: Omit<TrayMove, "name">): Promise<Fitting> {
  const path = { fitting_id: fitting };
  const params = { params: { path: { ...path, line_id: line } } };
  const tray = await ask(
    out ? http.DELETE(URL, params) : http.PUT(URL, anyway ? { ...params, body: { anyway } } : params),
  );
  const whole = await ask(http.GET("/api/fittings/{fitting_id}", { params: { path } }));
  return { ...whole, tray };
}

export function useTray(fitting: string, onSettled?: () => void) {
  const store = useStoreFitting();
  return useMutation<Fitting, Trouble, TrayMove>({
    mutationFn: async (move) => {
      if (!move.out) await whenSaved(fitting);
      return moved(fitting, move);
    },
    onSuccess: (whole, move) => {
      store(whole);
      const way = (out: boolean) => moved(fitting, { ...move, out }).then(store);
      remember({
        where: fitting,
        says: `${move.name} ${move.out ? "put back" : "into the tray"}`,
        back: () => way(!move.out),
        again: () => way(move.out),
      });
    },
    ...(onSettled ? { onSettled } : {}),
  });
}
