import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Button } from "../../components/Button.tsx";
import { say } from "../../components/messages/say.ts";
import { PageLink } from "../../components/page/PageLink.tsx";
import { saveText } from "../../components/save-text.ts";
import { extentOf } from "../../core/extent.ts";
import {
  filterMessages,
  findRowAt,
  isInFile,
  type MessageTable,
  messageAt,
  messageIdAt,
  messageWords,
  NO_FILTER,
  type OddMessages,
  velocityAt,
} from "../../core/messages/index.ts";
import { lazily } from "../../core/remember.ts";
import { META } from "../../core/smf/index.ts";
import { redo, undo, useBench, useBenchState } from "../../store/bench/bench-context.ts";
import { SHARED_COMMANDS, usePageCommands } from "../../store/page/page-commands.ts";
import { usePlayFrames } from "../../store/playback/use-play-frames.ts";
import type { Messages } from "../../store/project/use-messages.ts";
import { historyCommands } from "../page/history-commands.ts";
import { EditSheet } from "./EditSheet.tsx";
import { FilterBar } from "./FilterBar.tsx";
import { MessageRows, type RowsHandle } from "./MessageRows.tsx";
import { OddPanel } from "./OddPanel.tsx";
import { PlayBar } from "./PlayBar.tsx";

interface MessageListProps {
  readonly messages: Messages;
  readonly table: MessageTable;
  /** A message to begin with, as when one comes from the Bench. */
  readonly wantedId: string | null;
}

const count = (number: number) => `${number.toLocaleString("en")} ${number === 1 ? "message" : "messages"}`;

