import { createRandom } from "../../standin/random.ts";
import { compareHits, type Pattern } from "../document/index.ts";
import { type Arrangement, barsOf, cutInto, cutsEvery, layPattern, NO_ARRANGEMENT, songVoices } from "../song/index.ts";
import { buildTimeMaps } from "../time/index.ts";
import { hitAt, laneOf, patternOf } from "./patterns.ts";

// Takes and songs for tests.

export const BAR = 1920;
let ids = 0;
export const newId = () => `id ${++ids}`;

/** Sixteenth hats, a back-beat and a kick through some bars, played a little loosely. */
export function takeOf(bars: number, more: Partial<Pattern> = {}, seed = 5): Pattern {
  const random = createRandom(seed);
  const off = () => Math.round(random.bell(9));
  const hits = Array.from({ length: bars }, (_, bar) => {
    const at = (voiceId: string, slot: number, recordedVelocity: number) =>
      hitAt(Math.max(0, bar * BAR + slot * 120 + off()), {
        id: `${voiceId} ${bar} ${slot}`,
        voiceId,
        recordedVelocity,
      });
    return [
      ...Array.from({ length: 16 }, (_, slot) => at("hat", slot, slot % 4 === 0 ? 96 : 70)),
      at("snare", 4, 104),
      at("snare", 12, 106),
      at("kick", 0, 100),
      at("kick", 10, 96),
    ];
  }).flat();
  const lanes = ["hat", "snare", "kick"].map((voiceId) => laneOf(voiceId, { isOn: true, strengthPercent: 80 }));
  return patternOf(hits.toSorted(compareHits), { lengthTicks: bars * BAR, lanes, ...more });
}

export function laidOf(pattern: Pattern, arrangement: Arrangement) {
  const maps = buildTimeMaps(pattern);
  const bars = barsOf(pattern, maps);
  const voices = songVoices(pattern, maps, bars);
  const laid = new Map(
    arrangement.patterns.map((one) => [one.id, layPattern(arrangement, one, voices, bars, maps)] as const),
  );
  return { maps, bars, voices, laid };
}

export const cutAll = (barCount: number, every = barCount) =>
  cutInto(NO_ARRANGEMENT, cutsEvery(barCount, every), newId);
