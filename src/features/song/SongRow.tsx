import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  type UniqueIdentifier,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  horizontalListSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import clsx from "clsx";
import { GripVertical, ListMusic, Plus } from "lucide-react";
import { Popover } from "radix-ui";
import { memo, useRef } from "react";
import { dragWords } from "../../components/drag-words.ts";
import { MenuButton } from "../../components/MenuButton.tsx";
import { SentenceNumber } from "../../components/sentence/SentenceNumber.tsx";
import { Toggle } from "../../components/Toggle.tsx";
import {
  addToSong,
  MOST_REPEATS,
  moveInSong,
  removeFromSong,
  repeatInSong,
  type SongEntry,
  type SongPattern,
  toggleEntry,
  toggleVoiceOfEntry,
} from "../../core/song/index.ts";
import { useBench, useBenchState } from "../../store/bench/bench-context.ts";
import { usePlayFrames } from "../../store/playback/use-play-frames.ts";
import type { SongDesk } from "../../store/playback/use-song.ts";
import { arrangeBy, arrangementOf, previewArrange, voicesOf } from "./song-actions.ts";

/** The order in which the song plays its patterns: dragged, repeated, muted; each block as long as it sounds. */
export const SongRow = memo(function SongRow({ desk }: { desk: SongDesk }) {
  const bench = useBench();
  const arrangement = useBenchState((state) => arrangementOf(state.shown));
  const { song, patterns } = arrangement;
  const row = useRef<HTMLOListElement>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const patternOf = (id: string) => patterns.find((pattern) => pattern.id === id);
  const total = song.reduce(
    (sum, { patternId, repeats }) => sum + repeats * (patternOf(patternId)?.bars.length ?? 0),
    0,
  );
  const nameOf = (entryId: UniqueIdentifier) => {
    const entry = song.find(({ id }) => id === entryId);
    return (entry && patternOf(entry.patternId)?.name) ?? "A pattern";
  };
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const to = song.findIndex(({ id }) => id === over.id);
    arrangeBy(bench, "Move a pattern in the song", (before) => moveInSong(before, String(active.id), to));
  };
  // The block that sounds is marked without React, on every frame while it plays.
  usePlayFrames((tick, isPlaying) => {
    const place =
      desk.entries === null ? desk.playable?.time.places.findLast(({ startTick }) => startTick <= tick) : null;
    for (const block of row.current?.children ?? [])
      block.toggleAttribute("data-sounds", isPlaying && block.getAttribute("data-entry") === place?.entry.id);
  });
  return (
    <section aria-label="The song" className="grid grid-cols-[186px_1fr] max-sm:grid-cols-1 items-center gap-x-3 px-5">
      <div className="text-small leading-snug">
        <h2 className="flex items-center gap-1.5 font-bold">
          <ListMusic size={14} aria-hidden="true" /> The song
        </h2>
        <span className="text-muted">
          {total} {total === 1 ? "bar" : "bars"}, {song.length} {song.length === 1 ? "place" : "places"}
        </span>
      </div>
      <div className="flex min-w-0 items-center gap-2">
        <DndContext
          sensors={sensors}
          collisionDetection={closestCenter}
          accessibility={{
            announcements: dragWords(
              nameOf,
              song.map(({ id }) => id),
            ),
          }}
          onDragEnd={onDragEnd}
        >
          <SortableContext items={song.map(({ id }) => id)} strategy={horizontalListSortingStrategy}>
            <ol ref={row} aria-label="Order of the song" className="flex min-w-0 gap-1 overflow-x-auto py-1">
              {song.map((entry, index) => {
                const pattern = patternOf(entry.patternId);
                return pattern ? <Block key={entry.id} entry={entry} pattern={pattern} index={index} /> : null;
              })}
            </ol>
          </SortableContext>
        </DndContext>
        <AddMenu />
      </div>
    </section>
  );
});

