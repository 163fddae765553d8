import type { Hit } from "../document/index.ts";
import { DEFAULT_TREATMENT } from "../document/treatment.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { studyVoices } from "../study/index.ts";
import { buildTimeMaps } from "../time/index.ts";
import { treat } from "../treat.ts";
import { hitAt } from "./patterns.ts";

/** How a part is played and recorded, where it matters. */
interface Recording {
  readonly bpm: number;
  /** A coarse file has hits on multiples of so many ticks. */
  readonly stepTicks: number;
}

const mapsAt = (bpm: number) =>
  buildTimeMaps({ ppq: 480, meters: [], tempos: [{ tick: 0, usPerQuarter: Math.round(60_000_000 / bpm) }] });

/** A stroke as it was meant. */
export interface Meant {
  readonly tick: number;
  readonly voiceId: string;
}

/** Plays a part some ms late, each stroke up to some ms off, and says which hits are put elsewhere than they were meant. */
export function putOnSlots(
  meant: readonly Meant[],
  lateMs: number,
  offsMs: readonly number[],
  { bpm, stepTicks }: Recording = { bpm: 120, stepTicks: 1 },
) {
  const maps = mapsAt(bpm);
  const played = meant.map(({ tick, voiceId }, index) => {
    const offMs = lateMs + offsMs[(index * 7919) % offsMs.length]!;
    const steps = (tick + (offMs * 480 * bpm) / 60_000) / stepTicks;
    return { meant: tick, hit: hitAt(Math.max(0, Math.round(steps) * stepTicks), { id: `${index}`, voiceId }) };
  });
  const lengthTicks = 1920 + Math.max(...meant.map(({ tick }) => tick));
  const byVoice = new Map<string, readonly Hit[]>();
  const ticksOf = ({ hit }: (typeof played)[number]) => hit.recordedTick!;
  for (const one of played.toSorted((a, b) => ticksOf(a) - ticksOf(b)))
    byVoice.set(one.hit.voiceId, [...(byVoice.get(one.hit.voiceId) ?? []), one.hit]);
  const { found, opening, lateness } = studyVoices(byVoice, GENERAL_MIDI, maps);
  const tickOf = new Map(
    [...byVoice].flatMap(([voiceId, hits]) => {
      const { grid, stretches, meanDriftMs: pocketMs } = found.get(voiceId)!;
      const timing = { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100, grid, stretches, pocketMs };
      const { ticks } = treat(hits, { ...DEFAULT_TREATMENT, timing }, maps, lengthTicks);
      return hits.map(({ id }, row) => [id, ticks[row]!] as const);
    }),
  );
  return { found, opening, lateness, wrong: played.filter(({ meant, hit }) => tickOf.get(hit.id) !== meant) };
}

/** Offs that say the same each time. */
export const wobble = (ms: number) => Array.from({ length: 17 }, (_, index) => (index / 8 - 1) * ms);
