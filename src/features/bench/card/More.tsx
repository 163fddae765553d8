import { ChevronRight } from "lucide-react";
import { Collapsible } from "radix-ui";
import type { ReactNode } from "react";

interface MoreProps {
  /** What is behind it, such as “reach, push, humanize”. */
  readonly what: string;
  /** How it begins; “More” if left out. */
  readonly name?: string;
  readonly isOpen: boolean;
  readonly onOpenChange: (isOpen: boolean) => void;
  readonly children: ReactNode;
}

/** The settings that people reach for less often, behind one line. */
export function More({ what, name = "More", isOpen, onOpenChange, children }: MoreProps) {
  return (
    <Collapsible.Root open={isOpen} onOpenChange={onOpenChange} className="mt-2">
      <Collapsible.Trigger className="group flex items-center gap-0.5 text-left text-small font-bold text-spruce underline">
        <ChevronRight size={13} className="shrink-0 group-data-[state=open]:rotate-90" />
        {name}: {what}
      </Collapsible.Trigger>
      <Collapsible.Content className="mt-1">{children}</Collapsible.Content>
    </Collapsible.Root>
  );
}