function Block({ entry, pattern, index }: { entry: SongEntry; pattern: SongPattern; index: number }) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: entry.id,
  });
  const muted = entry.mutedVoiceIds?.length ?? 0;
  const words = [
    `${entry.repeats > 1 ? `${entry.repeats} × ` : ""}${pattern.bars.length} ${pattern.bars.length === 1 ? "bar" : "bars"}`,
    ...(entry.isMuted ? ["muted"] : []),
    ...(muted > 0 ? [`${muted} ${muted === 1 ? "voice" : "voices"} muted`] : []),
  ];
  return (
    <li
      ref={setNodeRef}
      data-entry={entry.id}
      style={{
        transform: CSS.Translate.toString(transform),
        transition,
        minWidth: `${Math.max(92, Math.min(240, 10 * pattern.bars.length * entry.repeats))}px`,
        background: `color-mix(in srgb, var(--${pattern.colour}) ${entry.isMuted ? 6 : 20}%, var(--sheet))`,
        borderColor: `var(--${pattern.colour})`,
      }}
      className={clsx(
        "group flex shrink-0 items-stretch rounded-md border border-l-[5px] data-sounds:outline-2 data-sounds:outline-amber",
        isDragging && "z-10 opacity-80",
      )}
    >
      <button
        ref={setActivatorNodeRef}
        type="button"
        {...attributes}
        {...listeners}
        aria-label={`Move ${pattern.name}, place ${index + 1}`}
        className="grid w-7 shrink-0 cursor-grab touch-none place-items-center self-stretch text-muted"
      >
        <GripVertical size={13} />
      </button>
      <Popover.Root>
        <Popover.Trigger className="min-w-0 flex-1 py-0.5 pr-2 text-left leading-tight">
          <strong className={clsx("block truncate", entry.isMuted && "line-through")}>{pattern.name}</strong>
          <span className="text-fine whitespace-nowrap">{words.join(", ")}</span>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="start"
            sideOffset={6}
            collisionPadding={10}
            aria-label={`${pattern.name} in the song`}
            className="z-50 w-72 rounded-xl border border-hairline-strong bg-sheet p-4 shadow-lg"
          >
            <EntryForm entry={entry} pattern={pattern} index={index} />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </li>
  );
}

function EntryForm({ entry, pattern, index }: { entry: SongEntry; pattern: SongPattern; index: number }) {
  const bench = useBench();
  const { store } = bench;
  const take = useBenchState((state) => state.pattern);
  const last = arrangementOf(take).song.length - 1;
  const move = (to: number) =>
    arrangeBy(bench, `Move ${pattern.name} in the song`, (before) => moveInSong(before, entry.id, to));
  return (
    <>
      <p>
        <strong>{pattern.name}</strong>, played{" "}
        <SentenceNumber
          label="Times in a row"
          min={1}
          max={MOST_REPEATS}
          step={1}
          unit="times"
          say={(value) => (value === 1 ? "once" : `${value} times`)}
          value={entry.repeats}
          usual={1}
          onPreview={(value) => previewArrange(bench, (before) => repeatInSong(before, entry.id, value))}
          onCommit={(value) =>
            arrangeBy(bench, `Play ${pattern.name} ${Math.round(value)} times`, (before) =>
              repeatInSong(before, entry.id, value),
            )
          }
          onCancel={() => store.endPreview()}
        />
        .
      </p>
      <p className="mt-2 flex items-center gap-2">
        <Toggle
          label={`Mute ${pattern.name} here`}
          isOn={entry.isMuted === true}
          onChange={() =>
            arrangeBy(bench, `${entry.isMuted ? "Hear" : "Mute"} ${pattern.name} here`, (before) =>
              toggleEntry(before, entry.id),
            )
          }
        />
        passed over in silence
      </p>
      <fieldset className="mt-2">
        <legend className="text-small text-muted">Heard here</legend>
        <div className="grid grid-cols-2 gap-x-3">
          {voicesOf(take).map((voice) => (
            <label key={voice.id} className="flex items-center gap-1.5 truncate text-small">
              <input
                type="checkbox"
                className="accent-spruce"
                checked={!entry.mutedVoiceIds?.includes(voice.id)}
                onChange={() =>
                  arrangeBy(bench, `Mute or hear ${voice.name} in ${pattern.name}`, (before) =>
                    toggleVoiceOfEntry(before, entry.id, voice.id),
                  )
                }
              />
              {voice.name}
            </label>
          ))}
        </div>
      </fieldset>
      <p className="mt-3 flex flex-wrap gap-x-4 text-small font-bold text-spruce">
        <button
          type="button"
          className="min-h-7 underline disabled:opacity-40"
          disabled={index === 0}
          onClick={() => move(index - 1)}
        >
          Earlier
        </button>
        <button
          type="button"
          className="min-h-7 underline disabled:opacity-40"
          disabled={index === last}
          onClick={() => move(index + 1)}
        >
          Later
        </button>
        <button
          type="button"
          className="min-h-7 underline"
          onClick={() =>
            arrangeBy(bench, `Remove ${pattern.name} from the song`, (before) => removeFromSong(before, entry.id))
          }
        >
          Remove
        </button>
      </p>
    </>
  );
}

function AddMenu() {
  const bench = useBench();
  const { patterns } = useBenchState((state) => arrangementOf(state.pattern));
  if (patterns.length === 0) return <p className="text-muted">Split the take into patterns to make a song of them.</p>;
  return (
    <MenuButton
      label="Add a pattern to the song"
      className="grid size-8 shrink-0 place-items-center rounded-md border border-hairline-strong hover:bg-spruce-tint"
      groups={[patterns.map(({ id, name }) => ({ id, name }))]}
      onChoose={(id) => {
        const { name } = patterns.find((pattern) => pattern.id === id)!;
        arrangeBy(bench, `Add ${name} to the song`, (before) => addToSong(before, id, bench.store.newId));
      }}
    >
      <Plus size={16} />
    </MenuButton>
  );
}
