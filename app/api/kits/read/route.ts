import { BODY_LIMITS } from "../../../../src/api/limits.ts";
import { isKitFile, problemOf } from "../../../../src/api/schemas.ts";
import { readBody, respond } from "../../../../src/server/http.ts";
import { ProblemError } from "../../../../src/server/problem-error.ts";

/** Reads a file that says at which velocities a kit changes its sounds. Nothing is kept. */
export function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const text = new TextDecoder().decode(await readBody(request, BODY_LIMITS.kit));
    const value = parsed(text);
    if (isKitFile(value)) return value.kit;
    const { message, where } = problemOf(isKitFile);
    throw new ProblemError(400, {
      code: "kit.shape",
      message: `This file does not say which layers a kit has. ${message}`,
      ...(where ? { where } : {}),
      remedy: "Choose one that was saved under “Layers of the kit”. Nothing was changed.",
    });
  });
}

/** Undefined for what is no JSON: it is refused like any other form. */
function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    return undefined;
  }
}
