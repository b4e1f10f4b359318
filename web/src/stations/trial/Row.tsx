/** A line of the trial: what is tried, and its answers; the one walked to has its answers numbered. */
import type { ReactNode } from "react";
import { useDesk } from "../../api/desk";
import { OneOf } from "../../ui/choice";

interface Props {
  index: number;
  current: boolean;
  onCurrent: () => void;
  label: string;
  value: string | null | undefined;
  options: { value: string; text: string }[];
  onChange: (value: string) => void;
  onClear?: () => void;
  children: ReactNode;
}

export function Row({
  index,
  current,
  onCurrent,
  label,
  value,
  options,
  onChange,
  onClear,
  children,
}: Props) {
  const { locked } = useDesk();
  return (
    <li
      data-row={index}
      aria-current={current ? "step" : undefined}
      onPointerDown={onCurrent}
      className={`grid grid-cols-[1fr_auto] items-center gap-3 border-line border-b border-l-4 py-1 pl-2 ${current ? "border-l-madder" : "border-l-transparent"}`}
    >
      <div>{children}</div>
      <OneOf
        label={label}
        arrowsFree
        value={value}
        disabled={locked}
        columns="flex gap-1.5 *:pr-5"
        options={options.map((o, i) => ({
          ...o,
          picture: current ? (
            <span aria-hidden="true" className="absolute top-0.5 right-1.5 font-mono text-xs opacity-70">
              {i + 1}
            </span>
          ) : null,
        }))}
        onChange={onChange}
        {...(onClear ? { onClear } : {})}
      />
    </li>
  );
}
