import type { ValidateFunction } from "ajv";
import { problemOf } from "../api/schemas.ts";
import { LARGEST_UPLOAD_BYTES, type Problem } from "../api/wire.ts";
import { ProblemError } from "./problem-error.ts";

/** Answers with a value, or with the problem that kept it from being made. Unknown errors go to the log alone. */
export async function respond(make: () => unknown): Promise<Response> {
  try {
    const value = await make();
    return value instanceof Response ? value : Response.json({ ok: true, value });
  } catch (error) {
    if (error instanceof ProblemError) return refuse(error.status, error.problem);
    console.error(error);
    return refuse(500, {
      code: "server.fault",
      message: "Something went wrong on our side.",
      remedy: "Try again. If it happens twice, the server's log says more.",
    });
  }
}

function refuse(status: number, problem: Problem): Response {
  return Response.json({ ok: false, problem }, { status });
}

/** Saved edits carry whole hits when a lane of thousands is removed, so they may be as large as an upload. */
const LARGEST_REQUEST_BYTES = 4 * LARGEST_UPLOAD_BYTES;

/** Reads and checks a JSON body. @throws ProblemError 400 if it is not of the expected form */
export async function readJson<Value>(request: Request, validate: ValidateFunction<Value>): Promise<Value> {
  const bytes = await readBody(request, LARGEST_REQUEST_BYTES);
  let value: unknown;
  try {
    value = JSON.parse(new TextDecoder().decode(bytes));
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    const problem = {
      code: "request.json",
      message: "The request is no JSON.",
      remedy: "Reload the page and try again.",
    };
    throw new ProblemError(400, problem, { cause: error });
  }
  if (!validate(value)) throw new ProblemError(400, problemOf(validate));
  return value;
}

/**
 * Reads a body up to a limit. A longer one is refused by its declared length, or as soon as it is longer; one that is shorter than it
 * declares as well.
 */
export async function readBody(request: Request, limitBytes: number): Promise<Uint8Array> {
  const declared = Number(request.headers.get("content-length") ?? 0);
  if (declared > limitBytes) throw tooLarge(limitBytes);
  const chunks: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  for (;;) {
    const step = await reader?.read();
    if (!step || step.done) break;
    size += step.value.length;
    if (size > limitBytes) {
      await reader?.cancel();
      throw tooLarge(limitBytes);
    }
    chunks.push(step.value);
  }
  // Half a file can look like a whole one.
  if (size < declared) throw cutShort(size, declared);
  const bytes = new Uint8Array(size);
  let offset = 0;
  for (const chunk of chunks) {
    bytes.set(chunk, offset);
    offset += chunk.length;
  }
  return bytes;
}

function cutShort(size: number, declared: number): ProblemError {
  return new ProblemError(400, {
    code: "upload.cutShort",
    message: `Only ${size.toLocaleString("en")} of ${declared.toLocaleString("en")} bytes came through.`,
    remedy: "Nothing was changed. Try again.",
  });
}

function tooLarge(limitBytes: number): ProblemError {
  return new ProblemError(413, {
    code: "upload.tooLarge",
    message: `This file is larger than ${limitBytes / 1024 / 1024} MiB.`,
    remedy: "Check that it is the right file, or split it.",
  });
}
