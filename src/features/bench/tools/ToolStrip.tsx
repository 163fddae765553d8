import clsx from "clsx";
import { Eraser, MousePointer2, Pencil } from "lucide-react";
import { RadioGroup } from "radix-ui";
import { useEffect } from "react";
import { Hint } from "../../../components/Hint.tsx";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { followClipboard } from "../../../store/bench/clipboard.ts";
import { TOOLS, type Tool } from "../../../store/bench/write-settings.ts";
import { useKeyNames } from "../commands/command-keys.ts";
import { SelectionBar } from "../selection/SelectionBar.tsx";
import { DrawSettings } from "./DrawSettings.tsx";

const LOOKS = {
  select: { name: "Select", Icon: MousePointer2, does: "Select and move hits", key: "none" },
  draw: { name: "Draw", Icon: Pencil, does: "Draw hits; hold the key to draw for a moment", key: "draw" },
  erase: { name: "Erase", Icon: Eraser, does: "Remove the hits that are passed", key: "erase" },
} as const satisfies Readonly<Record<Tool, unknown>>;

/** Over the lanes: what the pointer does, and what there is to say about that. */
export function ToolStrip() {
  const { store } = useBench();
  const tool = useBenchState((state) => state.tool);
  const keyName = useKeyNames();
  useEffect(followClipboard, []);
  return (
    <div className="flex h-9 shrink-0 items-center gap-3 overflow-x-auto short:h-8 border-b border-hairline bg-sheet px-3">
      <RadioGroup.Root
        aria-label="Tool"
        orientation="horizontal"
        value={tool}
        onValueChange={(value) => store.setTool(TOOLS.find((one) => one === value) ?? "select")}
        className="flex shrink-0 rounded-md border border-hairline-strong"
      >
        {TOOLS.map((one) => {
          const { name, Icon, does, key } = LOOKS[one];
          return (
            <Hint key={one} text={does} keys={keyName(key)}>
              <RadioGroup.Item
                value={one}
                className={clsx(
                  "flex h-[26px] items-center gap-1.5 px-2 text-small first:rounded-l-[5px] last:rounded-r-[5px]",
                  one === tool ? "bg-amber-tint font-bold" : "text-muted hover:text-ink",
                )}
              >
                <Icon size={14} aria-hidden="true" />
                {name}
              </RadioGroup.Item>
            </Hint>
          );
        })}
      </RadioGroup.Root>
      <HeldKeys />
      {tool === "select" && <SelectionBar />}
      {tool === "draw" && <DrawSettings />}
      {tool === "erase" && (
        <p className="truncate text-small text-muted">Click a hit, or drag across several, to remove them.</p>
      )}
    </div>
  );
}

/** A finger has no keys beside it: these stand for them, where there are fingers. */
function HeldKeys() {
  const { store } = useBench();
  const held = useBenchState((state) => state.heldForFingers);
  return (
    // biome-ignore lint/a11y/useSemanticElements: two switches are no set of fields
    <div role="group" aria-label="Keys for fingers" className="hidden shrink-0 gap-1 any-pointer-coarse:flex">
      {(["isShift", "isAlt"] as const).map((one) => (
        <button
          key={one}
          type="button"
          aria-pressed={held[one]}
          className={clsx(
            "h-[26px] rounded border px-2 text-small",
            held[one] ? "border-amber bg-amber-tint font-bold" : "border-hairline-strong text-muted",
          )}
          onClick={() => store.holdForFingers({ [one]: !held[one] })}
        >
          {one === "isShift" ? "Shift" : "Alt"}
        </button>
      ))}
    </div>
  );
}
