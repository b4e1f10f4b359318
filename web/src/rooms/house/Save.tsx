/** What is changed and not set yet: the next version of the house. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ask, http, type Schemas } from "../../api/client";
import { houseKey } from "../../api/house";
import { Button } from "../../ui/Button";

type HouseData = Schemas["House"];

export function Save({ draft, base, onDone }: { draft: HouseData; base: number; onDone: () => void }) {
  const client = useQueryClient();
  const save = useMutation({
    mutationFn: () => {
      const { version: _, ...house } = draft;
      return ask(http.PUT("/api/house", { body: { base_version: base, house } }));
    },
    onSuccess: (found) => {
      client.setQueryData(houseKey, found);
      for (const other of ["vocabulary", "today"]) void client.invalidateQueries({ queryKey: [other] });
      onDone();
    },
  });
  return (
    <div className="sticky top-0 z-10 mb-3 flex flex-wrap items-center gap-3 border-2 border-ink border-dashed bg-sheet p-2">
      <span>Changed, not set yet: new fittings will be computed under version {base + 1}.</span>
      <Button kind="strong" weight="weighty" disabled={save.isPending} onClick={() => save.mutate()}>
        Set version {base + 1}
      </Button>
      <Button onClick={onDone}>Leave it as it was</Button>
      {save.error && (
        <p role="alert" className="basis-full text-madder">
          {save.error.message}
        </p>
      )}
    </div>
  );
}
