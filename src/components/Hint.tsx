import { Tooltip } from "radix-ui";
import type { ReactNode } from "react";
import { Key } from "./Key.tsx";

/** A tooltip that says what a control does and by which key. */
export function Hint({ text, keys, children }: { text: string; keys?: string; children: ReactNode }) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={6}
          collisionPadding={8}
          className="z-50 max-w-64 rounded-md bg-ink px-2.5 py-1.5 text-small text-paper shadow-md"
        >
          {text} {keys && <Key>{keys}</Key>}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
