/** A dialog (Radix): one title, one matter. */
import { Dialog as Radix } from "radix-ui";
import type { ReactNode } from "react";

export function Dialog({
  open,
  onClose,
  title,
  wide,
  children,
}: {
  open: boolean;
  onClose: () => void;
  title: string;
  wide?: boolean;
  children: ReactNode;
}) {
  return (
    <Radix.Root open={open} onOpenChange={(now) => !now && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-30 bg-[#081216]/50" />
        <Radix.Content
          aria-describedby={undefined}
          className={`bg-leaf border-edge fixed top-1/2 left-1/2 z-40 max-h-[90vh] ${wide ? "w-[min(860px,94vw)]" : "w-[min(560px,94vw)]"} -translate-x-1/2 -translate-y-1/2 overflow-auto rounded-[4px] border p-6 shadow-xl`}
        >
          <Radix.Title className="mb-4 font-serif text-[20px] leading-7 font-semibold">{title}</Radix.Title>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
