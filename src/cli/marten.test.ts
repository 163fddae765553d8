import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Ajv from "ajv";
import { describe, expect, it } from "vitest";
import { RECIPES } from "../core/recipe.ts";
import { type MidiMessage, readMidiFile, writeMidiFile } from "../core/smf/index.ts";
import { withFreeOpening } from "../core/testing/free-opening.ts";
import { buildMeterMap } from "../core/time/index.ts";
import { withoutClick } from "../standin/free-time.ts";
import { NIGHT_FERRY } from "../standin/night-ferry.ts";
import { perform } from "../standin/perform.ts";
import { createRandom } from "../standin/random.ts";
import { planOf, readPlans, readRecipe } from "./files.ts";
import { parseCommand, UsageError } from "./usage.ts";

const folder = mkdtempSync(join(tmpdir(), "marten-cli-"));
const marten = (...words: string[]) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, ["scripts/marten.mjs", ...words], {
    encoding: "utf8",
  });
  return { status, stdout, stderr };
};

// Each run starts a process that compiles the sources first.
describe("marten", { timeout: 30_000 }, () => {
  it("inspects a take as JSON", () => {
    const { status, stdout } = marten("inspect", "demo/kettle-row.mid", "--json");
    expect(status).toBe(0);
    const about = JSON.parse(stdout);
    expect(about.ppq).toBe(960);
    expect(about.meters).toEqual([{ tick: 0, numerator: 7, denominator: 8 }]);
    expect(about.tempos[0].bpm).toBeCloseTo(132, 2);
    const hat = about.lanes.find((lane: { voiceId: string }) => lane.voiceId === "hat");
    expect(hat).toMatchObject({ name: "Hi-hat", notes: [42], suggestedGrid: "1/16" });
    expect(hat.shareExplained).toBeGreaterThan(0.95);
    expect(hat.meanDriftMs).toBeLessThan(0);
    expect(hat.spreadMs).toBeGreaterThan(5);
  });

  it.each(["kettle-row", "ferry-lights", "tin-orchard"])(
    "prints what was found as its schema says, hit by hit: %s",
    (name) => {
      const isFindings = new Ajv({ allErrors: true }).compile(
        JSON.parse(readFileSync("public/inspect.schema.json", "utf8")),
      );
      const about = JSON.parse(marten("inspect", `demo/${name}.mid`, "--json").stdout);
      isFindings(about);
      expect(isFindings.errors).toBeNull();
      const hits = about.lanes.flatMap((lane: { every: readonly { id: string }[] }) => lane.every);
      expect(new Set(hits.map(({ id }: { id: string }) => id)).size).toBe(hits.length);
      expect(about.tempo.verdict).toBe("click");
      expect(about.sections.length).toBeGreaterThan(1);
      for (const { confidence } of about.lanes) expect(confidence).toBeGreaterThan(0.5);
    },
  );

  it("reports as its schema says, whatever was asked for", () => {
    const isReport = new Ajv({ allErrors: true }).compile(
      JSON.parse(readFileSync("public/clean-report.schema.json", "utf8")),
    );
    for (const [name, ...words] of [
      ["moth-parade", "--repair"],
      ["kettle-row", "--tempo", "follow"],
      ["ferry-lights", "--grid", "snare=1/16", "--latency", "auto"],
    ]) {
      const report = join(folder, "schema.json");
      marten("clean", `demo/${name}.mid`, "--out", join(folder, "schema.mid"), "--report", report, ...words);
      isReport(JSON.parse(readFileSync(report, "utf8")));
      expect(isReport.errors).toBeNull();
    }
  });

  it("says of every hit where it came from, its slot and why, and what keeps its distance to what", () => {
    const report = join(folder, "every.json");
    marten("clean", "demo/ferry-lights.mid", "--out", join(folder, "every.mid"), "--repair", "--report", report);
    const about = JSON.parse(readFileSync(report, "utf8"));
    const every = about.lanes.flatMap((lane: { every: readonly Record<string, unknown>[] }) => lane.every);
    expect(every).toHaveLength(about.hitCount);
    const muted = every.filter(({ why }: Record<string, unknown>) => why === "muted");
    expect(muted.map(({ id }: Record<string, unknown>) => id).sort()).toEqual(
      about.faults.map(({ id }: { id: string }) => id).sort(),
    );
    const ids = new Set(every.map(({ id }: Record<string, unknown>) => id));
    for (const { why, keepsDistanceTo, cleanedTick, slotTick } of every) {
      if (why === "quantized") expect(Math.abs(Number(cleanedTick) - Number(slotTick))).toBeLessThanOrEqual(1);
      if (why === "keepsDistance") expect(ids.has(keepsDistanceTo)).toBe(true);
    }
  });

  it("leaves a take that fits its click on its time, unless it is told to retime it all the same", () => {
    const cleaned = (...words: string[]) => {
      const report = join(folder, "tempo.json");
      marten("clean", "demo/kettle-row.mid", "--out", join(folder, "tempo.mid"), "--report", report, ...words);
      const { file } = readMidiFile(new Uint8Array(readFileSync(join(folder, "tempo.mid"))));
      const metas = file.tracks.flatMap(({ messages }) =>
        messages.flatMap((one) => (one.kind === "meta" ? [one.metaType] : [])),
      );
      return {
        verdict: JSON.parse(readFileSync(report, "utf8")).tempo.verdict,
        tempos: metas.filter((type) => type === 0x51).length,
      };
    };
    expect(cleaned("--tempo", "follow")).toEqual({ verdict: "click", tempos: 1 });
    expect(cleaned("--tempo", "follow", "--even-with-click").tempos).toBeGreaterThan(4);
  });

  it("cleans beat by beat, lists what nobody played, and leaves it out when asked", () => {
    const [out, report] = [join(folder, "ferry.mid"), join(folder, "ferry.json")];
    const { status, stdout } = marten("clean", "demo/ferry-lights.mid", "--out", out, "--report", report);
    expect(status).toBe(0);
    expect(stdout).toMatch(/\d+ likely double triggers or crosstalk: /);
    const about = JSON.parse(readFileSync(report, "utf8"));
    const snare = about.lanes.find((lane: { voiceId: string }) => lane.voiceId === "snare");
    expect(snare.stretches).toHaveLength(5);
    expect(snare.stretches[0]).toEqual({ from: "8:3:0", to: "8:4:0", grid: "1/8-triplet" });
    expect(about.faults.every((fault: { isLeftOut: boolean }) => !fault.isLeftOut)).toBe(true);
    expect(about.faults[0].reason).toMatch(/it triggered twice\.$/);
    const notes = (path: string) =>
      readMidiFile(new Uint8Array(readFileSync(path))).file.tracks[1]!.messages.filter(
        (message) => message.kind === "channel" && message.status === 0x99 && message.data2 > 0,
      ).length;
    const repaired = marten("clean", "demo/ferry-lights.mid", "--out", join(folder, "repaired.mid"), "--repair");
    expect(repaired.stdout).toMatch(/, muted: /);
    expect(notes(join(folder, "repaired.mid"))).toBe(notes(out) - about.faults.length);
  });

  it("inspects a take in lines to read, and says what is damaged", () => {
    const { status, stdout } = marten("inspect", "demo/kettle-row.mid");
    expect(status).toBe(0);
    expect(stdout).toMatch(/^523 hits in 9 voices/);
    expect(stdout).toMatch(/^Hi-hat +134 hits {2}sixteenths, \d ms early, ± \d+ ms, \d+ % fit$/m);
    const cut = join(folder, "cut.mid");
    writeFileSync(cut, readFileSync("demo/kettle-row.mid").subarray(0, 2000));
    const damaged = marten("inspect", cut);
    expect(damaged.status).toBe(0);
    expect(damaged.stdout).toMatch(/^Byte \d+: Track 2 breaks off at byte/m);
  });

  it("cleans only the voices it is told to, and reports", () => {
    const out = join(folder, "out.mid");
    const report = join(folder, "report.json");
    const { status } = marten(
      "clean",
      "demo/kettle-row.mid",
      "--out",
      out,
      "--grid",
      "snare=1/16",
      "--strength",
      "100",
      "--report",
      report,
    );
    expect(status).toBe(0);
    const { lanes, movedHits } = JSON.parse(readFileSync(report, "utf8"));
    const snare = lanes.find((lane: { voiceId: string }) => lane.voiceId === "snare");
    expect(movedHits).toBe(snare.moved);
    expect(lanes.filter((lane: { grid: string | null }) => lane.grid === null).length).toBe(lanes.length - 1);
    const before = readMidiFile(new Uint8Array(readFileSync("demo/kettle-row.mid"))).file;
    const after = readMidiFile(new Uint8Array(readFileSync(out))).file;
    const ofOthers = (file: typeof before) =>
      file.tracks[1]!.messages.filter((one) => one.kind === "channel" && one.data1 !== 38);
    expect(ofOthers(after)).toEqual(ofOthers(before));
  });

  it("leaves an opening that was played freely as it is, says so, and pulls it all the same where a grid is asked for", () => {
    const [take, out, report] = ["free.mid", "free-out.mid", "free.json"].map((name) => join(folder, name)) as [
      string,
      string,
      string,
    ];
    writeFileSync(take, writeMidiFile(withFreeOpening()));
    const done = marten("clean", take, "--out", out, "--report", report);
    expect(done.stdout).toContain("Bars 1 to 3 fit no beat, and stay as they were played.");
    const found = JSON.parse(readFileSync(report, "utf8"));
    expect(found.opening).toEqual({ bars: 3, endTick: 5760 });
    const every: readonly { recordedTick: number; cleanedTick: number; slotTick: number }[] = found.lanes.flatMap(
      (lane: { every: unknown }) => lane.every,
    );
    const [before, after] = [true, false].map((isIn) => every.filter(({ slotTick }) => slotTick < 5760 === isIn));
    expect(before!.length).toBeGreaterThan(20);
    expect(before!.every(({ recordedTick, cleanedTick }) => recordedTick === cleanedTick)).toBe(true);
    expect(after!.every(({ cleanedTick }) => cleanedTick % 240 === 0)).toBe(true);
    expect(marten("clean", take, "--out", out, "--grid", "1/8").stdout).not.toContain("fit no beat");
    expect(JSON.parse(marten("inspect", take, "--json").stdout).opening.bars).toBe(3);
  });

  it("follows the plan of a report that a hand has changed, treats by a recipe, and takes latency off", () => {
    const [report, plan, out] = ["plan-report.json", "plan.json", "plan.mid"].map((name) => join(folder, name)) as [
      string,
      string,
      string,
    ];
    marten("clean", "demo/tin-orchard.mid", "--out", out, "--report", report);
    const found = JSON.parse(readFileSync(report, "utf8"));
    const ride = found.lanes.find((lane: { voiceId: string }) => lane.voiceId === "ride");
    expect(ride).toMatchObject({ grid: "1/8-triplet" });
    const lanes = [{ ...ride, grid: "1/4", stretches: [{ from: "2:1", to: "3:1", grid: "1/8", swingPercent: 66 }] }];
    writeFileSync(plan, JSON.stringify({ lanes }));
    const words = ["clean", "demo/tin-orchard.mid", "--out", out, "--report", report, "--plan", plan];
    const done = marten(...words, "--recipe", "half-way", "--latency", "3");
    expect(done.status).toBe(0);
    const about = JSON.parse(readFileSync(report, "utf8"));
    expect(about.latencyMs).toBe(3);
    // What the whole take was late by is taken off also where nothing else is done.
    const shiftsOf = (lane: { every: readonly { recordedTick: number; cleanedTick: number }[] }) =>
      new Set(lane.every.map(({ recordedTick, cleanedTick }) => recordedTick - cleanedTick));
    const kick = about.lanes.find((lane: { voiceId: string }) => lane.voiceId === "kick");
    expect([...shiftsOf(kick)]).toEqual([3]);
    const planned = about.lanes.filter((lane: { grid: string | null }) => lane.grid !== null);
    expect(planned).toHaveLength(1);
    expect(planned[0]).toMatchObject({
      voiceId: "ride",
      grid: "1/4",
      stretches: [{ from: "2:1:0", to: "3:1:0", grid: "1/8", swingPercent: 66 }],
    });
    expect(planned[0].flagged[0].reasons.length).toBeGreaterThan(0);
  });

  it("finds the beats of a take that was played to no click, follows or straightens it, and mends notes", () => {
    const ferry = NIGHT_FERRY.find(({ part }) => part.title === "Ferry Lights")!;
    const { file } = perform(ferry.part, ferry.habits, createRandom(3));
    const free = withoutClick(file, ferry.part, ferry.habits.ppq, createRandom(4), 5).file;
    const isEnd = (one: MidiMessage) => one.kind === "channel" && one.status === 0x89 && one.data1 === 36;
    let left = 2;
    const tracks = free.tracks.map(({ messages }) => ({
      messages: messages.filter((one) => !isEnd(one) || left-- <= 0),
    }));
    const [input, out, report] = ["free.mid", "followed.mid", "followed.json"].map((name) => join(folder, name)) as [
      string,
      string,
      string,
    ];
    writeFileSync(input, writeMidiFile({ ...free, tracks }));
    expect(marten("clean", input, "--out", out, "--tempo", "follow", "--repair", "--report", report).status).toBe(0);
    const about = JSON.parse(readFileSync(report, "utf8"));
    expect(about.tempo).toMatchObject({ verdict: "free", beatsPerBar: 4 });
    expect(about.mendedHits).toBeGreaterThanOrEqual(2);
    expect(about.lanes.find((lane: { voiceId: string }) => lane.voiceId === "hat").grid).toBe("1/8");
    const tempos = (path: string) =>
      readMidiFile(new Uint8Array(readFileSync(path))).file.tracks[0]!.messages.filter(
        (one) => one.kind === "meta" && one.metaType === 0x51,
      ).length;
    expect(tempos(out)).toBeGreaterThan(30);
    expect(marten("clean", input, "--out", out, "--tempo", "92").status).toBe(0);
    expect(tempos(out)).toBe(1);
  });

  it("ends with 2 on wrong usage and 3 on what it cannot read, and says why", () => {
    expect(marten("polish", "x.mid")).toMatchObject({
      status: 2,
      stderr: expect.stringContaining("Unknown command “polish”"),
    });
    const text = join(folder, "text.mid");
    writeFileSync(text, "not music");
    expect(marten("inspect", text)).toMatchObject({ status: 3, stderr: expect.stringContaining("not a MIDI file") });
    expect(marten("inspect", join(folder, "missing.mid"))).toMatchObject({
      status: 3,
      stderr: expect.stringContaining("no such file"),
    });
  });
});

