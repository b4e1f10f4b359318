/** The card of sizes with the athlete's page on it: to print, or a picture for their phone. */
import { useMutation } from "@tanstack/react-query";
import { ask, http } from "../../api/client";
import { useLinks } from "../../api/trust";
import { Button } from "../../ui/Button";

type Form = "pdf" | "png";

/** Handed to the browser as a file of its own: an address would have to hold the secret. */
function keep(file: Blob, name: string): void {
  const url = URL.createObjectURL(file);
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}

export function SizeCard({ fittingId, path }: { fittingId: string; path: string }) {
  const { to } = useLinks();
  const made = useMutation({
    mutationFn: async (form: Form) => {
      const file = await ask(
        http.POST("/api/fittings/{fitting_id}/size-card.{form}", {
          params: { path: { fitting_id: fittingId, form } },
          body: { link: to(path) },
          parseAs: "blob",
        }),
      );
      keep(file as Blob, `size-card.${form}`);
    },
  });
  return (
    <p className="mt-3 flex flex-wrap items-center gap-2">
      <span>A card of their sizes, with this code on it:</span>
      <Button disabled={made.isPending} onClick={() => made.mutate("pdf")}>
        PDF
      </Button>
      <Button disabled={made.isPending} onClick={() => made.mutate("png")}>
        Picture
      </Button>
      {made.error && <span role="alert">{made.error.message}</span>}
    </p>
  );
}
