import { useVirtualizer } from "@tanstack/react-virtual";
import clsx from "clsx";
import { type Ref, useImperativeHandle, useRef, useState } from "react";
import type { Family } from "../../core/document/index.ts";
import {
  BY_HAND,
  channelNumber,
  kindOf,
  lengthAt,
  type MessageTable,
  messageAt,
  messageIdAt,
  messageWords,
  rawBytes,
  velocityAt,
} from "../../core/messages/index.ts";
import { formatBarBeat, type MeterMap, type TimeMaps, tickToMs } from "../../core/time/index.ts";
import type { LaneView } from "../../store/bench/lane-view.ts";

const ROW_HEIGHT_PX = 27;
const COLUMNS =
  "grid grid-cols-[78px_82px_44px_62px_112px_minmax(176px,1fr)_78px_76px_102px_minmax(60px,0.4fr)] items-center gap-x-1 px-4";
const HEADS = [
  "Place",
  "Time",
  "Track",
  "Channel",
  "Kind",
  "What it says",
  "Velocity",
  "Length",
  "Recorded",
  "Bytes",
] as const;

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
      className="flex min-h-0 flex-1 flex-col max-lg:min-w-[960px]"
    >
      <div role="row" className={`${COLUMNS} border-b border-hairline-strong py-1 text-small text-muted`}>
        {HEADS.map((name) => (
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
            const lengthTicks = lengthAt(table, row);
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
                  {WORDS_BY_HAND[table.byHand[row]!] && (
                    <span className="shrink-0 text-fine text-amber-text">{WORDS_BY_HAND[table.byHand[row]!]}</span>
                  )}
                </span>
                <span role="cell">
                  <Velocity velocity={velocityAt(table, row)} ink={lane?.voice.ink ?? null} />
                </span>
                <span role="cell" className="whitespace-nowrap">
                  {lengthTicks !== null && `${lengthTicks.toLocaleString("en")} ticks`}
                </span>
                <span role="cell" className="truncate text-small text-muted">
                  {recordedWords(table, row, maps.meterMap)}
                </span>
                <span role="cell" className="truncate text-small text-muted">
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

const WORDS_BY_HAND: Readonly<Record<number, string>> = { [BY_HAND.changed]: "changed", [BY_HAND.added]: "added" };

/** How loud a note is, as a number on a bar of the drum's ink. */
function Velocity({ velocity, ink }: { velocity: number | null; ink: Family | null }) {
  if (velocity === null) return null;
  const colour = ink ? `var(--${ink})` : "var(--muted)";
  return (
    <span className="relative block w-[66px] pb-[3px] font-bold">
      {velocity}
      <span aria-hidden="true" className="absolute inset-x-0 bottom-0 h-[3px] rounded-full bg-hairline">
        <span
          className="block h-full rounded-full"
          style={{ width: `${(velocity / 127) * 100}%`, background: colour }}
        />
      </span>
    </span>
  );
}

/** Where and how loud a drum note was recorded: `1:2:5, 84`. */
function recordedWords({ recordedTicks, recordedVelocities }: MessageTable, row: number, meterMap: MeterMap): string {
  const tick = recordedTicks[row]!;
  return Number.isNaN(tick) ? "" : `${formatBarBeat(meterMap, tick)}, ${recordedVelocities[row]}`;
}

/** `1:02.345`: minutes, seconds and milliseconds. */
function formatMs(ms: number): string {
  const minutes = Math.floor(ms / 60_000);
  return `${minutes}:${((ms - minutes * 60_000) / 1000).toFixed(3).padStart(6, "0")}`;
}
