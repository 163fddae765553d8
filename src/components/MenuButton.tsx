import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";
import { leaveFocus } from "./page/leave-focus.ts";
import { findByWord } from "./sentence/find-by-word.ts";
import type { Choice } from "./sentence/SentenceChoice.tsx";

interface MenuButtonProps {
  readonly label: string;
  readonly children?: ReactNode;
  readonly groups: readonly (readonly Choice[])[];
  /** Its look, if not that of a button that stands for itself. */
  readonly className?: string;
  readonly onPreview?: (id: string) => void;
  readonly onChoose: (id: string) => void;
  readonly onCancel?: () => void;
}

/** A button with things to choose from, each done at once. */
export function MenuButton({ label, children, groups, className, onPreview, onChoose, onCancel }: MenuButtonProps) {
  return (
    <DropdownMenu.Root modal={false} onOpenChange={(isOpen) => !isOpen && onCancel?.()}>
      <DropdownMenu.Trigger
        aria-label={label}
        className={
          className ??
          "max-w-[150px] truncate rounded-lg border-[1.5px] border-spruce px-2.5 py-0.5 text-small font-semibold text-spruce hover:bg-spruce-tint data-[state=open]:bg-spruce-tint"
        }
      >
        {children ?? label}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={6}
          collisionPadding={10}
          onKeyDown={findByWord}
          onCloseAutoFocus={leaveFocus}
          className="z-50 max-h-[min(70vh,var(--radix-dropdown-menu-content-available-height))] min-w-52 overflow-y-auto rounded-xl border border-hairline-strong bg-sheet p-1.5 shadow-lg"
        >
          {groups
            .filter((group) => group.length > 0)
            .map((group, index) => (
              <DropdownMenu.Group key={group[0]?.id} className={index > 0 ? "mt-1 border-t border-hairline pt-1" : ""}>
                {group.map(({ id, name, note }) => (
                  <DropdownMenu.Item
                    key={id}
                    onFocus={() => onPreview?.(id)}
                    onSelect={() => onChoose(id)}
                    className="flex items-baseline justify-between gap-4 rounded-md px-2.5 py-1 outline-none data-[highlighted]:bg-spruce-tint"
                  >
                    <span>{name}</span>
                    {note && <span className="text-fine text-muted">{note}</span>}
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.Group>
            ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
