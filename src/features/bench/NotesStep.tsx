import { SentenceChoice } from "../../components/SentenceChoice.tsx";
import { isUnnamedVoice, meaningOfNote, type NoteMap, type NoteMeaning } from "../../core/notemap/index.ts";
import { nameNote } from "../../core/part/index.ts";
import type { LaneView } from "../../store/lane-view.ts";
import { type Bench, useBench, useBenchState } from "./bench-context.ts";
import { GuessLine, takeGuesses } from "./GuessLine.tsx";

/** Which incoming notes feed a lane, and what each of them plays, as sentences that can be edited. */
export function NotesStep({ lane }: { lane: LaneView }) {
  const bench = useBench();
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  const notes = [...new Set(lane.hits.map((hit) => hit.note))].sort((a, b) => a - b);
  const countOf = (note: number) => lane.hits.reduce((count, hit) => count + (hit.note === note ? 1 : 0), 0);
  return (
    <section aria-label="Notes" className="mt-4 border-t border-hairline pt-3">
      <h3 className="font-bold">Notes</h3>
      <ul className="mt-1 leading-[1.75]">
        {notes.map((note) => {
          const meaning = meaningOfNote(noteMap, note);
          return (
            <li key={note}>
              Note {note} plays{" "}
              <SentenceChoice
                label={`Note ${note} plays`}
                chosenId={idOf(meaning)}
                groups={[[{ id: `note-${note}/unnamed`, name: "nothing with a name" }], ...choicesOf(noteMap)]}
                onPreview={(id) => sound(bench, id)}
                onChoose={(id) => name(bench, note, id)}
                onCancel={() => {}}
              />
              <span className="text-[13px] text-muted">
                , {countOf(note).toLocaleString("en")} {countOf(note) === 1 ? "hit" : "hits"} here
              </span>
              {isUnnamedVoice(meaning.voiceId) && <OwnGuess note={note} />}
            </li>
          );
        })}
      </ul>
    </section>
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

const idOf = ({ voiceId, articulationId }: NoteMeaning) => `${voiceId}/${articulationId}`;

/** Every stroke of every drum, a group for each family. */
export function choicesOf({ voices }: Pick<NoteMap, "voices">) {
  const families = [...new Set(voices.map((voice) => voice.family))];
  return families.map((family) =>
    voices
      .filter((voice) => voice.family === family)
      .flatMap((voice) =>
        voice.articulations.map((articulation) => ({
          id: idOf({ voiceId: voice.id, articulationId: articulation.id }),
          name: voice.articulations.length > 1 ? `${voice.name}, ${articulation.name}` : voice.name,
        })),
      ),
  );
}

export function meaningOf(id: string): NoteMeaning {
  const [voiceId = "", articulationId = ""] = id.split("/");
  return { voiceId, articulationId };
}

function sound({ playback }: Bench, id: string): void {
  const { voiceId, articulationId } = meaningOf(id);
  if (!isUnnamedVoice(voiceId)) void playback.audition(voiceId, articulationId, 90);
}

function name({ store }: Bench, note: number, id: string): void {
  const meaning = meaningOf(id);
  const { noteMap } = store.getState().pattern;
  const voice = noteMap.voices.find((candidate) => candidate.id === meaning.voiceId);
  store.commit(
    `Let note ${note} play ${voice?.name ?? "nothing with a name"}`,
    nameNote(store.getState().pattern, note, meaning),
  );
  // The lane may be gone with its last note; the work goes on where the note went.
  store.setState({ openVoiceId: meaning.voiceId });
}
