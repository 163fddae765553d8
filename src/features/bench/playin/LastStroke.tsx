import { useStore } from "zustand";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { choicesOf, idOf, meaningOfId } from "../../../components/sentence/stroke-choices.ts";
import { nameNote } from "../../../core/commands/index.ts";
import { isUnnamedVoice, meaningOf, meaningWithoutName, strokeName } from "../../../core/document/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { changePlayIn } from "../../../store/playin/play-in-state.ts";

/** What was struck last, and what it plays: another drum is chosen here, for this note from now on. */
export function LastStroke() {
  const { recording, store, playback } = useBench();
  const note = useStore(recording.state, (state) => state.lastNote);
  const input = useStore(recording.state, (state) => state.lastInput);
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  const startNote = useStore(recording.state, (state) => state.settings.startNote);
  if (note === null) return null;
  const link = (words: string, next: number | undefined) => (
    <button
      type="button"
      className="font-bold text-spruce underline"
      onClick={() => changePlayIn(recording.state, { startNote: next })}
    >
      {words}
    </button>
  );
  if (note === startNote) {
    return (
      <p className="mt-1 text-small">
        Note {note} from {input} starts and stops recording. {link("Let it play again", undefined)}
      </p>
    );
  }
  const meaning = meaningOf(noteMap, { note, channel: 9, pedal: null });
  const unnamed = meaningWithoutName(note);
  const learn = (id: string) => {
    const wanted = meaningOfId(id);
    const name = isUnnamedVoice(wanted.voiceId) ? "unmapped" : strokeName(noteMap, wanted);
    store.commit(`Let note ${note} play ${name}`, nameNote(store.getState().pattern, note, wanted));
  };
  return (
    <p className="mt-1 text-small">
      Note {note} from {input} is heard as{" "}
      <SentenceChoice
        label={`Note ${note} is heard as`}
        chosenId={idOf(meaning)}
        groups={[[{ id: idOf(unnamed), name: "unmapped" }], ...choicesOf(noteMap)]}
        onPreview={(id) => {
          const { voiceId, articulationId } = meaningOfId(id);
          if (!isUnnamedVoice(voiceId)) void playback.audition(voiceId, articulationId, 90);
        }}
        onChoose={learn}
      />
      . {link("Let it start and stop recording", note)}
    </p>
  );
}
