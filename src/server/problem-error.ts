import type { Problem } from "../api/wire.ts";

/** A problem on its way to the client, with the status it is answered with. */
export class ProblemError extends Error {
  override readonly name: string = "ProblemError";
  constructor(
    readonly status: number,
    readonly problem: Problem,
    options?: ErrorOptions,
  ) {
    super(problem.message, options);
  }
}

export function noSuchPattern(): ProblemError {
  return new ProblemError(404, {
    code: "song.pattern",
    message: "This take has no such pattern.",
    remedy: "Cut it into patterns on the Song screen first, or reload: one may have been taken away in another window.",
  });
}

export function noSuchPart(): ProblemError {
  return new ProblemError(404, {
    code: "part.missing",
    message: "This take has no hit on that drum, so there is nothing to extract.",
    remedy: "Reload the page to see the drums that it has.",
  });
}

export function noSuchProject(): ProblemError {
  return new ProblemError(404, {
    code: "project.missing",
    message: "There is no such project.",
    remedy: "Go back to the shelf; it may have been removed in another window.",
  });
}
