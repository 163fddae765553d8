import clsx from "clsx";
import { isSameMeaning, type NoteMapEntry, strokeName, type Voice } from "../../core/document/index.ts";
import {
  addEntry,
  describePedal,
  outgoingStroke,
  removeEntry,
  replaceEntry,
  setOutgoing,
  splitByPedal,
} from "../../core/notemap/index.ts";
import { type MapEditor, type StrokeRow, tryChange } from "./map-editor.ts";
import { useNoteName } from "./note-names.ts";
import { SourceEditor } from "./SourceEditor.tsx";

// What a stroke comes in as, and what it goes out as.

interface CellProps {
  readonly editor: MapEditor;
  readonly voice: Voice;
  readonly row: StrokeRow;
  /** What the stroke is called, with its drum. */
  readonly name: string;
}

export function ComesInAs({ editor, voice, row: { articulation, entry }, name }: CellProps) {
  const noteName = useNoteName();
  const meaning = { voiceId: voice.id, articulationId: articulation.id };
  if (editor.change === null)
    return entry ? <SourceWords entry={entry} /> : <span className="text-muted">no note</span>;
  const others = editor.map.entries.filter((one) => isSameMeaning(one, meaning));
  const add = {
    name: "Another note as well",
    act: () => {
      const free = firstFreeNote(editor);
      if (free === null) return "All 128 notes of this map are taken.";
      return tryChange(editor, `Give ${name} another note`, (map) =>
        addEntry(map, { note: free, channel: null, pedal: null, ...meaning }),
      );
    },
  };
  if (!entry) {
    return (
      <SourceEditor
        label={`${name} comes in as`}
        words="no note yet"
        isQuiet
        source={{ note: firstFreeNote(editor) ?? 0, channel: null, pedal: null }}
        hasPedal
        onTake={(source) => tryChange(editor, `Map ${name}`, (map) => addEntry(map, { ...source, ...meaning }))}
        actions={[]}
      />
    );
  }
  const split = {
    name: "Split by the pedal",
    act: () => tryChange(editor, `Split note ${entry.note} by the pedal`, (map) => splitByPedal(map, entry)),
  };
  const remove = {
    name: others.length > 1 ? "Not this note" : "No note",
    act: () => tryChange(editor, `Remove note ${entry.note} from ${name}`, (map) => removeEntry(map, entry)),
  };
  return (
    <span className="flex items-baseline gap-2">
      <SourceEditor
        label={`${name} comes in as`}
        words={sourceWords(entry)}
        source={entry}
        hasPedal
        onTake={(source) =>
          tryChange(editor, `${name}: input on note ${source.note}`, (map) =>
            replaceEntry(map, entry, {
              ...source,
              voiceId: entry.voiceId,
              articulationId: entry.articulationId,
            }),
          )
        }
        actions={[...(voice.family === "hats" && entry.pedal === null ? [split] : []), add, remove]}
      />
      <span className="text-small text-muted">{noteName(entry.note)}</span>
    </span>
  );
}

function SourceWords({ entry }: { entry: NoteMapEntry }) {
  const noteName = useNoteName();
  return (
    <span className="flex items-baseline gap-2">
      <strong>{sourceWords(entry)}</strong>
      <span className="text-small text-muted">{noteName(entry.note)}</span>
    </span>
  );
}

/** `42, pedal 0–29, channel 10, track Hats`. */
function sourceWords({ note, channel, pedal, track }: NoteMapEntry): string {
  const conditions = [
    ...(pedal === null ? [] : [`pedal ${describePedal(pedal)}`]),
    ...(channel === null ? [] : [`channel ${channel + 1}`]),
    ...(track === undefined ? [] : [`track ${track}`]),
  ];
  return [note, ...conditions].join(", ");
}

function firstFreeNote({ map }: MapEditor): number | null {
  const taken = new Set(map.entries.map(({ note }) => note));
  const from = 35; // where drums usually are
  for (let step = 0; step < 128; step++) if (!taken.has((from + step) % 128)) return (from + step) % 128;
  return null;
}

export function GoesOutAs({ editor, voice, row, name }: CellProps) {
  const { articulation } = row;
  const meaning = { voiceId: voice.id, articulationId: articulation.id };
  // The outgoing side may belong to another kit; it is edited in the same way.
  const side: MapEditor = editor.goesOut ? { ...editor, ...editor.goesOut } : editor;
  const stroke = outgoingStroke(side.map, meaning);
  const instead = stroke && !isSameMeaning(stroke.meaning, meaning) ? stroke.meaning : null;
  const channel = stroke?.channel == null ? "" : `, channel ${stroke.channel + 1}`;
  const as = instead ? `, as ${strokeName(side.map, instead).split(", ").at(-1)}` : "";
  const isOwn = side.map.outgoing.some((outgoing) => isSameMeaning(outgoing, meaning));
  // Without another kit, what a take plays goes out on the note that it came in on.
  const isAsItCame = editor.usage !== null && !editor.goesOut && !isOwn && row.entry !== null;
  const missing = editor.goesOut ? "none there: original note" : "no note";
  const words = isAsItCame ? "as it came" : stroke ? `${stroke.note}${channel}${as}` : missing;
  const isKnown = side.map.voices.some(
    ({ id, articulations }) => id === voice.id && articulations.some((one) => one.id === articulation.id),
  );
  const className = clsx((instead || (editor.goesOut && !stroke)) && "text-amber-text");
  if (side.change === null || !isKnown) return <span className={className}>{words}</span>;
  const reset = {
    name: "As it comes in",
    act: () => tryChange(side, `${name}: output on its original note`, (map) => setOutgoing(map, meaning, null)),
  };
  return (
    <span className={className}>
      <SourceEditor
        label={`${name} goes out as`}
        words={words}
        isQuiet={isAsItCame}
        source={{
          note: (isAsItCame ? row.entry?.note : stroke?.note) ?? 0,
          channel: stroke?.channel ?? null,
          pedal: null,
        }}
        hasPedal={false}
        onTake={(to) =>
          tryChange(side, `${name}: output on note ${to.note}`, (map) =>
            setOutgoing(map, meaning, { note: to.note, channel: to.channel }),
          )
        }
        actions={isOwn ? [reset] : []}
      />
    </span>
  );
}
