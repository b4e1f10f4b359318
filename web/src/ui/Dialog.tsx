/** A dialog over the sheet, closed by its button, Escape, or a press beside it. */
import { Dialog as RadixDialog } from "radix-ui";
import type { ReactNode } from "react";

interface DialogProps {
  open: boolean;
  onClose: () => void;
  title: string;
  wide?: boolean;
  /** It can't be closed: something has to be decided first. */
  stays?: boolean;
  children: ReactNode;
}

export function Dialog({ open, onClose, title, wide = false, stays = false, children }: DialogProps) {
  return (
    <RadixDialog.Root open={open} onOpenChange={(o) => !o && onClose()}>
      <RadixDialog.Portal>
        <RadixDialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <RadixDialog.Content
          aria-describedby={undefined}
          className={`fixed top-1/2 left-1/2 z-50 max-h-[92vh] -translate-x-1/2 -translate-y-1/2 overflow-auto border-2 border-ink bg-sheet p-5 ${wide ? "w-[min(46rem,94vw)]" : "w-[min(36rem,92vw)]"}`}
        >
          <RadixDialog.Title className="mr-10 mb-3 font-semibold text-xl leading-tight">
            {title}
          </RadixDialog.Title>
          {children}
          {!stays && (
            <RadixDialog.Close
              className="absolute top-1 right-1 grid size-11 place-items-center hover:bg-paper"
              aria-label="Close"
            >
              <svg width="16" height="16" aria-hidden="true" stroke="currentColor" strokeWidth="2">
                <path d="M2 2L14 14M14 2L2 14" />
              </svg>
            </RadixDialog.Close>
          )}
        </RadixDialog.Content>
      </RadixDialog.Portal>
    </RadixDialog.Root>
  );
}
