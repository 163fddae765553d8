import { setNoteMap } from "../../core/commands/index.ts";
import { type Guess, guessedName, withGuesses, withStroke } from "../../core/notemap/index.ts";
import type { Bench } from "../bench/bench-context.ts";

/** Takes guesses as names, as one step. */
export function takeGuesses({ store }: Bench, guesses: readonly Guess[]): void {
  const { pattern } = store.getState();
  const label =
    guesses.length === 1
      ? `Let note ${guesses[0]!.note} play ${guessedName(pattern.noteMap, guesses[0]!.meaning)}`
      : `Name ${guesses.length} notes`;
  store.commit(label, setNoteMap(pattern, withGuesses(pattern.noteMap, guesses)));
  const { openVoiceId, lanes } = store.getState();
  if (lanes.some((lane) => lane.voiceId === openVoiceId)) return;
  const [first] = guesses;
  store.openLane(first ? withStroke(pattern.noteMap, first.meaning).meaning.voiceId : (lanes[0]?.voiceId ?? null));
}
