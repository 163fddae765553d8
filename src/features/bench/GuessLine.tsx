import { findVoice, type Guess, type NoteMap } from "../../core/notemap/index.ts";
import { nameNotes } from "../../core/part/index.ts";
import type { Bench } from "./bench-context.ts";

/** `snare, centre`: the drum and stroke of a guess in words. */
function guessName({ meaning }: Guess, noteMap: NoteMap): string {
  const voice = findVoice(noteMap, meaning.voiceId);
  const stroke = voice.articulations.find(({ id }) => id === meaning.articulationId)?.name;
  return voice.articulations.length > 1 && stroke ? `${voice.name}, ${stroke}` : voice.name;
}

/** What a note may be, how sure that is, and why. */
export function GuessLine({ guess, noteMap }: { guess: Guess; noteMap: NoteMap }) {
  return (
    <span className="text-[13px] text-muted">
      looks like <strong className="text-ink">{guessName(guess, noteMap)}</strong>, {Math.round(guess.confidence * 100)}{" "}
      % sure: {guess.reason}
    </span>
  );
}

/** Takes guesses as names, as one step. */
export function takeGuesses({ store }: Bench, guesses: readonly Guess[]): void {
  const { pattern } = store.getState();
  const meanings = new Map(guesses.map(({ note, meaning }) => [note, meaning]));
  const label =
    guesses.length === 1
      ? `Let note ${guesses[0]!.note} play ${guessName(guesses[0]!, pattern.noteMap)}`
      : `Name ${guesses.length} notes`;
  store.commit(label, nameNotes(pattern, meanings));
  const { openVoiceId, lanes } = store.getState();
  if (lanes.some((lane) => lane.voiceId === openVoiceId)) return;
  store.setState({ openVoiceId: guesses[0]?.meaning.voiceId ?? lanes[0]?.voiceId ?? null });
}
