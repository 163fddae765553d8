import { type MidiFile, writeMidiFile } from "../src/core/smf/index.ts";
import { perform } from "../src/standin/perform.ts";
import { createRandom } from "../src/standin/random.ts";
import type { WrittenPart } from "../src/standin/written-part.ts";

/**
 * A take of at least this many hits, with every voice playing and hats in thirty-seconds: 20,000 hits are five minutes at
 * 160 bpm, 50,000 are thirty at 67.
 * @returns the file and its bytes; the same for the same number
 */
export function denseTake(hitCount: number, bpm = 160): { file: MidiFile; bytes: Uint8Array } {
  const bar = {
    hat: "asgsasgsasgsasgsasgsasgsasgsasgs",
    snare: "g-g-g-g-a-g-g-g-g-g-g-g-a-g-g-gg",
    kick: "a---s---a-s---s-a---s---a-s---s-",
    ride: "a-s-s-s-a-s-s-s-a-s-s-s-a-s-s-s-",
    "tom-2": "--s---s---s---s---s---s---s---s-",
    "tom-5": "---s---s---s---s---s---s---s---s",
  };
  const hitsPerBar = Object.values(bar).join("").replaceAll("-", "").length;
  const bars = Array.from({ length: Math.ceil(hitCount / hitsPerBar) }, () => bar);
  const part: WrittenPart = { title: "Dense", bpm, numerator: 4, denominator: 4, bars };
  const { file } = perform(
    part,
    {
      ppq: 480,
      voices: { any: { biasMs: 4, spreadMs: 6 } },
      wanderMs: 3,
      velocities: { ghost: { mean: 34, spread: 6 }, stroke: { mean: 82, spread: 8 }, accent: { mean: 112, spread: 6 } },
      doubleTriggerShare: 0,
      graceMs: 25,
    },
    createRandom(1),
  );
  return { file, bytes: writeMidiFile(file) };
}
