import type { ShapeTest } from "../api/ajv.ts";
import type { BODY_LIMITS } from "../api/limits.ts";
import { problemOf } from "../api/schemas.ts";
import type { Problem } from "../api/wire.ts";
import { JsonGuard } from "./json-guard.ts";
import { ProblemError } from "./problem-error.ts";
import type { Db } from "./storage/database.ts";
import { databaseToWrite, expectInPlace } from "./storage/shared-database.ts";
import { storageFaultOf } from "./storage/storage-fault.ts";
import type { TaskHandle } from "./task-queue.ts";

/** Nothing of what is answered may lie in a cache: it is somebody's work, and may have changed since. */
const NO_STORE = { "cache-control": "no-store" };

/** Answers with a value, or with the problem that kept it from being made. Unknown errors go to the log alone. */
export async function respond(make: () => unknown): Promise<Response> {
  try {
    const value = await make();
    if (!(value instanceof Response)) return Response.json({ ok: true, value }, { headers: NO_STORE });
    value.headers.set("cache-control", NO_STORE["cache-control"]);
    return value;
  } catch (error) {
    const known = error instanceof ProblemError ? error : storageFaultOf(error);
    // What is wrong with the disk or the folder is for whoever looks after it, too.
    if (!known || known.status >= 500) console.error(known?.cause ?? error);
    if (known) return refuse(known.status, known.problem);
    return refuse(500, {
      code: "server.fault",
      message: "The server could not do this.",
      remedy: "Try again. If it happens twice, the server's log says more.",
    });
  }
}

/**
 * Answers a request that writes. Before it is acknowledged the file that was written must still be the one at its path: a deleted file
 * takes what is written, and is gone.
 */
export function respondToChange(make: (db: Db) => unknown): Promise<Response> {
  return respond(async () => {
    const value = await make(databaseToWrite());
    expectInPlace();
    return value;
  });
}

function refuse(status: number, problem: Problem): Response {
  return Response.json({ ok: false, problem }, { status, headers: NO_STORE });
}

/** The task that a request asks for: it is given up when whoever asked has gone. */
export function taskOf(request: Request): TaskHandle {
  const ticket = new URL(request.url).searchParams.get("ticket")?.slice(0, 100) || null;
  return { ticket, signal: request.signal };
}

type Limit = (typeof BODY_LIMITS)[keyof typeof BODY_LIMITS];

/**
 * Reads and checks a JSON body.
 * @throws ProblemError 415 if it does not say that it is JSON, 413 if it is too large, 400 if it is not of the expected form
 */
export async function readJson<Value>(request: Request, validate: ShapeTest<Value>, limitBytes: Limit): Promise<Value> {
  if (!/^application\/json\b/i.test(request.headers.get("content-type") ?? "")) {
    throw new ProblemError(415, {
      code: "request.type",
      message: "The request does not say that it is JSON.",
      remedy: "Send it with the content type application/json.",
    });
  }
  const guard = new JsonGuard();
  const bytes = await readBody(request, limitBytes, (chunk) => guard.look(chunk));
  let value: unknown;
  try {
    value = JSON.parse(new TextDecoder("utf-8", { fatal: true }).decode(bytes));
  } catch (error) {
    if (!(error instanceof SyntaxError || error instanceof TypeError)) throw error;
    const problem = {
      code: "request.json",
      message: "The request is not JSON.",
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
 * @param look sees each piece as it comes, and may refuse it
 */
export async function readBody(
  request: Request,
  limitBytes: number,
  look: (chunk: Uint8Array) => void = () => {},
): Promise<Uint8Array> {
  const declared = Number(request.headers.get("content-length") ?? 0);
  if (declared > limitBytes) throw tooLarge(limitBytes);
  const chunks: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  try {
    for (;;) {
      const step = await reader?.read();
      if (!step || step.done) break;
      size += step.value.length;
      if (size > limitBytes) throw tooLarge(limitBytes);
      look(step.value);
      chunks.push(step.value);
    }
  } catch (error) {
    await reader?.cancel().catch((cause: unknown) => console.warn("A request could not be cancelled.", cause));
    throw error;
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
  const limit = limitBytes < 1024 * 1024 ? `${limitBytes / 1024} KiB` : `${limitBytes / 1024 / 1024} MiB`;
  return new ProblemError(413, {
    code: "upload.tooLarge",
    message: `This file is larger than ${limit}.`,
    remedy: "Check that it is the right file, or split it.",
  });
}
