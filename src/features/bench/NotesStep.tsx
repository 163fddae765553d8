import { memo } from "react";
import { toast } from "sonner";
import { GuessLine } from "../../components/GuessLine.tsx";
import { SentenceChoice } from "../../components/SentenceChoice.tsx";
import { choicesOf, idOf, meaningOfId } from "../../components/stroke-choices.ts";
import { type LengthFaultKind, mendLengths, nameNote, unmendLengths, useNoteMap } from "../../core/commands/index.ts";
import {
  entryOf,
  findVoice,
  type Hit,
  isUnnamedVoice,
  meaningWithoutName,
  type NoteMapEntry,
  strikeOf,
} from "../../core/document/index.ts";
import { describeSource, removeEntry, replaceEntry } from "../../core/notemap/index.ts";
import { type Bench, useBench, useBenchState } from "../../store/bench-context.ts";
import { takeGuesses } from "../../store/take-guesses.ts";
import { hitCount } from "./actions.ts";
import { showPicked } from "./travel-actions.ts";

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
    <section aria-label="Notes" className="mt-4 border-t border-hairline pt-3">
      <h3 className="font-bold">Notes</h3>
      <ul className="mt-1 leading-[1.75]">
        {[...sources]
          .sort(([, a], [, b]) => a.note - b.note)
          .map(([key, source]) => {
            const words = `${key[0]!.toUpperCase()}${key.slice(1)} plays`;
            return (
              <li key={key}>
                {words}{" "}
                <SentenceChoice
                  label={words}
                  chosenId={idOf(source.entry ?? meaningWithoutName(source.note))}
                  groups={[
                    [{ id: idOf(meaningWithoutName(source.note)), name: "nothing with a name" }],
                    ...choicesOf(noteMap),
                  ]}
                  onPreview={(id) => sound(bench, id)}
                  onChoose={(id) => name(bench, source, id)}
                  onCancel={() => {}}
                />
                <span className="text-[13px] text-muted">
                  , {source.hitCount.toLocaleString("en")} {source.hitCount === 1 ? "hit" : "hits"} here
                </span>
                {source.entry === null && <OwnGuess note={source.note} />}
              </li>
            );
          })}
      </ul>
      <Lengths hits={hits} />
    </section>
  );
});

const LENGTH_WORDS: Readonly<Record<LengthFaultKind, (count: string) => string>> = {
  hanging: (count) => `${count} never end`,
  zeroLength: (count) => `${count} end as they begin`,
  overlong: (count) => `${count} are held over five seconds`,
  overlapping: (count) => `${count} still sound when the next begins`,
};

/** Notes whose length can spoil playback elsewhere: a hit has none, but its note in the file does. */
function Lengths({ hits }: { hits: readonly Hit[] }) {
  const bench = useBench();
  const { store } = bench;
  const lengthFaults = useBenchState((state) => state.lengthFaults);
  const own = new Map(hits.map((hit) => [hit.id, hit]));
  const faults = lengthFaults.filter(({ hitId }) => own.get(hitId) && own.get(hitId)?.lengthTicks === undefined);
  const mended = hits.filter((hit) => hit.lengthTicks !== undefined);
  if (faults.length === 0 && mended.length === 0) return null;
  const kinds = [...new Set(faults.map(({ kind }) => kind))];
  const words = kinds.map((kind) => LENGTH_WORDS[kind](String(faults.filter((one) => one.kind === kind).length)));
  const linkClass = "font-bold text-spruce underline";
  return (
    <p className="mt-1 text-[13px] leading-snug">
      {faults.length > 0 && (
        <>
          Of its notes {words.join(", ")}.{" "}
          <button
            type="button"
            className={linkClass}
            onClick={() => {
              store.commit(
                `Mend the length of ${hitCount(faults.length)}`,
                mendLengths(store.getState().pattern, faults),
              );
              toast(`Mended ${hitCount(faults.length)}: they go out as short notes, and sound as before.`, {
                id: "command",
              });
            }}
          >
            Mend {faults.length === 1 ? "it" : `all ${faults.length}`}
          </button>{" "}
          <button
            type="button"
            className={linkClass}
            onClick={() => {
              store.pick(new Set(faults.map(({ hitId }) => hitId)));
              showPicked(bench);
            }}
          >
            Show {faults.length === 1 ? "it" : "them"}
          </button>{" "}
        </>
      )}
      {mended.length > 0 && (
        <>
          {hitCount(mended.length)} mended.{" "}
          <button
            type="button"
            className={linkClass}
            onClick={() => store.commit(`Leave the length of ${hitCount(mended.length)}`, unmendLengths(mended))}
          >
            As in the file
          </button>
        </>
      )}
    </p>
  );
}

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
        className="text-[13px] font-bold text-spruce underline"
        onClick={() => takeGuesses(bench, [guess])}
      >
        Take it
      </button>
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
      : useNoteMap(
          pattern,
          isNamed
            ? replaceEntry(pattern.noteMap, entry, { ...entry, ...meaning })
            : removeEntry(pattern.noteMap, entry),
        );
  const what = isNamed ? findVoice(pattern.noteMap, meaning.voiceId).name : "nothing with a name";
  store.commit(`Let ${entry ? describeSource(entry) : `note ${note}`} play ${what}`, edit);
  // The lane may be gone with its last note; the work goes on where the note went.
  store.setState({ openVoiceId: meaning.voiceId });
}
