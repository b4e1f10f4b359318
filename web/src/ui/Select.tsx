/** One of many, in our look: a button that opens the list, walked by arrows and first letters. */
import { getNonce } from "get-nonce";
import { Select as Radix } from "radix-ui";
import { useId } from "react";

interface Props {
  label: string;
  value: string | null | undefined;
  options: { value: string; text: string }[];
  onChange: (value: string) => void;
  /** What stands there while nothing is chosen. */
  empty?: string;
  disabled?: boolean;
  className?: string;
  /** Where the focus goes once it is closed; back to the button when not said. */
  after?: () => HTMLElement | null;
}

export function Select({
  label,
  value,
  options,
  onChange,
  empty = "not said",
  disabled,
  className = "",
  after,
}: Props) {
  const id = useId();
  return (
    <div className={`min-w-0 ${className}`}>
      <span id={id} className="block text-faint text-xs leading-tight">
        {label}
      </span>
      <Radix.Root value={value ?? ""} onValueChange={onChange} disabled={disabled ?? false}>
        <Radix.Trigger
          aria-labelledby={id}
          className="flex min-h-11 w-full min-w-24 items-center justify-between gap-2 rounded-sm border border-ink/45 bg-sheet px-2.5 text-left leading-tight hover:bg-paper disabled:opacity-60"
        >
          <Radix.Value placeholder={empty} />
          <Radix.Icon asChild>
            <svg width="12" height="8" aria-hidden="true" fill="none" stroke="currentColor" strokeWidth="1.8">
              <path d="M1 1.5L6 6.5L11 1.5" />
            </svg>
          </Radix.Icon>
        </Radix.Trigger>
        <Radix.Portal>
          <Radix.Content
            position="popper"
            sideOffset={2}
            onCloseAutoFocus={(e) => {
              const next = after?.();
              if (!next) return;
              e.preventDefault();
              next.focus();
            }}
            className="z-50 max-h-[min(24rem,var(--radix-select-content-available-height))] min-w-(--radix-select-trigger-width) overflow-y-auto border-2 border-ink bg-sheet"
          >
            <Radix.Viewport nonce={getNonce()}>
              {options.map((o) => (
                <Radix.Item
                  key={o.value}
                  value={o.value}
                  className="flex min-h-11 cursor-default items-center gap-2 px-3 outline-none data-[highlighted]:bg-ink data-[state=checked]:font-semibold data-[highlighted]:text-sheet"
                >
                  <Radix.ItemText>{o.text}</Radix.ItemText>
                  <Radix.ItemIndicator>✓</Radix.ItemIndicator>
                </Radix.Item>
              ))}
            </Radix.Viewport>
          </Radix.Content>
        </Radix.Portal>
      </Radix.Root>
    </div>
  );
}
