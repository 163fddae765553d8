import { parseMidi } from "midi-file";
import { hitsByVoice } from "../src/core/document/index.ts";
import { type DynamicsTreatment, USUAL_DYNAMICS } from "../src/core/document/treatment.ts";
import { importTake } from "../src/core/file/index.ts";
import { GROOVES } from "../src/core/groove/index.ts";
import { GENERAL_MIDI } from "../src/core/notemap/index.ts";
import { summarizeTake } from "../src/core/overview/index.ts";
import { findPatterns } from "../src/core/pattern/index.ts";
import { readMidiFile } from "../src/core/smf/index.ts";
import { buildTimeMaps } from "../src/core/time/index.ts";
import { treat } from "../src/core/treat.ts";
import { createRandom } from "../src/standin/random.ts";
import { denseTake } from "./dense-take.ts";
import { type Finding, quietMs, ratio, saidMs } from "./measure.ts";
import { knockOn, patternsOfShelf } from "./scoring-knocks.ts";

/** Decoding, treating and analysing a take of 20,000 hits. */
export async function benchCore(): Promise<Finding[]> {
  const { bytes } = denseTake(20_000);
  // First, while nothing else is kept in memory: a file is decoded in a thread of its own.
  const decode = ratio(
    () => readMidiFile(bytes),
    () => parseMidi(bytes),
  );
  const { pattern } = importTake(bytes, GENERAL_MIDI);
  const maps = buildTimeMaps(pattern);
  const oneLane = pattern.hits.map((hit) => ({ ...hit, voiceId: "hat" }));
  const lane = hitsByVoice(oneLane).get("hat") ?? [];
  const { treatment } = pattern.lanes[0]!;
  const timing = { ...treatment.timing, isOn: true, leaveWithinMs: 2, reachPercent: 45, pocketMs: 4 };
  const grid = { ...timing.grid, swingPercent: 56 };
  const dynamics: DynamicsTreatment = {
    ...USUAL_DYNAMICS,
    isOn: true,
    byRole: { ghost: { scalePercent: 80, evenOutPercent: 30 }, accent: { addVelocity: 4 } },
    rangePercent: 110,
    cycle: { grid: { family: "straight", denominator: 8 }, percents: [100, 70, 85, 70] },
    deviation: 4,
    fitsIn: true,
  };
  const feel = { isOn: true, groove: GROOVES[1]!, timingPercent: 80, accentPercent: 60 };
  const leftOut = lane.filter((_, row) => row % 50 === 0).map(({ id }) => id);
  let turn = 0;
  // Another latency every time, so that nothing of the run before is found again.
  const treatAnew = () => {
    const all = { ...timing, grid, latencyMs: 3 + (turn++ % 50) / 10, pushMs: 4, pushEvery: 2, humanizeMs: 3 };
    return treat(lane, { timing: all, dynamics, feel, repair: { leftOut } }, maps, pattern.lengthTicks);
  };
  const treating = await quietMs(treatAnew);
  const analysing = await quietMs(() => summarizeTake(pattern));
  const shelf = patternsOfShelf();
  const many = Array.from({ length: 5000 }, (_, index) => shelf[index % shelf.length]!.index);
  const knock = knockOn(shelf[8]!, createRandom(3), 1);
  const finding = await quietMs(() => findPatterns(many, knock, 20));
  return [
    {
      what: "find by a knock among 5,000 patterns",
      budget: "50 ms",
      measured: saidMs(finding, 0),
      isHeld: finding.ms <= 50,
    },
    {
      what: "decode a 20,000-hit file",
      budget: "at most 1 × midi-file",
      measured: `${decode.toFixed(2)} ×`,
      isHeld: decode <= 1,
    },
    {
      what: "`treat` on a lane of 20,000 hits, all steps on",
      budget: "10 ms",
      measured: saidMs(treating, 1),
      isHeld: treating.ms <= 10,
    },
    {
      what: "analysis (grids) of 20,000 hits",
      budget: "150 ms",
      measured: saidMs(analysing, 0),
      isHeld: analysing.ms <= 150,
    },
  ];
}
