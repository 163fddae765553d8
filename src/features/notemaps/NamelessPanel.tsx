import { GuessLine } from "../../components/GuessLine.tsx";
import { OtherMeaning } from "../../components/OtherMeaning.tsx";
import { SentenceChoice } from "../../components/sentence/SentenceChoice.tsx";
import { choicesOf, idOf, meaningOfId } from "../../components/sentence/stroke-choices.ts";
import { TakeSureGuesses } from "../../components/TakeSureGuesses.tsx";
import { setNoteMap } from "../../core/commands/index.ts";
import { meaningWithoutName, strokeName, withMeaning } from "../../core/document/index.ts";
import { useBench, useBenchState } from "../../store/bench/bench-context.ts";
import { takeGuesses } from "../../store/project/take-guesses.ts";
import type { MapEditor } from "./map-editor.ts";
import { useNoteName } from "./note-names.ts";
import { WherePicture } from "./WherePicture.tsx";

/** The notes of the take that its map does not know, each with what it may be. */
export function NamelessPanel({ editor, struckNote }: { editor: MapEditor; struckNote: number | null }) {
  const noteName = useNoteName();
  const bench = useBench();
  const guesses = useBenchState((state) => state.guesses);
  const doubts = useBenchState((state) => state.doubts);
  const notes = [...(editor.usage?.withoutName ?? [])].sort(([, a], [, b]) => b.hitCount - a.hitCount);
  const extra = struckNote !== null && !editor.usage?.withoutName.has(struckNote) ? struckNote : null;
  const all = [...guesses, ...doubts];
  const { map } = editor;
  const nameOfNote = (note: number) => {
    const entry = map.entries.find((candidate) => candidate.note === note);
    return entry ? strokeName(map, entry) : "nothing";
  };
  const name = (note: number, id: string) => {
    const meaning = meaningOfId(id);
    const edit = setNoteMap(bench.store.getState().pattern, withMeaning(map, note, meaning));
    bench.store.commit(`Map note ${note} to ${strokeName(map, meaning)}`, edit);
  };
  const choice = (note: number) => (
    <SentenceChoice
      label={`Note ${note} is heard as`}
      chosenId={idOf(meaningWithoutName(note))}
      groups={[[{ id: idOf(meaningWithoutName(note)), name: "unmapped" }], ...choicesOf(map)]}
      onPreview={(id) => {
        const { voiceId, articulationId } = meaningOfId(id);
        if (id !== idOf(meaningWithoutName(note))) editor.hear(voiceId, articulationId, 90);
      }}
      onChoose={(id) => id !== idOf(meaningWithoutName(note)) && name(note, id)}
    />
  );
  return (
    <aside
      aria-label="Unmapped notes"
      className="w-[296px] shrink-0 overflow-y-auto border-l border-hairline bg-sheet px-[18px] py-3.5"
    >
      <h2 className="text-title font-bold">
        {notes.length === 0
          ? "Every note has a name"
          : `${notes.length} unmapped ${notes.length === 1 ? "note" : "notes"}`}
      </h2>
      <p className="text-muted">
        {notes.length === 0
          ? "What this take plays is in the map."
          : "Guessed from how they are played. Nothing is named until you accept it."}
      </p>
      <ul className="mt-3">
        {extra !== null && (
          <li className="border-t border-hairline bg-amber-tint px-2 py-2.5">
            <strong>Note {extra}</strong> <span className="text-small text-muted">{noteName(extra)}, just struck</span>
            <p>It is heard as {choice(extra)}.</p>
          </li>
        )}
        {notes.map(([note, usage]) => {
          const guess = guesses.find((candidate) => candidate.note === note);
          return (
            <li
              key={note}
              data-struck={note === struckNote || undefined}
              className="border-t border-hairline py-2.5 data-[struck]:bg-amber-tint"
            >
              <p className="flex items-center gap-2">
                <strong>Note {note}</strong>
                <span className="text-small text-muted">
                  {noteName(note)}, {usage.hitCount.toLocaleString("en")} {usage.hitCount === 1 ? "hit" : "hits"}
                </span>
                <span className="ml-auto">
                  <WherePicture usage={usage} ink="percussion" />
                </span>
              </p>
              {guess && (
                <p className="leading-snug">
                  It <GuessLine guess={guess} noteMap={map} />.
                </p>
              )}
              <p className="mt-0.5 flex items-baseline gap-3 text-small">
                {guess && (
                  <>
                    <button
                      type="button"
                      aria-label={`Accept the guess for note ${note}`}
                      className="font-bold text-spruce underline"
                      onClick={() => takeGuesses(bench, [guess])}
                    >
                      Accept
                    </button>
                    <OtherMeaning guess={guess} noteMap={map} onTake={(other) => takeGuesses(bench, [other])} />
                    <button
                      type="button"
                      aria-label={`Listen to the guess for note ${note}`}
                      className="text-muted underline hover:text-ink"
                      onClick={() => editor.hear(guess.meaning.voiceId, guess.meaning.articulationId, 95)}
                    >
                      Listen
                    </button>
                  </>
                )}
                <span>is heard as {choice(note)}</span>
              </p>
            </li>
          );
        })}
      </ul>
      {doubts.length > 0 && (
        <section aria-label="Doubtful names" className="mt-2 border-t border-hairline pt-3">
          <h2 className="text-lead font-bold">Doubtful names</h2>
          <p className="text-small text-muted">What the map calls them does not fit how they are played.</p>
          <ul className="mt-2">
            {doubts.map((guess) => (
              <li key={guess.note} className="border-t border-hairline py-2 leading-snug">
                <strong>Note {guess.note}</strong>, called {nameOfNote(guess.note)},{" "}
                <GuessLine guess={guess} noteMap={map} />.
                <p className="flex gap-3 text-small">
                  <button
                    type="button"
                    aria-label={`Accept the guess for note ${guess.note}`}
                    className="font-bold text-spruce underline"
                    onClick={() => takeGuesses(bench, [guess])}
                  >
                    Accept
                  </button>
                  <OtherMeaning guess={guess} noteMap={map} onTake={(other) => takeGuesses(bench, [other])} />
                  <button
                    type="button"
                    aria-label={`Listen to the guess for note ${guess.note}`}
                    className="text-muted underline hover:text-ink"
                    onClick={() => editor.hear(guess.meaning.voiceId, guess.meaning.articulationId, 95)}
                  >
                    Listen
                  </button>
                </p>
              </li>
            ))}
          </ul>
        </section>
      )}
      {all.length > 0 && (
        <div className="mt-3 border-t border-hairline pt-3">
          <TakeSureGuesses guesses={all} onTake={(sure) => takeGuesses(bench, sure)} />
        </div>
      )}
    </aside>
  );
}
