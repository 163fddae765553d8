import Link from "next/link";
import { Button } from "./Button.tsx";
import { ProblemNote, type ProblemWords } from "./ProblemNote.tsx";
import { type Screen, TopBar } from "./TopBar.tsx";

interface OpeningProjectProps {
  readonly here: Screen;
  readonly problem: ProblemWords | null;
  readonly onRetry: () => void;
}

/** What a screen shows of a project until it is there, or when it cannot be. */
export function OpeningProject({ here, problem, onRetry }: OpeningProjectProps) {
  return (
    <div className="flex h-screen flex-col">
      <TopBar here={here} />
      {problem ? (
        <div className="m-auto w-[min(560px,90vw)]">
          <ProblemNote title="This project could not be opened" problem={problem}>
            <p className="mt-3 flex items-center gap-4">
              <Button onClick={onRetry}>Try again</Button>
              <Link href="/" className="font-semibold underline">
                Back to the shelf
              </Link>
            </p>
          </ProblemNote>
        </div>
      ) : (
        <div role="status" aria-label="Opening the project" className="flex flex-1 flex-col gap-px px-5 pt-16">
          {["a", "b", "c", "d", "e", "f", "g"].map((row) => (
            <div key={row} className="h-11 animate-pulse border-b border-hairline bg-sheet/60" />
          ))}
        </div>
      )}
    </div>
  );
}
