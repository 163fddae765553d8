import { spawnSync } from "node:child_process";
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeAll, describe, expect, it } from "vitest";
import { baseTick } from "../core/document/index.ts";
import { importUnplanned } from "../core/file/index.ts";
import { GENERAL_MIDI } from "../core/notemap/index.ts";
import { buildTimeMaps, tickToMs } from "../core/time/index.ts";
import { bytesOfPattern, shelfPatterns } from "../standin/shelf-patterns.ts";

const folder = mkdtempSync(join(tmpdir(), "marten-play-"));
const marten = (...words: string[]) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, ["scripts/marten.mjs", ...words], {
    encoding: "utf8",
  });
  return { status, stdout, stderr };
};

/** Each stroke with when it is, in ms: by note and time, so that two files can be laid beside each other. */
function strokesIn(path: string) {
  const { pattern } = importUnplanned(new Uint8Array(readFileSync(path)), GENERAL_MIDI);
  const { tempoMap } = buildTimeMaps(pattern);
  return pattern.hits
    .map((hit) => ({
      note: hit.note,
      velocity: hit.recordedVelocity!,
      voiceId: hit.voiceId,
      articulationId: hit.articulationId,
      ms: tickToMs(tempoMap, baseTick(hit)),
    }))
    .sort((a, b) => a.note - b.note || a.ms - b.ms);
}

describe("marten record", { timeout: 30_000 }, () => {
  it("makes of a part the part again, whatever latency is given and taken off", () => {
    for (const [name, latency] of [
      ["ferry-lights", "12"],
      ["kettle-row", "-40"],
      ["slack-water-deck-kit", "150"],
    ] as const) {
      const out = join(folder, `${name}.mid`);
      const { status } = marten(
        "record",
        "--from",
        `demo/${name}.mid`,
        "--tightness",
        "none",
        "--grid",
        "none",
        "--bars",
        "2",
        "--passes",
        "kick,snare;hat;ghosts;rest",
        "--latency",
        latency,
        "--out",
        out,
      );
      expect(status).toBe(0);
      const [part, take] = [strokesIn(`demo/${name}.mid`), strokesIn(out)];
      expect(take).toHaveLength(part.length);
      for (const [row, { ms, ...stroke }] of part.entries()) {
        const { ms: recordedMs, ...recorded } = take[row]!;
        expect(recorded).toEqual(stroke);
        expect(Math.abs(recordedMs - ms)).toBeLessThan(1);
      }
    }
  });

  it("quantizes on the way in and keeps what was struck; passes hold what they are said to", () => {
    const [out, report] = [join(folder, "loose.mid"), join(folder, "loose.json")];
    const { stdout } = marten(
      "record",
      "--from",
      "demo/ferry-lights.mid",
      "--tightness",
      "loose",
      "--passes",
      "kick,snare;hat;ghosts",
      "--bars",
      "2",
      "--latency",
      "12",
      "--grid",
      "1/16-triplet",
      "--out",
      out,
      "--report",
      report,
    );
    expect(stdout).toMatch(/Recorded 671 hits in 3 passes, 184 strokes that no pass plays left out/);
    const { ppq, passes } = JSON.parse(readFileSync(report, "utf8"));
    expect(passes.map(({ voices }: { voices: string[] }) => voices.toSorted())).toEqual([
      ["kick", "snare"],
      ["hat"],
      ["snare"],
    ]);
    const recorded = passes.flatMap(({ hits }: { hits: { recordedTick: number }[] }) =>
      hits.map(({ recordedTick }) => recordedTick),
    );
    const step = ppq / 6;
    expect(recorded.filter((tick: number) => tick % step !== 0).length).toBeGreaterThan(recorded.length / 2);
    const { pattern } = importUnplanned(new Uint8Array(readFileSync(out)), GENERAL_MIDI);
    const off = pattern.hits.filter((hit) => baseTick(hit) % step !== 0);
    // Grace notes keep their distance.
    expect(off.length).toBeLessThan(pattern.hits.length * 0.1);
  });

  it("plays the same with the same seed and another way with another", () => {
    const [one, other, again] = ["1", "2", "1"].map((seed, index) => {
      const out = join(folder, `seed-${index}.mid`);
      marten("record", "--from", "demo/slack-water.mid", "--seed", seed, "--out", out);
      return readFileSync(out).toString("hex");
    });
    expect(again).toBe(one);
    expect(other).not.toBe(one);
  });

  it("loses no stroke of a loose hand that is ahead of the first bar line", () => {
    const passes = ["--passes", "kick,snare;hat;ghosts", "--bars", "2", "--tightness", "loose"];
    const said = (...more: string[]) =>
      marten("record", "--from", "demo/ferry-lights.mid", "--out", join(folder, "loose.mid"), ...passes, ...more)
        .stdout;
    expect(said("--seed", "1")).toContain("Recorded 671 hits");
    expect(said("--seed", "2", "--latency", "12")).toContain("Recorded 671 hits");
  });

  it("says what is wrong with what it is told", () => {
    const told = (...words: string[]) =>
      marten("record", "--from", "demo/slack-water.mid", "--out", join(folder, "no.mid"), ...words);
    expect(told("--passes", "kik")).toMatchObject({
      status: 2,
      stderr: expect.stringContaining("“kik” names no drum"),
    });
    expect(told("--tightness", "drunk").stderr).toContain("none, tight, normal, loose");
    expect(told("--count-in", "9").stderr).toContain("0 to 4");
    expect(marten("record", "--out", "x.mid").stderr).toContain("--from PART.mid");
  });
});

