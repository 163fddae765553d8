import { ContextMenu } from "radix-ui";
import { type MouseEvent, type ReactNode, type PointerEvent as ReactPointerEvent, useRef, useState } from "react";
import { Key } from "../../../components/Key.tsx";
import { say } from "../../../components/messages/say.ts";
import { leaveFocus } from "../../../components/page/leave-focus.ts";
import { useBench } from "../../../store/bench/bench-context.ts";
import { useKeyNames } from "../commands/command-keys.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { type PointMenu as Menu, menuAt } from "../commands/menu-items.ts";
import { HEAD_WIDTH_PX } from "./lane-layout.ts";
import type { Point } from "./under-pointer.ts";

/** Offers, by the other button, a long press or the menu key, what can be done where the pointer is. */
export function PointMenu({ children }: { children: ReactNode }) {
  const bench = useBench();
  const keyName = useKeyNames();
  const [menu, setMenu] = useState<Menu | null>(null);
  /** Where a finger rests: a long press opens the menu without asking for one. */
  const touched = useRef<Point | null>(null);
  const pointOf = (event: MouseEvent<HTMLElement>): Point => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - left - HEAD_WIDTH_PX, y: event.clientY - top };
  };
  const press = (event: ReactPointerEvent<HTMLElement>) => {
    touched.current = event.pointerType === "mouse" ? null : pointOf(event);
  };
  const open = (event: MouseEvent<HTMLElement>) => {
    const point = pointOf(event);
    touched.current = null;
    // Asked for by key, a menu is about what is picked, wherever the browser says that it was asked for.
    const isByKey = (event.nativeEvent as PointerEvent).pointerType === "";
    const next = menuAt(bench, isByKey ? null : point);
    setMenu(next);
    if (next) return;
    event.preventDefault();
    if (isByKey) say("Select some hits first, with the arrow keys.");
  };
  return (
    <ContextMenu.Root
      modal={false}
      onOpenChange={(isOpen) => {
        if (isOpen && touched.current) setMenu(menuAt(bench, touched.current));
      }}
    >
      <ContextMenu.Trigger asChild onContextMenu={open} onPointerDown={press}>
        {children}
      </ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content
          aria-label={menu?.title}
          collisionPadding={8}
          onCloseAutoFocus={leaveFocus}
          className="z-50 max-h-[80vh] min-w-60 overflow-y-auto rounded-xl border border-hairline-strong bg-sheet p-1.5 text-base shadow-lg"
        >
          <ContextMenu.Label className="px-2 py-0.5 text-fine text-muted">{menu?.title}</ContextMenu.Label>
          {menu?.groups
            .filter((group) => group.length > 0)
            .map((group, index) => (
              <ContextMenu.Group key={group[0]?.id}>
                {index > 0 && <ContextMenu.Separator className="my-1 border-t border-hairline" />}
                {group.map((item) => (
                  <ContextMenu.Item
                    key={item.id}
                    className="flex items-center justify-between gap-5 rounded-md px-2 py-0.5 outline-none data-[highlighted]:bg-spruce-tint"
                    onSelect={() => {
                      doAndSay(bench, () => item.run(bench));
                    }}
                  >
                    {item.name}
                    {item.commandId && keyName(item.commandId) && <Key>{keyName(item.commandId)}</Key>}
                  </ContextMenu.Item>
                ))}
              </ContextMenu.Group>
            ))}
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}
