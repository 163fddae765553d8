import { useState } from "react";
import type { Guess } from "../core/notemap/index.ts";
import { Button } from "./Button.tsx";
import { SentenceNumber } from "./sentence/SentenceNumber.tsx";

const USUAL_PERCENT = 60;

/** Takes all guesses that are sure enough, at once. */
export function TakeSureGuesses({
  guesses,
  onTake,
}: {
  guesses: readonly Guess[];
  onTake: (sure: readonly Guess[]) => void;
}) {
  const [leastPercent, setLeastPercent] = useState(USUAL_PERCENT);
  const sure = guesses.filter((guess) => guess.confidence * 100 >= leastPercent);
  return (
    <p className="flex flex-wrap items-center gap-x-3 gap-y-1.5">
      <Button kind="main" disabled={sure.length === 0} onClick={() => onTake(sure)}>
        Take {sure.length} of {guesses.length}
      </Button>
      <span>
        that are at least{" "}
        <SentenceNumber
          label="How sure"
          unit="%"
          min={0}
          max={99}
          step={1}
          value={leastPercent}
          usual={USUAL_PERCENT}
          onPreview={setLeastPercent}
          onCommit={setLeastPercent}
        />{" "}
        sure. One undo takes all back.
      </span>
    </p>
  );
}
