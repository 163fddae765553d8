"use client";

import { clsx } from "clsx";
import { ToggleGroup } from "radix-ui";
import type { Side } from "../core/song/index.ts";
import { Hint } from "./Hint.tsx";

const NAMES: readonly { readonly side: Side; readonly name: string; readonly hint: string }[] = [
  { side: "recorded", name: "Recorded", hint: "As it came in" },
  { side: "plain", name: "No groove", hint: "Cleaned, without groove, push and chance" },
  { side: "cleaned", name: "Cleaned", hint: "As it goes out" },
];

interface SideChoiceProps {
  readonly side: Side;
  /** What key turns to each. */
  readonly keysOf: Readonly<Record<Side, string>>;
  readonly onChoose: (side: Side) => void;
}

/** Which side is shown and heard. They are heard equally loud, and while it plays one goes over into the other. */
export function SideChoice({ side, keysOf, onChoose }: SideChoiceProps) {
  return (
    <ToggleGroup.Root
      type="single"
      value={side}
      aria-label="Recorded or cleaned"
      onValueChange={(value) => {
        const chosen = NAMES.find((one) => one.side === value);
        if (chosen) onChoose(chosen.side);
      }}
      className="flex overflow-hidden rounded-lg border border-hairline-strong"
    >
      {NAMES.map(({ side: one, name, hint }) => (
        <Hint key={one} text={hint} keys={keysOf[one]}>
          <ToggleGroup.Item
            value={one}
            className={clsx(
              "px-3 py-1 whitespace-nowrap -outline-offset-2",
              side === one ? "bg-amber-tint font-bold" : "text-muted hover:text-ink",
            )}
          >
            {name}
          </ToggleGroup.Item>
        </Hint>
      ))}
    </ToggleGroup.Root>
  );
}
