import { useVirtualizer } from "@tanstack/react-virtual";
import clsx from "clsx";
import { Play, Square, Star } from "lucide-react";
import { useEffect, useRef } from "react";
import { beginDrag } from "./drag-pattern.ts";
import type { MarkedEntry } from "./marked.ts";
import { PatternFins } from "./PatternFins.tsx";

const ROW_PX = 62;

interface PatternListProps {
  readonly entries: readonly MarkedEntry[];
  readonly likeness: ReadonlyMap<string, number> | null;
  readonly chosenId: string | null;
  readonly isPlaying: boolean;
  readonly onChoose: (id: string) => void;
  readonly onHear: (id: string) => void;
  /** The file of a pattern, as it is dragged out of the page. */
  readonly fileOf: (entry: MarkedEntry) => Uint8Array;
}

/** Patterns, the likeliest first: one is chosen by a click or by arrows, and heard. */
export function PatternList({ entries, likeness, chosenId, isPlaying, onChoose, onHear, fileOf }: PatternListProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: entries.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 6,
  });
  const at = entries.findIndex(({ id }) => id === chosenId);
  useEffect(() => {
    if (at >= 0) rows.scrollToIndex(at, { align: "auto" });
  }, [at, rows]);
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-y-auto">
      <div
        role="listbox"
        aria-label="Patterns"
        tabIndex={0}
        aria-activedescendant={chosenId ? `pattern ${chosenId}` : undefined}
        className="relative -outline-offset-2"
        style={{ height: rows.getTotalSize() }}
      >
        {rows.getVirtualItems().map(({ index, start }) => {
          const entry = entries[index]!;
          const isChosen = entry.id === chosenId;
          const like = likeness?.get(entry.id);
          return (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the arrows of the screen step through the list
            <div
              key={entry.id}
              id={`pattern ${entry.id}`}
              role="option"
              tabIndex={-1}
              aria-selected={isChosen}
              draggable
              onDragStart={(event) => beginDrag(event, entry, fileOf(entry))}
              className={clsx(
                "absolute inset-x-0 grid cursor-pointer grid-cols-[34px_150px_1fr_52px] items-center gap-3 border-b border-hairline px-4",
                isChosen ? "bg-amber-tint" : "hover:bg-spruce-tint",
              )}
              style={{ height: ROW_PX, transform: `translateY(${start}px)` }}
              onClick={({ target }) => {
                // The sign is no control of its own: by key, Space hears what is chosen.
                const isSign = target instanceof Element && target.closest("[data-hear]") !== null;
                if (isSign) onHear(entry.id);
                else onChoose(entry.id);
              }}
            >
              <span
                aria-hidden="true"
                data-hear="true"
                className="grid size-8 place-items-center rounded-full border-[1.5px] border-spruce text-spruce"
              >
                {isChosen && isPlaying ? (
                  <Square size={12} fill="currentColor" />
                ) : (
                  <Play size={13} fill="currentColor" />
                )}
              </span>
              <span className="min-w-0">
                <strong className="flex items-center gap-1">
                  <span className="truncate">{entry.name}</span>
                  {entry.isFavourite && (
                    <Star size={12} fill="currentColor" className="shrink-0 text-amber-text" aria-label="favourite" />
                  )}
                </strong>
                <span className="block truncate text-fine text-muted">
                  {entry.tags.length > 0 && <b>{entry.tags.join(", ")}; </b>}
                  {entry.from}
                </span>
              </span>
              <PatternFins
                rhythm={entry.rhythm}
                strokes={entry.rhythm.strokes}
                width={300}
                height={46}
                label={`${entry.rhythm.strokes.length} hits`}
              />
              <span className="text-right font-bold">{like === undefined ? "" : `${Math.round(like * 100)} %`}</span>
            </div>
          );
        })}
      </div>
    </div>
  );
}