describe("files that say how to clean", () => {
  const meterMap = buildMeterMap(480, []);
  const written = (value: unknown) => {
    const path = join(folder, "written.json");
    writeFileSync(path, typeof value === "string" ? value : JSON.stringify(value));
    return path;
  };

  it("hold plans, whose grids and places are read, or refused with what is wrong", () => {
    const ride = {
      voiceId: "ride",
      grid: "1/4",
      stretches: [{ from: "2:1", to: "3:1", grid: "1/8", swingPercent: 66 }],
    };
    const read = (lane: object) => planOf(readPlans(written({ lanes: [lane] })).get("ride")!, meterMap);
    expect(read(ride)).toEqual({
      grid: { family: "straight", denominator: 4 },
      stretches: [{ startTick: 1920, endTick: 3840, grid: { family: "straight", denominator: 8, swingPercent: 66 } }],
    });
    expect(read({ ...ride, grid: null })).toBeNull();
    expect(() => read({ ...ride, grid: "1/5" })).toThrow("“1/5” in the plan of ride is not a grid");
    expect(() => read({ ...ride, stretches: [{ from: "soon", to: "3:1", grid: "1/8" }] })).toThrow(
      "“soon” in the plan",
    );
    expect(() => read({ ...ride, stretches: [{ from: "3:1", to: "2:1", grid: "1/8" }] })).toThrow(
      "overlap, or end before",
    );
    expect(() => readPlans(written("{"))).toThrow("is not JSON");
    expect(() => readPlans(written({ lanes: [{ voiceId: "ride" }] }))).toThrow("holds no grid plans");
  });

  it("hold recipes, or are one that comes with the application", () => {
    const timing = RECIPES[0]!.timing;
    expect(readRecipe("tight-studio")).toEqual(timing);
    expect(readRecipe("Tight studio")).toEqual(timing);
    expect(readRecipe(written({ name: "x", timing }))).toEqual(timing);
    expect(() => readRecipe("nothing")).toThrow("one of: tight-studio");
    expect(() => readRecipe(written({ name: "x", timing: { ...timing, strengthPercent: 900 } }))).toThrow(
      "is not a recipe",
    );
  });
});

