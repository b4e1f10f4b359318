/** Files of one place on their way: how far, at what, and what went wrong. */
import type { ReactNode } from "react";
import { dropUpload, type Upload, uploadAgain, useUploads } from "../api/uploads";
import { Button } from "./Button";

interface ListProps {
  /** The place they are of. */
  of: string;
  /** What mends a refused one, where trying again doesn't. */
  mend?: (upload: Upload) => ReactNode;
}

export function UploadList({ of, mend }: ListProps) {
  const here = useUploads().filter((u) => u.of === of);
  if (!here.length) return null;
  return (
    <ul className="space-y-1" aria-label="Being measured">
      {here.map((u) => (
        <li key={u.id} className="border border-ink bg-sheet px-3 py-1">
          {u.trouble ? <Failed upload={u} mend={mend?.(u)} /> : <OnItsWay upload={u} />}
        </li>
      ))}
    </ul>
  );
}

function Failed({ upload, mend }: { upload: Upload; mend: ReactNode }) {
  return (
    <div className="flex flex-wrap items-center justify-between gap-2">
      <p role="alert" className="text-madder">
        <b>{upload.name}: </b>
        {upload.trouble?.title}
        {!upload.refused && " It is sent again by itself."}
      </p>
      <span className="flex items-end gap-1">
        {mend || (
          <Button kind="quiet" onClick={() => uploadAgain(upload.id)}>
            Try again
          </Button>
        )}
        <Button kind="quiet" onClick={() => dropUpload(upload.id)}>
          Close
        </Button>
      </span>
    </div>
  );
}

const OnItsWay = ({ upload }: { upload: Upload }) => (
  <div className="flex items-center gap-3">
    <span className="min-w-0 truncate">{upload.name}</span>
    <progress
      className="h-3 flex-1 accent-(--madder)"
      value={upload.share}
      max={1}
      aria-label={`${upload.name}: ${upload.step}`}
    />
    <span className="shrink-0 text-faint text-sm" role="status">
      {upload.step} …
    </span>
  </div>
);
