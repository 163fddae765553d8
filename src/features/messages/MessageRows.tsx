import { useVirtualizer } from "@tanstack/react-virtual";
import clsx from "clsx";
import { type Ref, useImperativeHandle, useRef, useState } from "react";
import {
  channelNumber,
  kindOf,
  type MessageTable,
  messageAt,
  messageIdAt,
  messageWords,
  rawBytes,
} from "../../core/messages/index.ts";
import { formatBarBeat, type TimeMaps, tickToMs } from "../../core/time/index.ts";
import type { LaneView } from "../../store/lane-view.ts";

const ROW_HEIGHT_PX = 27;
const COLUMNS = "grid grid-cols-[92px_104px_50px_62px_128px_minmax(220px,1fr)_minmax(120px,0.5fr)] items-center px-4";

export interface RowsHandle {
  /** Scrolls to a place in the list. */
  show(place: number, align: "auto" | "center"): void;
  /** Marks the message that sounds; -1 for none. */
  markPlaying(place: number): void;
}

interface MessageRowsProps {
  readonly ref: Ref<RowsHandle>;
  readonly table: MessageTable;
  readonly rows: Uint32Array;
  readonly picked: ReadonlySet<string>;
  readonly maps: TimeMaps;
  readonly lanes: readonly LaneView[];
  readonly onPick: (place: number, mode: "only" | "toggle" | "range") => void;
  readonly onEdit: () => void;
}

/** The rows in view, and no others: 200,000 of them would take minutes to lay out. */
export function MessageRows({ ref, table, rows, picked, maps, lanes, onPick, onEdit }: MessageRowsProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const [playing, setPlaying] = useState(-1);
  const virtualizer = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT_PX,
    overscan: 12,
  });
  useImperativeHandle(
    ref,
    () => ({ show: (place, align) => virtualizer.scrollToIndex(place, { align }), markPlaying: setPlaying }),
    [virtualizer],
  );
  return (
    <div
      role="table"
      aria-label="Messages of the take"
      aria-rowcount={rows.length}
      className="flex min-h-0 flex-1 flex-col"
    >
      <div role="row" className={`${COLUMNS} border-b border-hairline-strong py-1 text-[13px] text-muted`}>
        {["Place", "Time", "Track", "Channel", "Kind", "What it says", "Bytes"].map((name) => (
          <span key={name} role="columnheader">
            {name}
          </span>
        ))}
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by key */}
      <div ref={scroller} role="rowgroup" tabIndex={0} className="min-h-0 flex-1 overflow-auto -outline-offset-2">
        <div className="relative" style={{ height: virtualizer.getTotalSize() }}>
          {virtualizer.getVirtualItems().map(({ index, start }) => {
            const row = rows[index]!;
            const message = messageAt(table, row);
            const isPicked = picked.has(messageIdAt(table, row));
            const lane = lanes[table.laneIndexes[row]!];
            return (
              // biome-ignore lint/a11y/useKeyWithClickEvents: keys work on the list as a whole
              <div
                key={index}
                role="row"
                aria-rowindex={index + 1}
                aria-selected={isPicked}
                className={clsx(
                  COLUMNS,
                  "absolute inset-x-0 cursor-default border-b border-hairline select-none",
                  isPicked ? "bg-amber-tint" : index === playing ? "bg-spruce-tint" : "hover:bg-sheet",
                )}
                style={{ transform: `translateY(${start}px)`, height: ROW_HEIGHT_PX }}
                onClick={(event) =>
                  onPick(index, event.shiftKey ? "range" : event.ctrlKey || event.metaKey ? "toggle" : "only")
                }
                onDoubleClick={() => {
                  onPick(index, "only");
                  onEdit();
                }}
              >
                <span role="cell" className="font-bold">
                  {formatBarBeat(maps.meterMap, message.tick)}
                </span>
                <span role="cell" className="text-muted">
                  {formatMs(tickToMs(maps.tempoMap, message.tick))}
                </span>
                <span role="cell">{table.trackIndexes[row]! + 1}</span>
                <span role="cell">{channelNumber(message) ?? ""}</span>
                <span role="cell">{kindOf(message)}</span>
                <span role="cell" className="flex min-w-0 items-center gap-2">
                  {lane && (
                    <span
                      aria-hidden="true"
                      className="h-3.5 w-1 shrink-0 rounded"
                      style={{ background: `var(--${lane.voice.ink})` }}
                    />
                  )}
                  <span className="truncate">{messageWords(message, lane?.voice.name ?? null)}</span>
                  {table.isChanged[row] === 1 && <span className="shrink-0 text-[12px] text-amber-text">changed</span>}
                </span>
                <span role="cell" className="truncate text-[13px] text-muted">
                  {rawBytes(message)}
                </span>
              </div>
            );
          })}
        </div>
        {rows.length === 0 && <p className="p-8 text-center text-muted">No message matches this filter.</p>}
      </div>
    </div>
  );
}

/** `1:02.345`: minutes, seconds and milliseconds. */
function formatMs(ms: number): string {
  const minutes = Math.floor(ms / 60_000);
  return `${minutes}:${((ms - minutes * 60_000) / 1000).toFixed(3).padStart(6, "0")}`;
}