describe("marten find", { timeout: 30_000 }, () => {
  const library = join(folder, "library");
  const some = shelfPatterns().filter(({ kind }, index) => kind === "groove" && index % 9 === 0);
  beforeAll(() => {
    mkdirSync(join(library, "deep"), { recursive: true });
    for (const pattern of some) writeFileSync(join(library, "deep", `${pattern.id}.mid`), bytesOfPattern(pattern));
    writeFileSync(join(library, "broken.mid"), "no music");
  });

  it("finds a pattern of a folder by a loose knock of its kick and snare, and says which files it could not read", () => {
    const wanted = some[20]!;
    const knock = join(folder, "knock.mid");
    marten(
      "record",
      "--from",
      join(library, "deep", `${wanted.id}.mid`),
      "--tightness",
      "loose",
      "--passes",
      "kick,snare",
      "--out",
      knock,
    );
    const { results, unreadable } = JSON.parse(marten("find", knock, "--in", library, "--json", "--most", "5").stdout);
    expect(results).toHaveLength(5);
    expect(results[0]).toMatchObject({ path: join(library, "deep", `${wanted.id}.mid`), firstBar: 1, bars: 2 });
    expect(results[0].likeness).toBeGreaterThan(results[1].likeness);
    expect(results[0].agrees.length).toBeGreaterThan(2);
    expect(unreadable).toEqual([
      { path: join(library, "broken.mid"), problem: expect.stringContaining("not a MIDI file") },
    ]);
  });

  it("looks through the shelf without a folder", () => {
    const knock = join(folder, "from-shelf.mid");
    const wanted = shelfPatterns()[16]!;
    writeFileSync(knock, bytesOfPattern(wanted));
    const { results } = JSON.parse(marten("find", knock, "--json").stdout);
    expect(results[0]).toMatchObject({ path: wanted.id, likeness: 1, differs: [] });
  });

  it("says what is no knock, and what is no folder", () => {
    const nothing = join(folder, "nothing.mid");
    marten("record", "--from", "demo/slack-water.mid", "--passes", "percussion", "--out", nothing);
    expect(marten("find", nothing)).toMatchObject({
      status: 2,
      stderr: expect.stringContaining("Nothing was knocked"),
    });
    expect(marten("find", "demo/slack-water.mid", "--in", join(folder, "none"))).toMatchObject({
      status: 2,
      stderr: expect.stringContaining("cannot be read"),
    });
  });
});
