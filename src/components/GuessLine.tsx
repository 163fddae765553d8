import type { NoteMap } from "../core/document/index.ts";
import { type Guess, guessedName } from "../core/notemap/index.ts";

/** What a note may be, how sure that is, and why. */
export function GuessLine({ guess, noteMap }: { guess: Guess; noteMap: NoteMap }) {
  return (
    <span className="text-small text-muted">
      looks like <strong className="text-ink">{guessedName(noteMap, guess.meaning)}</strong>
      {guess.otherMeaning && (
        <>
          {" "}
          or <strong className="text-ink">{guessedName(noteMap, guess.otherMeaning)}</strong>
        </>
      )}
      , {Math.round(guess.confidence * 100)} % sure: {guess.reason}
    </span>
  );
}
