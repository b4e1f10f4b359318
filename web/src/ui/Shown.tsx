/** A secret shown this once: to be copied, or read by a camera, and given to whom it is for. */
import { type ReactNode, useState } from "react";
import { useLinks } from "../api/trust";
import { Button } from "./Button";
import { Qr } from "./Qr";

export function Shown({ label, path, children }: { label: string; path: string; children: ReactNode }) {
  const { to, onlyHere } = useLinks();
  const link = to(path);
  const [copied, setCopied] = useState(false);
  return (
    <section aria-label={label} className="flex gap-4 border-madder border-l-4 bg-paper p-3 max-sm:block">
      <div className="min-w-0 flex-1">
        <p>{children}</p>
        <p className="mt-1 break-all font-mono text-sm" data-link>
          {link}
        </p>
        {onlyHere && (
          <p className="mt-1 border-madder border-l-4 pl-2 text-sm">
            This opens on this machine alone: nobody has said how others reach it. House, Tablets does.
          </p>
        )}
        <Button
          className="mt-2"
          onClick={() => void navigator.clipboard?.writeText(link).then(() => setCopied(true))}
        >
          {copied ? "Copied" : "Copy it"}
        </Button>
      </div>
      {!onlyHere && <Qr text={link} label={`${label}, for a camera`} />}
    </section>
  );
}
