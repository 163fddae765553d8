import { useVirtualizer } from "@tanstack/react-virtual";
import { useMemo, useRef } from "react";
import { type Run, runsOf } from "../../../core/document/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";

const ROW_PX = 34;

interface Runs {
  /** The last first. */
  readonly done: readonly Run[];
  /** The farthest first. */
  readonly undone: readonly Run[];
}

/** One row of the list: what is undone lies ahead, the farthest first; then the present; then what was done, the last first. */
function rowAt({ done, undone }: Runs, index: number) {
  if (index < undone.length) return { kind: "undone", run: undone[index]!, far: undone.length - index } as const;
  if (index === undone.length) return { kind: "now" } as const;
  const far = index - undone.length;
  return { kind: "done", run: done[far - 1]!, far } as const;
}

/** A take can have a hundred thousand steps: only those in view are made. */
export function Steps() {
  const { store } = useBench();
  const history = useBenchState((state) => state.history);
  const runs = useMemo<Runs>(
    () => ({ done: runsOf(history.done), undone: runsOf(history.undone).toReversed() }),
    [history],
  );
  const scroller = useRef<HTMLDivElement>(null);
  const count = runs.done.length + runs.undone.length + 1;
  const rows = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
    // The present is what one looks for first.
    initialOffset: Math.max(0, runs.undone.length - 2) * ROW_PX,
  });
  const go = (steps: number, step: () => unknown) => {
    for (let left = steps; left > 0; left--) step();
  };
  const stepClass = "block h-full w-full truncate border-t border-hairline text-left hover:bg-spruce-tint";
  return (
    <div ref={scroller} className="max-h-[44vh] overflow-y-auto text-base">
      <ol aria-label="Steps" className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map(({ index, start }) => {
          const row = rowAt(runs, index);
          return (
            <li
              key={row.kind === "now" ? "now" : row.run.id}
              aria-posinset={index + 1}
              aria-setsize={count}
              className="absolute inset-x-0"
              style={{ top: start, height: ROW_PX }}
            >
              {row.kind === "now" ? (
                <p className="flex h-full items-center border-t border-hairline bg-amber-tint font-bold">
                  {runs.done.length === 0 ? "The take as it was recorded: this is now" : "Now"}
                </p>
              ) : row.kind === "undone" ? (
                <button type="button" className={`${stepClass} text-muted`} onClick={() => go(row.far, store.redo)}>
                  {row.run.label} <span className="text-fine">undone</span>
                </button>
              ) : (
                <button type="button" className={stepClass} onClick={() => go(row.far, store.undo)}>
                  {row.run.label} <span className="text-fine text-muted">undo to here</span>
                </button>
              )}
            </li>
          );
        })}
      </ol>
    </div>
  );
}
