/** The camera or a file, behind a button of one's own. */
import type { Ref } from "react";
import { PICTURES } from "./names";

interface Props {
  ref: Ref<HTMLInputElement>;
  of: string;
  onFile: (file: File) => void;
}

export const PictureInput = ({ ref, of, onFile }: Props) => (
  <input
    ref={ref}
    type="file"
    accept={PICTURES}
    capture="environment"
    className="sr-only"
    tabIndex={-1}
    aria-label={`Picture of the ${of}`}
    onChange={(e) => {
      const chosen = e.target.files?.[0];
      if (chosen) onFile(chosen);
      e.target.value = "";
    }}
  />
);
