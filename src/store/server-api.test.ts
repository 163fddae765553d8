import { afterEach, describe, expect, it, vi } from "vitest";
import { BYTES_HEADER } from "../api/wire.ts";
import { packPattern } from "../core/document/index.ts";
import { hitAt, patternOf } from "../core/testing/patterns.ts";
import { openProject } from "./server-api.ts";

const take = patternOf([hitAt(0), hitAt(480, { isMuted: true })]);
const value = { id: "a", name: "Ferry – lights", pattern: packPattern(take) };
const BODY = new TextEncoder().encode(JSON.stringify({ ok: true, value }));

/** Answers in pieces of some bytes. */
function answerIn(bytes: number, headers: Record<string, string>) {
  const pieces = Array.from({ length: Math.ceil(BODY.length / bytes) }, (_, at) =>
    BODY.slice(at * bytes, (at + 1) * bytes),
  );
  const body = new ReadableStream({
    pull(to) {
      const next = pieces.shift();
      if (next) to.enqueue(next);
      else to.close();
    },
  });
  vi.stubGlobal("fetch", () => Promise.resolve(new Response(body, { headers })));
}

afterEach(() => vi.unstubAllGlobals());

describe("opening a project", () => {
  it("tells how much of it has come, whatever the pieces, and reads the same", async () => {
    for (const bytes of [1, 7, 1000]) {
      const shares: number[] = [];
      answerIn(bytes, { [BYTES_HEADER]: String(BODY.length) });
      const project = await openProject("a", undefined, { onShare: (share) => shares.push(share) });
      expect(project.name).toBe("Ferry – lights");
      expect(project.pattern).toEqual(take);
      expect(shares).toHaveLength(Math.ceil(BODY.length / bytes));
      expect(shares).toEqual(shares.toSorted((a, b) => a - b));
      expect(shares.at(-1)).toBe(1);
    }
  });

  it("tells nothing where the length is not known", async () => {
    answerIn(5, {});
    const tell = vi.fn();
    expect((await openProject("a", undefined, { onShare: tell })).id).toBe("a");
    expect(tell).not.toHaveBeenCalled();
  });
});
