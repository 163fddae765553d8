import type { NoteMap } from "../core/document/index.ts";
import { type Guess, guessedName, otherGuess } from "../core/notemap/index.ts";

/** Takes what a note may be as well, where nothing tells the two apart. */
export function OtherMeaning({
  guess,
  noteMap,
  onTake,
}: {
  guess: Guess;
  noteMap: NoteMap;
  onTake: (other: Guess) => void;
}) {
  if (!guess.otherMeaning) return null;
  const name = guessedName(noteMap, guess.otherMeaning);
  return (
    <button
      type="button"
      aria-label={`${name}, for note ${guess.note}`}
      className="text-small font-bold text-spruce underline"
      onClick={() => onTake(otherGuess(guess))}
    >
      {name}
    </button>
  );
}
