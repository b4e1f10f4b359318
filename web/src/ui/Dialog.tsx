/** A dialog over the sheet, closed by its button, Escape, or a press beside it. The focus begins at its first field, never
 * at something that acts, and goes back to what opened it. */
import { Dialog as RadixDialog } from "radix-ui";
import { type KeyboardEvent, type ReactNode, useRef, useState } from "react";
import { FrameContext } from "./words";

interface DialogProps {
  open: boolean;
  onClose: () => void;
  title: string;
  wide?: boolean;
  /** It can't be closed: something has to be decided first. */
  stays?: boolean;
  /** It came by itself: what is being typed was meant for something else. */
  unasked?: boolean;
  children: ReactNode;
}

const FIELDS =
  "[data-first], input:not([type=checkbox], [type=radio], [type=file], [type=hidden]), textarea, select";

export function Dialog({ open, onClose, title, wide, stays, unasked, children }: DialogProps) {
  const content = useRef<HTMLDivElement>(null);
  const opener = useRef<Element | null>(null);
  const was = useRef(false);
  if (open && !was.current) opener.current = document.activeElement;
  was.current = open;
  /** So many keys were typed while it came up, and went nowhere. */
  const [unheard, setUnheard] = useState(0);
  const listen = (event: KeyboardEvent) => {
    const typed = event.key.length === 1 && !event.ctrlKey && !event.metaKey;
    if (unasked && typed && event.target === content.current) setUnheard((n) => n + 1);
  };
  const begin = (event: Event) => {
    event.preventDefault();
    const field = unasked ? null : content.current?.querySelector<HTMLElement>(FIELDS);
    (field ?? content.current)?.focus();
    if (field instanceof HTMLInputElement) field.select();
  };
  const goBack = (event: Event) => {
    event.preventDefault();
    if (opener.current instanceof HTMLElement && opener.current.isConnected) opener.current.focus();
  };
  return (
    <RadixDialog.Root open={open} onOpenChange={(o) => !o && onClose()}>
      <RadixDialog.Portal>
        <RadixDialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <RadixDialog.Content
          ref={content}
          aria-describedby={undefined}
          onKeyDown={listen}
          onOpenAutoFocus={begin}
          onCloseAutoFocus={goBack}
          className={`fixed top-1/2 left-1/2 z-50 max-h-[92vh] -translate-x-1/2 -translate-y-1/2 overflow-auto border-2 border-ink bg-sheet p-5 outline-none ${wide ? "w-[min(46rem,94vw)]" : "w-[min(36rem,92vw)]"}`}
        >
          <RadixDialog.Title className="mr-10 mb-3 font-semibold text-xl leading-tight">
            {title}
          </RadixDialog.Title>
          {unheard > 0 && (
            <p role="status" className="mb-3 border-madder border-l-4 pl-2">
              {unheard === 1 ? "1 key" : `${unheard} keys`} typed while this came up went nowhere.
            </p>
          )}
          <FrameContext.Provider value="whole">{children}</FrameContext.Provider>
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
