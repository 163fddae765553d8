import { X } from "lucide-react";
import { Dialog } from "radix-ui";
import type { ReactNode } from "react";
import { useBackCloses } from "./use-back-closes.ts";
import { useFocusBack } from "./use-focus-back.ts";

interface SheetProps {
  readonly title: string;
  readonly lead?: string;
  readonly isOpen: boolean;
  readonly onOpenChange: (isOpen: boolean) => void;
  readonly children: ReactNode;
}

/** A sheet of paper laid over the screen. */
export function Sheet({ title, lead, isOpen, onOpenChange, children }: SheetProps) {
  useFocusBack(isOpen);
  useBackCloses(isOpen, () => onOpenChange(false));
  return (
    <Dialog.Root open={isOpen} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/45" />
        <Dialog.Content
          {...(lead ? {} : { "aria-describedby": undefined })}
          className="fixed top-1/2 left-1/2 z-40 max-h-[86vh] w-[min(680px,92vw)] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-xl border border-hairline-strong bg-sheet p-6 shadow-xl"
        >
          <Dialog.Title className="pr-10 text-title font-bold">{title}</Dialog.Title>
          {lead && <Dialog.Description className="mt-1 mb-4 text-muted">{lead}</Dialog.Description>}
          {children}
          <Dialog.Close aria-label="Close" className="absolute top-5 right-5 rounded-md p-1 text-muted hover:text-ink">
            <X size={18} />
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
