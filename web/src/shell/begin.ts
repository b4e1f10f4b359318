/** Beginning a fitting, of an athlete or of somebody without a name: once, however often it is pressed or sent. */
import { useMutation } from "@tanstack/react-query";
import { useRef } from "react";
import { useNavigate } from "react-router";
import { ask, http, type Schemas } from "../api/client";
import { useStoreFitting } from "../api/fitting";
import { arrived, hold } from "../ui/ahead";

const fresh = () => ({ fitting: crypto.randomUUID(), change: crypto.randomUUID() });

function useBeginning<Of>(
  send: (of: Of, ids: { fitting: string; change: string }) => Promise<Schemas["FittingOut"]>,
) {
  const navigate = useNavigate();
  const store = useStoreFitting();
  const ids = useRef(fresh());
  return useMutation({
    mutationFn: (of: Of) => {
      hold("place", "n");
      return send(of, ids.current);
    },
    onSuccess: (fitting) => {
      ids.current = fresh();
      store(fitting);
      navigate(`/fittings/${fitting.id}/feet`);
    },
    onError: () => void arrived(),
  });
}

export const useBegin = () =>
  useBeginning((athlete: string, { fitting }) =>
    ask(http.POST("/api/fittings", { body: { id: fitting, athlete_id: athlete } })),
  );

/** Somebody who comes in without a name, known by how they look and when they came. */
export const useWalkIn = () =>
  useBeginning((called: string, { fitting, change }) =>
    ask(http.POST("/api/walk-ins", { body: { fitting_id: fitting, change_id: change, called } })),
  );
