import type { ReactNode } from "react";

/** What was wrong, where, and what can be done. */
export interface ProblemWords {
  readonly message: string;
  readonly where?: string;
  readonly remedy: string;
}

interface ProblemNoteProps {
  readonly title: string;
  readonly problem: ProblemWords;
  readonly children?: ReactNode;
}

/** Says what was wrong, where, and what can be done. */
export function ProblemNote({ title, problem, children }: ProblemNoteProps) {
  return (
    <div role="alert" className="rounded-xl border border-brick bg-brick-tint px-4 py-3">
      <p className="font-bold text-brick">{title}</p>
      <p className="mt-0.5">
        {problem.message}
        {problem.where && <span className="text-muted"> ({problem.where})</span>} {problem.remedy}
      </p>
      {children}
    </div>
  );
}
