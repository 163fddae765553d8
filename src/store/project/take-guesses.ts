import { setNoteMap } from "../../core/commands/index.ts";
import { strokeName } from "../../core/document/index.ts";
import { type Guess, withGuesses } from "../../core/notemap/index.ts";
import type { Bench } from "../bench/bench-context.ts";

/** Takes guesses as names, as one step. */
export function takeGuesses({ store }: Bench, guesses: readonly Guess[]): void {
  const { pattern } = store.getState();
  const label =
    guesses.length === 1
      ? `Let note ${guesses[0]!.note} play ${strokeName(pattern.noteMap, guesses[0]!.meaning)}`
      : `Name ${guesses.length} notes`;
  store.commit(label, setNoteMap(pattern, withGuesses(pattern.noteMap, guesses)));
  const { openVoiceId, lanes } = store.getState();
  if (lanes.some((lane) => lane.voiceId === openVoiceId)) return;
  store.openLane(guesses[0]?.meaning.voiceId ?? lanes[0]?.voiceId ?? null);
}
