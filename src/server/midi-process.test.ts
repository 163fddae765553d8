import { afterEach, describe, expect, it, vi } from "vitest";
import { writeMidiFile } from "../core/smf/index.ts";

/** Hits, one a tick. */
function manyHits(count: number): Uint8Array {
  const messages = Array.from({ length: count }, (_, tick) => ({
    kind: "channel" as const,
    tick,
    status: 0x99,
    data1: 36 + (tick % 12),
    data2: 64,
  }));
  const division = { kind: "ppq" as const, ppq: 96 };
  const headerExtra = new Uint8Array(0);
  return writeMidiFile({ format: 0, division, headerExtra, unknownChunks: [], tracks: [{ messages }] });
}

/** The server's side of a file, with other limits than the usual ones. */
async function importWithin(limits: { readonly seconds?: string; readonly mb?: string }) {
  vi.resetModules();
  vi.stubEnv("MARTEN_WORK_S", limits.seconds);
  vi.stubEnv("MARTEN_WORK_MB", limits.mb);
  return await import("./midi-process.ts");
}
const FEW = manyHits(8);

describe("a file that takes more than it may", () => {
  afterEach(() => vi.unstubAllEnvs());

  it.each([
    ["with the seconds", { seconds: "1" }, "This file takes longer than 1 second of work."],
    ["for its memory", { mb: "48" }, "This file needs more memory than we allow."],
  ])("is refused %s, and the next one is read", async (_, limits, message) => {
    const { importInProcess } = await importWithin(limits);
    const refusal = { status: 422, problem: { code: "file.tooHeavy", message } };
    await expect(importInProcess(manyHits(400_000))).rejects.toMatchObject(refusal);
    expect((await importInProcess(FEW)).read.record.summary).toContain('"hitCount":8');
  });

  it("is held to the usual limits where what is set is no number", async () => {
    const { importInProcess } = await importWithin({ seconds: "0", mb: "lots" });
    expect((await importInProcess(FEW)).read.record.summary).toContain('"hitCount":8');
  });
});
