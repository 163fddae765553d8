import { memo } from "react";
import { GuessLine } from "../../../components/GuessLine.tsx";
import { OtherMeaning } from "../../../components/OtherMeaning.tsx";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { choicesOf, idOf, meaningOfId } from "../../../components/sentence/stroke-choices.ts";
import { nameNote, setNoteMap } from "../../../core/commands/index.ts";
import {
  entryOf,
  findVoice,
  type Hit,
  isUnnamedVoice,
  meaningWithoutName,
  type NoteMapEntry,
  strikeOf,
} from "../../../core/document/index.ts";
import { describeSource, removeEntry, replaceEntry } from "../../../core/notemap/index.ts";
import { type Bench, useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { takeGuesses } from "../../../store/project/take-guesses.ts";

/** Something that feeds a lane: an entry of the map, or a note that has none. */
interface Source {
  readonly note: number;
  readonly entry: NoteMapEntry | null;
  hitCount: number;
}

/**
 * Which incoming notes feed a lane, and what each of them plays, as sentences that can be edited. A drag of a setting leaves
 * the hits as they are, and this is not drawn anew.
 */
export const NotesStep = memo(function NotesStep({ hits }: { hits: readonly Hit[] }) {
  const bench = useBench();
  const pattern = useBenchState((state) => state.pattern);
  const { noteMap } = pattern;
  const sources = new Map<string, Source>();
  for (const hit of hits) {
    const entry = entryOf(noteMap, strikeOf(pattern, hit));
    const key = entry ? describeSource(entry) : `note ${hit.note}`;
    const source = sources.get(key) ?? { note: hit.note, entry, hitCount: 0 };
    sources.set(key, source);
    source.hitCount++;
  }
  return (
    <section aria-label="Notes" className="mt-3 border-t border-hairline pt-3">
      <h3 className="font-bold">Notes</h3>
      <ul className="mt-1 leading-[1.75]">
        {[...sources]
          .sort(([, a], [, b]) => a.note - b.note)
          .map(([key, source]) => {
            const words = `${key[0]!.toUpperCase()}${key.slice(1)} is heard as`;
            return (
              <li key={key}>
                {words}{" "}
                <SentenceChoice
                  label={words}
                  chosenId={idOf(source.entry ?? meaningWithoutName(source.note))}
                  groups={[[{ id: idOf(meaningWithoutName(source.note)), name: "unmapped" }], ...choicesOf(noteMap)]}
                  onPreview={(id) => sound(bench, id)}
                  onChoose={(id) => name(bench, source, id)}
                />
                <span className="text-small text-muted">
                  , {source.hitCount.toLocaleString("en")} {source.hitCount === 1 ? "hit" : "hits"} here
                </span>
                {source.entry === null && <OwnGuess note={source.note} />}
              </li>
            );
          })}
      </ul>
    </section>
  );
});

/** The guess for a note without a name, to be taken with one click. */
function OwnGuess({ note }: { note: number }) {
  const bench = useBench();
  const guess = useBenchState((state) => state.guesses.find((candidate) => candidate.note === note));
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  if (!guess) return null;
  return (
    <p className="mb-1 leading-snug">
      It <GuessLine guess={guess} noteMap={noteMap} />.{" "}
      <button
        type="button"
        className="text-small font-bold text-spruce underline"
        onClick={() => takeGuesses(bench, [guess])}
      >
        Accept
      </button>{" "}
      <OtherMeaning guess={guess} noteMap={noteMap} onTake={(other) => takeGuesses(bench, [other])} />
    </p>
  );
}

function sound({ playback }: Bench, id: string): void {
  const { voiceId, articulationId } = meaningOfId(id);
  if (!isUnnamedVoice(voiceId)) void playback.audition(voiceId, articulationId, 90);
}

function name({ store }: Bench, { note, entry }: Source, id: string): void {
  const meaning = meaningOfId(id);
  const { pattern } = store.getState();
  const isNamed = !isUnnamedVoice(meaning.voiceId);
  const edit =
    entry === null
      ? nameNote(pattern, note, meaning)
      : setNoteMap(
          pattern,
          isNamed
            ? replaceEntry(pattern.noteMap, entry, { ...entry, ...meaning })
            : removeEntry(pattern.noteMap, entry),
        );
  const what = isNamed ? findVoice(pattern.noteMap, meaning.voiceId).name : "unmapped";
  store.commit(`Let ${entry ? describeSource(entry) : `note ${note}`} play ${what}`, edit);
  // The lane may be gone with its last note; the work goes on where the note went.
  store.openLane(meaning.voiceId);
}
