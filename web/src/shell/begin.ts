/** Beginning a fitting: once, however often it is pressed or sent. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, http } from "../api/client";
import { useStoreFitting } from "../api/fitting";
import { arrived, hold } from "../ui/ahead";

export function useBegin() {
  const navigate = useNavigate();
  const store = useStoreFitting();
  const [fittingId] = useState(() => crypto.randomUUID());
  return useMutation({
    mutationFn: (athlete: string) => {
      hold();
      return ask(http.POST("/api/fittings", { body: { id: fittingId, athlete_id: athlete } }));
    },
    onSuccess: (fitting) => {
      store(fitting);
      navigate(`/fittings/${fitting.id}/feet`);
    },
    onError: () => void arrived(),
  });
}