describe("the words of a command", () => {
  const clean = (...more: string[]) => parseCommand(["clean", "a.mid", "--out", "b.mid", ...more]);

  it("name voices as inspect prints them, or by their ids", () => {
    const voices = (grids: string) => {
      const command = clean("--grid", grids);
      const grid = command.kind === "clean" ? command.settings.grid : null;
      return grid?.kind === "perVoice" ? [...grid.grids.keys()] : [];
    };
    expect(voices("Hi-hat=1/8,Floor tom=1/8-triplet,kick=1/16")).toEqual(["hat", "tom-5", "kick"]);
    expect(voices("Note 22=1/8,note-23=1/8")).toEqual(["note-22", "note-23"]);
    expect(() => clean("--grid", "Gong of doom=1/8")).toThrow("There is no voice “Gong of doom”");
  });

  it("choose grids for all or for each voice", () => {
    expect(clean()).toMatchObject({ settings: { grid: { kind: "auto" }, latency: 0 } });
    expect(clean("--latency", "auto")).toMatchObject({ settings: { latency: "auto" } });
    expect(clean("--grid", "1/8-triplet", "--strength", "70")).toMatchObject({
      settings: { grid: { kind: "all", grid: { family: "triplet", denominator: 8 } }, strengthPercent: 70 },
    });
    expect(clean("--grid", "snare=1/16,note-22=1/4")).toMatchObject({
      settings: {
        grid: {
          grids: new Map([
            ["snare", { family: "straight", denominator: 16 }],
            ["note-22", { family: "straight", denominator: 4 }],
          ]),
        },
      },
    });
  });

  it.each([
    [["--grid", "1/7"], "not a grid"],
    [["--grid", "drum=1/8"], "no voice “drum”"],
    [["--strength", "101"], "0 to 100"],
    [["--strength", ""], "0 to 100"],
    [["--latency", "late"], "--latency takes auto"],
    [["--tempo", "slow"], "--tempo takes follow"],
    [["--grid", "1/8", "--plan", "p.json"], "either --grid or --plan"],
    [["more.mid"], "one too many"],
    [["--loud"], "--loud"],
  ])("are refused when they make no sense: %j", (words, says) => {
    expect(() => clean(...words)).toThrow(UsageError);
    expect(() => clean(...words)).toThrow(says);
  });

  it("ask for what is missing", () => {
    expect(() => parseCommand([])).toThrow("inspect, clean, record, find");
    expect(() => parseCommand(["clean"])).toThrow("which file");
    expect(() => parseCommand(["clean", "a.mid"])).toThrow("--out");
    expect(parseCommand(["--help"]).kind).toBe("help");
  });
});
