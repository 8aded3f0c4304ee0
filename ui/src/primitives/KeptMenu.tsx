import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

/** A menu of what was kept under names: one keeps more, one brings each back, one forgets it. */
export function KeptMenu({
  label,
  keepLabel,
  keep,
  items,
  show,
  forget,
  testId,
  itemTestId,
}: {
  label: string;
  keepLabel: string;
  /** null where there is nothing to keep. */
  keep: (() => void) | null;
  items: { name: string; note?: ReactNode }[];
  show: (place: number) => void;
  forget: (place: number) => void;
  testId: string;
  itemTestId: string;
}) {
  const row = "cursor-pointer px-3 py-[3px] outline-none data-[highlighted]:bg-lo";
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="textlink" data-testid={testId}>
        {label}
        {items.length ? ` ${items.length}` : ""}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="z-50 min-w-56 border border-ink bg-hi py-1" align="start">
          {keep && (
            <DropdownMenu.Item className={`${row} font-semibold`} onSelect={keep} data-testid={`keep-${itemTestId}`}>
              {keepLabel}
            </DropdownMenu.Item>
          )}
          {items.map(({ name, note }, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: kept in the order in which they came, without ids
            <div key={i} className="flex items-center">
              <DropdownMenu.Item
                className={`${row} min-w-0 flex-1 truncate`}
                onSelect={() => show(i)}
                data-testid={`${itemTestId}-${i}`}
              >
                {name} {note && <span className="text-ink3">{note}</span>}
              </DropdownMenu.Item>
              <DropdownMenu.Item
                className="cursor-pointer px-2 text-ink3 outline-none data-[highlighted]:bg-lo"
                aria-label={`forget ${name}`}
                onSelect={() => forget(i)}
              >
                ×
              </DropdownMenu.Item>
            </div>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
