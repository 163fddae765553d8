import { useEffect } from "react";
import { Button } from "../Button.tsx";
import { Hint } from "../Hint.tsx";
import type { ProblemWords } from "../messages/ProblemNote.tsx";
import { say, sayTrouble, sayUntilClosed } from "../messages/say.ts";
import { LeaveGuard } from "./LeaveGuard.tsx";
import { usePageTitle } from "./page-title.ts";
import { PageNotice } from "./TopBar.tsx";

const SAVING = { seeking: "Finding grids …", saving: "Saving", saved: "Saved" };

export interface Saving {
  readonly saving: keyof typeof SAVING | ProblemWords;
  /** Whether what is not saved is kept by the browser, and not in this window alone. */
  readonly isKeptHere: boolean;
  /** How much of the grids that are sought is found, 0 to 1, and what has them sought no longer. */
  readonly soughtShare: number;
  readonly onLeaveSeeking: () => Promise<ProblemWords | null>;
  /** How many other windows have the same project open. */
  readonly otherWindows: number;
  readonly hasUnsaved: () => boolean;
  /** Waits until everything is saved; false if that does not happen soon. */
  readonly whenSaved: (patienceMs: number) => Promise<boolean>;
  readonly onRetry: () => void;
  /** Tells of what a person has to know about saving. */
  readonly onNotice: (listen: (notice: { readonly kind: string; readonly message: string }) => void) => () => void;
}

interface ProjectWordsProps {
  readonly name: string;
  /** The book it belongs to; empty for none. */
  readonly book: string;
  readonly saving: Saving;
}

/** Which project this is, whether it is saved, and what is to be known about that. */
export function ProjectWords({ name, book, saving }: ProjectWordsProps) {
  const { otherWindows, onNotice } = saving;
  usePageTitle("take", name);
  useEffect(
    () =>
      onNotice(({ kind, message }) => {
        // Of what was not done a person has to know, so it stays until it was read.
        const isTrouble = kind === "refused" || kind === "conflict";
        if (isTrouble) sayUntilClosed(message);
        else say(message);
      }),
    [onNotice],
  );
  const leave = async () => {
    const trouble = await saving.onLeaveSeeking();
    if (trouble) sayTrouble(trouble);
  };
  return (
    <>
      <p className="max-w-[300px] min-w-20 truncate text-muted" title={name}>
        {book && <span>{book} / </span>}
        <strong className="text-ink">{name}</strong>
      </p>
      {otherWindows > 0 && (
        <Hint text="What is saved in one window appears in the other.">
          <span role="note" className="text-small text-muted">
            Open twice
          </span>
        </Hint>
      )}
      {typeof saving.saving === "string" ? (
        <span role="status" className="min-w-12 text-small text-muted">
          {SAVING[saving.saving]}
          {saving.saving === "seeking" && (
            <>
              {" "}
              {Math.round(100 * saving.soughtShare)} %{" "}
              <Hint text="Every drum stays on the usual grid; each can be put on another on its card">
                <button type="button" className="font-semibold text-brick underline" onClick={() => void leave()}>
                  Cancel
                </button>
              </Hint>
            </>
          )}
        </span>
      ) : (
        <PageNotice>
          <SaveTrouble problem={saving.saving} saving={saving} />
        </PageNotice>
      )}
      <LeaveGuard isKeptHere={saving.isKeptHere} hasUnsaved={saving.hasUnsaved} whenSaved={saving.whenSaved} />
    </>
  );
}

/** Why nothing is saved, what to do, and what is being done about it: in the page, where it is seen. */
function SaveTrouble({ problem, saving }: { problem: ProblemWords; saving: Saving }) {
  return (
    <div role="alert" className="flex items-center gap-4 border-y border-brick bg-brick-tint px-5 py-1.5">
      <p className="flex-1 text-base leading-snug">
        <strong className="text-brick">Not saving. </strong>
        {problem.message} {problem.remedy}{" "}
        {saving.isKeptHere
          ? "Your changes are kept in this browser, and saving is tried again by itself."
          : "The browser has no room to keep your changes either: do not close this window before they are saved."}
      </p>
      <Button className="shrink-0" onClick={saving.onRetry}>
        Try now
      </Button>
    </div>
  );
}
