/** A secret shown this once: to be copied, and sent to whom it is for. */
import { useState } from "react";
import { Button } from "./Button";

export function Shown({ label, link, children }: { label: string; link: string; children: React.ReactNode }) {
  const [copied, setCopied] = useState(false);
  return (
    <section aria-label={label} className="border-madder border-l-4 bg-paper p-3">
      <p>{children}</p>
      <p className="mt-1 break-all font-mono text-sm" data-link>
        {link}
      </p>
      <Button
        className="mt-2"
        onClick={() => void navigator.clipboard?.writeText(link).then(() => setCopied(true))}
      >
        {copied ? "Copied" : "Copy it"}
      </Button>
    </section>
  );
}
