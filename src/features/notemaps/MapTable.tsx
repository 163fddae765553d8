import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { useMemo } from "react";
import { dragWords } from "../../components/drag-words.ts";
import { isSameMeaning, type NoteMap, type NoteMapEntry, strokeName, type Voice } from "../../core/document/index.ts";
import { moveVoice } from "../../core/notemap/index.ts";
import type { TakeUsage } from "../../core/overview/index.ts";
import { type MapEditor, type StrokeRow, tryChange } from "./map-editor.ts";
import { restrictToVerticalAxis } from "./restrict-axis.ts";
import { COLUMNS, VoiceRows } from "./VoiceRows.tsx";

export const SORTS = [
  { id: "map", name: "in lane order" },
  { id: "note", name: "by note" },
  { id: "hits", name: "by hits" },
  { id: "name", name: "by name" },
] as const;
export type SortId = (typeof SORTS)[number]["id"];

interface MapTableProps {
  readonly editor: MapEditor;
  readonly search: string;
  readonly sort: SortId;
  /** Whether strokes that never play in the take are listed as well. */
  readonly showsUnused: boolean;
  readonly struck: NoteMapEntry | null;
}

/** A map as a table: each drum with its strokes, what they come in and go out as, and how they sound. */
export function MapTable({ editor, search, sort, showsUnused, struck }: MapTableProps) {
  const { map, usage } = editor;
  const shown = useMemo(
    () =>
      sortVoices(map, usage, sort).flatMap((voice) => {
        const rows = rowsOf(map, voice, usage, search, showsUnused, struck);
        return rows.length === 0 ? [] : [{ voice, rows }];
      }),
    [map, usage, sort, search, showsUnused, struck],
  );
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const canMove = editor.change !== null && sort === "map";
  const move = (voice: Voice, beforeId: string | null) =>
    tryChange(editor, `Move ${voice.name}`, (before) => moveVoice(before, voice.id, beforeId));
  const ids = shown.map(({ voice }) => voice.id);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      modifiers={[restrictToVerticalAxis]}
      accessibility={{
        announcements: dragWords((id) => shown.find(({ voice }) => voice.id === id)?.voice.name ?? "A drum", ids),
      }}
      onDragEnd={({ active, over }) => {
        const from = ids.indexOf(String(active.id));
        const to = over ? ids.indexOf(String(over.id)) : -1;
        if (from < 0 || to < 0 || from === to) return;
        move(shown[from]!.voice, ids[to > from ? to + 1 : to] ?? null);
      }}
    >
      <div role="table" aria-label={`Strokes of ${map.name}`} className="min-w-[720px]">
        <div
          role="row"
          className={`${COLUMNS} sticky top-0 z-10 border-b border-hairline-strong bg-paper px-2.5 py-1.5 text-small text-muted`}
        >
          {["Drum", "Stroke", "Comes in as", usage ? "Hits here" : "", "Goes out as", "Hear"].map((name) => (
            <span key={name} role="columnheader">
              {name}
            </span>
          ))}
        </div>
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          {shown.map(({ voice, rows }, index) => (
            <VoiceRows
              key={voice.id}
              editor={editor}
              voice={voice}
              rows={rows}
              struck={struck}
              canMove={canMove}
              onMove={(direction) => {
                if (direction === 1) move(voice, ids[index + 2] ?? null);
                else if (index > 0) move(voice, ids[index - 1]!);
              }}
            />
          ))}
        </SortableContext>
      </div>
      {shown.length === 0 && (
        <p className="py-8 text-center text-muted">
          {search ? `Nothing found for “${search}”.` : "This map has no drums yet. Add one."}
        </p>
      )}
    </DndContext>
  );
}

function rowsOf(
  map: NoteMap,
  voice: Voice,
  usage: TakeUsage | null,
  search: string,
  showsUnused: boolean,
  struck: NoteMapEntry | null,
): readonly StrokeRow[] {
  const words = search.trim().toLowerCase();
  return voice.articulations.flatMap((articulation): readonly StrokeRow[] => {
    const meaning = { voiceId: voice.id, articulationId: articulation.id };
    const isFound = words === "" || strokeName(map, meaning).toLowerCase().includes(words);
    const entries = map.entries.filter(
      (entry) => isSameMeaning(entry, meaning) && (isFound || String(entry.note) === words),
    );
    const isShown = (entry: NoteMapEntry) => showsUnused || !usage || usage.byEntry.has(entry) || entry === struck;
    const shown = entries.filter(isShown).map((entry, index) => ({ articulation, entry, isFirst: index === 0 }));
    // A stroke without a note is shown with the unused ones: it never plays either.
    return shown.length === 0 && entries.length === 0 && isFound && (showsUnused || !usage)
      ? [{ articulation, entry: null, isFirst: true }]
      : shown;
  });
}

function sortVoices(map: NoteMap, usage: TakeUsage | null, sort: SortId): readonly Voice[] {
  const entriesOf = (voice: Voice) => map.entries.filter(({ voiceId }) => voiceId === voice.id);
  switch (sort) {
    case "map":
      return map.voices;
    case "note": {
      const lowest = (voice: Voice) => Math.min(128, ...entriesOf(voice).map(({ note }) => note));
      return map.voices.toSorted((a, b) => lowest(a) - lowest(b));
    }
    case "hits": {
      const hits = (voice: Voice) =>
        entriesOf(voice).reduce((sum, entry) => sum + (usage?.byEntry.get(entry)?.hitCount ?? 0), 0);
      return map.voices.toSorted((a, b) => hits(b) - hits(a));
    }
    default:
      return map.voices.toSorted((a, b) => a.name.localeCompare(b.name, "en"));
  }
}
