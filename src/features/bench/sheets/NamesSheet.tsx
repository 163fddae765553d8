import { Button } from "../../../components/Button.tsx";
import { GuessLine } from "../../../components/GuessLine.tsx";
import { OtherMeaning } from "../../../components/OtherMeaning.tsx";
import { Sheet } from "../../../components/page/Sheet.tsx";
import { TakeSureGuesses } from "../../../components/TakeSureGuesses.tsx";
import { strokeName } from "../../../core/document/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { takeGuesses } from "../../../store/project/take-guesses.ts";

interface NamesSheetProps {
  readonly isOpen: boolean;
  readonly onOpenChange: (isOpen: boolean) => void;
}

/** Lists the notes without a name, each with a guess to take, or takes all that are sure enough. */
export function NamesSheet({ isOpen, onOpenChange }: NamesSheetProps) {
  const bench = useBench();
  const unnamed = useBenchState((state) => state.guesses);
  const doubts = useBenchState((state) => state.doubts);
  const guesses = [...unnamed, ...doubts];
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  const nameNow = (note: number) => {
    const entry = noteMap.entries.find((candidate) => candidate.note === note);
    return entry ? strokeName(noteMap, entry) : "nothing";
  };
  const hear = (meaning: (typeof guesses)[number]["meaning"]) =>
    void bench.playback.audition(meaning.voiceId, meaning.articulationId, 95);
  return (
    <Sheet
      title="Notes that need a name"
      lead="Guessed from how they are played, not from their numbers. Nothing is named until you take it."
      isOpen={isOpen}
      onOpenChange={onOpenChange}
    >
      <ul>
        {guesses.map((guess) => (
          <li key={guess.note} className="flex items-center gap-4 border-t border-hairline py-2">
            <p className="min-w-0 flex-1">
              <strong>Note {guess.note}</strong> {doubts.includes(guess) && <>, called {nameNow(guess.note)}, </>}
              <GuessLine guess={guess} noteMap={noteMap} />
            </p>
            <button
              type="button"
              className="text-small text-muted underline hover:text-ink"
              onClick={() => hear(guess.meaning)}
            >
              Listen
            </button>
            <OtherMeaning guess={guess} noteMap={noteMap} onTake={(other) => takeGuesses(bench, [other])} />
            <Button aria-label={`Accept the guess for note ${guess.note}`} onClick={() => takeGuesses(bench, [guess])}>
              Accept
            </Button>
          </li>
        ))}
      </ul>
      {guesses.length === 0 ? (
        <p className="text-muted">Every note has a name.</p>
      ) : (
        <div className="mt-4">
          <TakeSureGuesses guesses={guesses} onTake={(sure) => takeGuesses(bench, sure)} />
        </div>
      )}
    </Sheet>
  );
}
