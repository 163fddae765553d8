"use client";

import { Check } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { leaveFocus } from "../page/leave-focus.ts";
import { findByWord } from "./find-by-word.ts";

export interface Choice {
  readonly id: string;
  readonly name: string;
  /** A word of comment, such as how well it fits. */
  readonly note?: string;
}

interface SentenceChoiceProps {
  readonly label: string;
  readonly chosenId: string;
  readonly groups: readonly (readonly Choice[])[];
  readonly onPreview?: (id: string) => void;
  readonly onChoose: (id: string) => void;
  readonly onCancel?: () => void;
  /** Given if something else opens it too, such as a key. */
  readonly isOpen?: boolean;
  readonly onOpenChange?: (isOpen: boolean) => void;
}

/** A word in a sentence with others to take its place. What one would do is shown while it is pointed at. */
export function SentenceChoice(props: SentenceChoiceProps) {
  const { label, chosenId, groups, onPreview, onChoose, onCancel, isOpen, onOpenChange } = props;
  const chosen = groups.flat().find((choice) => choice.id === chosenId);
  return (
    <DropdownMenu.Root
      modal={false}
      {...(isOpen === undefined ? {} : { open: isOpen })}
      onOpenChange={(willOpen) => {
        onOpenChange?.(willOpen);
        if (!willOpen) onCancel?.();
      }}
    >
      <DropdownMenu.Trigger
        aria-label={`${label}: ${chosen?.name ?? chosenId}`}
        className="border-b-[1.5px] border-dotted border-spruce font-bold hover:bg-spruce-tint data-[state=open]:bg-spruce-tint"
      >
        {chosen?.name ?? chosenId}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={6}
          collisionPadding={10}
          onKeyDown={findByWord}
          onCloseAutoFocus={leaveFocus}
          className="z-50 max-h-[min(70vh,var(--radix-dropdown-menu-content-available-height))] min-w-56 overflow-y-auto rounded-xl border border-hairline-strong bg-sheet p-1.5 shadow-lg"
        >
          <DropdownMenu.RadioGroup value={chosenId} onValueChange={onChoose}>
            {groups.map((group, index) => (
              <div key={group[0]?.id} className={index > 0 ? "mt-1 border-t border-hairline pt-1" : ""}>
                {group.map(({ id, name, note }) => (
                  <DropdownMenu.RadioItem
                    key={id}
                    value={id}
                    onFocus={() => onPreview?.(id)}
                    className="grid grid-cols-[18px_1fr_auto] items-center gap-2 rounded-md px-2 py-1 outline-none data-[highlighted]:bg-spruce-tint"
                  >
                    <DropdownMenu.ItemIndicator className="col-start-1">
                      <Check size={14} />
                    </DropdownMenu.ItemIndicator>
                    <span className="col-start-2">{name}</span>
                    {note && <span className="text-fine text-muted">{note}</span>}
                  </DropdownMenu.RadioItem>
                ))}
              </div>
            ))}
          </DropdownMenu.RadioGroup>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
