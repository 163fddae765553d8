import { Slider } from "radix-ui";
import { useRef, useState } from "react";
import { type Limit, sayLimited } from "../../core/limit.ts";
import { LimitedNumber } from "./LimitedNumber.tsx";

interface SettingRowProps {
  readonly limit: Limit;
  /** What it is called here, if not as its limit says. */
  readonly label?: string;
  readonly value: number;
  readonly usual?: number;
  /** Explains the word in one line, for those who do not know it. */
  readonly hint?: string;
  readonly onPreview?: ((value: number) => void) | undefined;
  readonly onCommit: (value: number) => void;
  readonly onCancel?: (() => void) | undefined;
}

/** A setting to be grabbed: its name, a slider, and its value, which can be typed. */
export function SettingRow({ limit, label = limit.label, value, hint, ...on }: SettingRowProps) {
  // While it is dragged the card waits; the slider does not.
  const [dragged, setDragged] = useState<number | null>(null);
  const committed = useRef<number | null>(null);
  const [min, max] = limit.handy ?? [limit.min, limit.max];
  const usual = on.usual ?? limit.usual ?? value;
  const shown = dragged ?? value;
  return (
    <div className="grid grid-cols-[92px_1fr_auto] items-center gap-2.5 py-[3px]">
      <span className="truncate text-small text-muted" title={hint}>
        {label}
      </span>
      <Slider.Root
        className="relative flex h-6 items-center"
        min={min}
        max={max}
        step={limit.step}
        value={[Math.max(min, Math.min(max, shown))]}
        onValueChange={([next]) => {
          if (next === committed.current) return;
          setDragged(next!);
          on.onPreview?.(next!);
        }}
        onValueCommit={([next]) => {
          // A key tells first that it is done, and then what it has changed.
          committed.current = next!;
          queueMicrotask(() => {
            committed.current = null;
          });
          setDragged(null);
          on.onCommit(next!);
        }}
        onDoubleClick={() => on.onCommit(usual)}
      >
        <Slider.Track className="forced-color-adjust-none relative h-1 grow rounded-full bg-hairline-strong">
          <Slider.Range className="absolute h-full rounded-full bg-spruce" />
          <UsualMark min={min} max={max} usual={usual} />
        </Slider.Track>
        <Slider.Thumb
          aria-label={label}
          aria-valuetext={sayLimited(limit, shown)}
          className="forced-color-adjust-none block size-4 rounded-full border-2 border-spruce bg-sheet shadow-sm"
        />
      </Slider.Root>
      <span className="min-w-[58px] text-right">
        {dragged === null ? (
          <LimitedNumber
            limit={limit}
            label={label}
            value={value}
            usual={usual}
            onPreview={on.onPreview}
            onCommit={on.onCommit}
            onCancel={on.onCancel}
          />
        ) : (
          <strong className="whitespace-nowrap">{sayLimited(limit, dragged)}</strong>
        )}
      </span>
    </div>
  );
}

/** Where a double-click goes. */
function UsualMark({ min, max, usual }: { min: number; max: number; usual: number }) {
  if (usual <= min || usual >= max) return null;
  return (
    <span
      className="absolute -top-1 h-3 w-px bg-muted"
      style={{ left: `${((usual - min) / (max - min)) * 100}%` }}
      aria-hidden="true"
    />
  );
}
