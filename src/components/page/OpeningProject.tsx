import { useRouter } from "next/navigation";
import { Button } from "../Button.tsx";
import { ProblemNote, type ProblemWords } from "../messages/ProblemNote.tsx";
import { TaskNote } from "../messages/TaskNote.tsx";
import { PageLink } from "./PageLink.tsx";
import { type Screen, TopBar } from "./TopBar.tsx";

interface OpeningProjectProps {
  readonly here: Screen;
  readonly problem: ProblemWords | null;
  /** How much of it has come, 0 to 1, where that takes a while. */
  readonly share: number | null;
  readonly retry: () => void;
}

/** What a screen shows of a project until it is there, or when it cannot be. */
export function OpeningProject({ here, problem, share, retry }: OpeningProjectProps) {
  const router = useRouter();
  return (
    <div className="flex h-screen flex-col">
      <TopBar here={here} />
      {problem ? (
        <div className="m-auto w-[min(560px,90vw)]">
          <ProblemNote title="This project could not be opened" problem={problem}>
            <p className="mt-3 flex items-center gap-4">
              <Button onClick={retry}>Try again</Button>
              <PageLink href="/" className="font-semibold underline">
                Back to the shelf
              </PageLink>
            </p>
          </ProblemNote>
        </div>
      ) : (
        <div className="flex flex-1 flex-col gap-px px-5 pt-4">
          {/* As high as what it says, so that nothing moves when it comes. */}
          <div className="mb-3 h-9 w-[min(420px,100%)]">
            {share === null ? (
              <p role="status" className="sr-only">
                Opening the project
              </p>
            ) : (
              <TaskNote
                what="Opening the take"
                state={{ kind: "running", done: share, of: 1 }}
                onCancel={() => router.push("/")}
              />
            )}
          </div>
          {["a", "b", "c", "d", "e", "f", "g"].map((row) => (
            <div key={row} className="h-11 animate-pulse border-b border-hairline bg-sheet/60" />
          ))}
        </div>
      )}
    </div>
  );
}
