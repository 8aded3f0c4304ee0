import { Dialog } from "radix-ui";
import type { ComponentProps, ReactNode } from "react";

type Props = Omit<ComponentProps<typeof Dialog.Content>, "title"> & {
  title: ReactNode;
  wide: number;
  testId: string;
};

/** A page drawn over the stage: its title, a way to close it, and what it holds. Stands inside a `Dialog.Root`. */
export function Page({ title, wide, testId, children, ...more }: Props) {
  return (
    <Dialog.Portal>
      <Dialog.Overlay className="fixed inset-0 z-20 bg-ink/30" />
      <Dialog.Content
        className="fixed left-1/2 top-12 z-20 flex max-h-[88vh] -translate-x-1/2 flex-col border border-ink bg-hi"
        style={{ width: wide }}
        aria-describedby={undefined}
        data-testid={testId}
        {...more}
      >
        <p className="flex items-baseline justify-between border-b border-rule2 px-4 py-2">
          <Dialog.Title className="text-[15px] font-semibold">{title}</Dialog.Title>
          <Dialog.Close className="textlink">close</Dialog.Close>
        </p>
        {children}
      </Dialog.Content>
    </Dialog.Portal>
  );
}