/** The list with what narrows it, what is picked in it, and what can be done with that. */
export function MessageList({ messages, table, wantedId }: MessageListProps) {
  const bench = useBench();
  const { store, playback } = bench;
  const projectId = useBenchState((state) => state.project.id);
  const lanes = useBenchState((state) => state.lanes);
  const maps = useBenchState((state) => state.maps);
  const [filter, setFilter] = useState(NO_FILTER);
  const [oddKind, setOddKind] = useState<OddMessages["kind"] | null>(null);
  /** Picked messages by id, for rows change with every edit. */
  const [picked, setPicked] = useState<ReadonlySet<string>>(() => new Set(wantedId ? [wantedId] : []));
  const [cursorId, setCursorId] = useState<string | null>(wantedId);
  const [isEditing, setIsEditing] = useState(false);
  const [isFollowing, setIsFollowing] = useState(true);
  const list = useRef<RowsHandle>(null);

  const shownOdd = messages.odd.find(({ kind }) => kind === oddKind) ?? null;
  const rows = useMemo(
    () => (shownOdd ? Uint32Array.from(shownOdd.rows) : filterMessages(table, filter)),
    [table, filter, shownOdd],
  );
  const pickedRows = useMemo(() => {
    if (picked.size === 0) return [];
    const found: number[] = [];
    for (let row = 0; row < table.count; row++) if (picked.has(messageIdAt(table, row))) found.push(row);
    return found;
  }, [table, picked]);
  const [onlyRow] = pickedRows;
  const only = pickedRows.length === 1 && onlyRow !== undefined ? onlyRow : null;

  const hits = useBenchState((state) => state.pattern.hits);
  // Asked for what is picked only: a long take has half a million of them.
  const hitIds = useMemo(() => lazily(() => new Set(hits.map((hit) => hit.id))), [hits]);
  const isOwn = only !== null && (isInFile(table, only) || hitIds().has(messageIdAt(table, only)));
  const onlyHit = only === null ? null : hitIdOf(table, only, hitIds());

  const placeOf = useCallback(
    (id: string | null) => (id === null ? -1 : rows.findIndex((row) => messageIdAt(table, row) === id)),
    [rows, table],
  );
  // Where it comes from, once: later the person scrolls.
  const hasShown = useRef(false);
  useEffect(() => {
    if (hasShown.current || wantedId === null) return;
    hasShown.current = true;
    const place = placeOf(wantedId);
    if (place >= 0) list.current?.show(place, "center");
  }, [wantedId, placeOf]);

  usePlayFrames((tick, isPlaying) => {
    const place = isPlaying ? findRowAt(table, rows, tick) : -1;
    list.current?.markPlaying(place);
    if (isPlaying && isFollowing && place >= 0) list.current?.show(place, "auto");
  });

  const pickPlace = (place: number, mode: "only" | "toggle" | "range") => {
    const row = rows[place];
    if (row === undefined) return;
    const id = messageIdAt(table, row);
    if (mode === "range") {
      const from = Math.max(0, placeOf(cursorId));
      const [first, last] = [Math.min(from, place), Math.max(from, place)];
      setPicked(new Set(Array.from(rows.subarray(first, last + 1), (one) => messageIdAt(table, one))));
      return;
    }
    const next = new Set(mode === "toggle" ? picked : []);
    if (!next.delete(id)) next.add(id);
    setPicked(next);
    setCursorId(id);
  };

  const takeOut = (taken: readonly number[]) => {
    // The end of a track is no message of the part: a file cannot be without it. What goes with a hit or with the tempo goes with it.
    const ownRows = taken.filter((row) => !isTrackEnd(table, row));
    const removable = ownRows.filter((row) => isInFile(table, row) || hitIdOf(table, row, hitIds()) !== null);
    if (ownRows.length === 0) return say("The end of a track stays.");
    if (removable.length === 0)
      return say("That comes with a hit, or with the tempo of the take: change it on the Bench.");
    const ids = new Set<string>();
    const endsOfHits = new Set<string>();
    // A note goes with its end, and an end that is taken alone would leave its note hanging.
    for (const row of removable) {
      const partner = table.partnerRows[row]!;
      const pair = [messageIdAt(table, row), ...(partner >= 0 ? [messageIdAt(table, partner)] : [])];
      for (const id of pair) {
        ids.add(id);
        if (!hitIds().has(id) && pair.some((other) => hitIds().has(other))) endsOfHits.add(id);
      }
    }
    // Hits take their ends along by themselves.
    const wanted = [...ids].flatMap((messageId) => (endsOfHits.has(messageId) ? [] : [{ messageId, to: null }]));
    void messages.change(`Remove ${count(removable.length)}`, wanted);
    say(`Removed ${count(removable.length)}.`);
    setPicked(new Set());
  };

  const move = (by: number, mode: "only" | "range") => {
    const from = placeOf(cursorId);
    const place = Math.max(0, Math.min(rows.length - 1, from < 0 ? 0 : from + by));
    const row = rows[place];
    if (row === undefined) return;
    pickPlace(place, mode);
    if (mode === "range") setCursorId(messageIdAt(table, row));
    list.current?.show(place, "auto");
  };

  /** Grows the picked run from its start by one row. */
  const extend = (by: number) => {
    const places = pickedRows.map((row) => rows.indexOf(row)).filter((place) => place >= 0);
    if (places.length === 0) {
      return move(by, "only");
    }
    const anchor = placeOf(cursorId);
    const [first, last] = extentOf(places);
    const far = anchor === first ? last + by : first + by;
    const place = Math.max(0, Math.min(rows.length - 1, far));
    const [from, to] = [Math.min(anchor, place), Math.max(anchor, place)];
    setPicked(new Set(Array.from(rows.subarray(from, to + 1), (one) => messageIdAt(table, one))));
    list.current?.show(place, "auto");
  };

  const command = (id: string, name: string, keys: readonly string[], run: () => void) => ({
    id: `messages.${id}`,
    name,
    keys,
    run,
  });
  usePageCommands([
    { ...SHARED_COMMANDS.play, run: () => void playback.toggle() },
    command("next", "The next message", ["↓"], () => move(1, "only")),
    command("previous", "The message before", ["↑"], () => move(-1, "only")),
    command("onePageOn", "Twenty messages on", ["PageDown"], () => move(20, "only")),
    command("onePageBack", "Twenty messages back", ["PageUp"], () => move(-20, "only")),
    command("first", "The first message", ["Home"], () => move(-rows.length, "only")),
    command("last", "The last message", ["End"], () => move(rows.length, "only")),
    command("nextToo", "Select the next message too", ["Shift+↓"], () => extend(1)),
    command("previousToo", "Select the message before too", ["Shift+↑"], () => extend(-1)),
    command("all", "Select all that are shown", ["Ctrl+A"], () =>
      setPicked(new Set(Array.from(rows, (row) => messageIdAt(table, row)))),
    ),
    command("none", "Select nothing", ["Escape"], () => setPicked(new Set())),
    command("remove", "Remove the selected messages", ["Delete", "Backspace"], () => {
      if (pickedRows.length > 0) takeOut(pickedRows);
    }),
    command("edit", "Change the selected messages", ["E"], () => {
      if (isOwn) setIsEditing(true);
    }),
    ...historyCommands(
      () => undo(bench),
      () => redo(bench),
    ),
  ]);

  const saveCsv = async () => {
    const text = await messages.csv(rows);
    saveText(`${store.getState().project.name} messages.csv`, "text/csv", text);
  };
  return (
    <>
      <div className="flex min-h-0 flex-1 border-t border-hairline max-lg:flex-col">
        <main
          aria-label="Messages"
          className="flex min-w-0 flex-1 flex-col max-lg:h-[80vh] max-lg:min-h-[320px] max-lg:flex-none max-lg:overflow-x-auto"
        >
          <h1 className="sr-only">Messages</h1>
          <FilterBar
            table={table}
            filter={filter}
            onFilter={(next) => {
              setOddKind(null);
              setFilter(next);
            }}
            shown={rows.length}
            odd={shownOdd}
            onAll={() => {
              setOddKind(null);
              setFilter(NO_FILTER);
            }}
            onCsv={() => void saveCsv()}
          />
          <MessageRows
            ref={list}
            table={table}
            rows={rows}
            picked={picked}
            maps={maps}
            lanes={lanes}
            onPick={pickPlace}
            onEdit={() => setIsEditing(true)}
          />
        </main>
        <OddPanel
          odd={messages.odd}
          shownKind={oddKind}
          onShow={(kind) => {
            setOddKind(kind);
            setPicked(new Set());
          }}
          onTakeOut={({ rows: taken }) => takeOut(taken)}
        />
      </div>
      <PlayBar isFollowing={isFollowing} onFollow={setIsFollowing}>
        <p role="status" aria-label="Selected" className="truncate">
          {pickedRows.length === 0 ? (
            <span className="text-muted">Nothing selected. Click a message, or use the arrow keys.</span>
          ) : (
            <>
              <strong>{count(pickedRows.length)} selected</strong>
              {only !== null && (
                <span className="text-muted">
                  {" "}
                  {messageWords(messageAt(table, only), lanes[table.laneIndexes[only]!]?.voice.name ?? null)}
                  {velocityAt(table, only) !== null && `, velocity ${velocityAt(table, only)}`}
                </span>
              )}
            </>
          )}
        </p>
        {pickedRows.length > 0 && (
          <span className="flex shrink-0 items-center gap-2">
            {onlyHit !== null && (
              <PageLink href={`/bench/${projectId}?hit=${onlyHit}`} className="font-semibold text-spruce underline">
                Show on the Bench
              </PageLink>
            )}
            {isOwn && (
              <Button className="px-2.5" onClick={() => setIsEditing(true)}>
                Edit
              </Button>
            )}
            <Button className="px-2.5" onClick={() => takeOut(pickedRows)}>
              Remove
            </Button>
          </span>
        )}
      </PlayBar>
      {isOwn && (
        <EditSheet
          key={messageIdAt(table, only)}
          table={table}
          row={only}
          isHit={onlyHit === messageIdAt(table, only)}
          isOpen={isEditing}
          onOpenChange={setIsEditing}
          onTake={(to) => void messages.change("Change a message", [{ messageId: messageIdAt(table, only), to }])}
        />
      )}
    </>
  );
}

function isTrackEnd(table: MessageTable, row: number): boolean {
  return table.statuses[row] === 0xff && table.data1s[row] === META.endOfTrack;
}

/** The hit that a row is, or ends. */
function hitIdOf(table: MessageTable, row: number, hitIds: ReadonlySet<string>): string | null {
  const partner = table.partnerRows[row]!;
  const candidates = [messageIdAt(table, row), ...(partner >= 0 ? [messageIdAt(table, partner)] : [])];
  return candidates.find((id) => hitIds.has(id)) ?? null;
}
