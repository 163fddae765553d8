import { Hint } from "./Hint.tsx";
import type { ProblemWords } from "./ProblemNote.tsx";

interface ProjectWordsProps {
  readonly name: string;
  /** The book it belongs to; empty for none. */
  readonly book: string;
  readonly saving: "saved" | "saving" | ProblemWords;
}

/** Which project this is, and whether it is saved. */
export function ProjectWords({ name, book, saving }: ProjectWordsProps) {
  return (
    <>
      <p className="max-w-[300px] truncate text-muted" title={name}>
        {book && <span>{book} / </span>}
        <strong className="text-ink">{name}</strong>
      </p>
      {typeof saving === "string" ? (
        <span role="status" className="w-12 text-[13px] text-muted">
          {saving === "saving" ? "Saving" : "Saved"}
        </span>
      ) : (
        <span role="alert">
          <Hint text={`${saving.message} ${saving.remedy}`}>
            <button type="button" className="font-bold text-brick underline decoration-dotted">
              Not saving
            </button>
          </Hint>
        </span>
      )}
    </>
  );
}
