import { findVoice, type Voice } from "../document/index.ts";
import { type Hit, hitsByVoice, type Lane, type Pattern } from "../document/pattern.ts";
import type { Treatment } from "../document/treatment.ts";
import { type Bar, barAt, barByIndex, type TimeMaps } from "../time/index.ts";
import { type SettledVoice, settle } from "../treat.ts";

/** A voice of the take, counted in bars: what patterns are laid from. */
export interface SongVoice {
  readonly lane: Lane;
  readonly voice: Voice;
  readonly hits: readonly Hit[];
  /** The first row of each bar, and one more for the end: row i is in bar b if starts[b] <= i < starts[b + 1]. */
  readonly barStarts: Int32Array;
  /** The voice settled by a treatment. Asked twice for the same steps it answers with the same value. */
  settledBy(treatment: Treatment): SettledVoice;
}

/** The bars of a take, from its first to the last that it reaches into. */
export function barsOf({ lengthTicks }: Pick<Pattern, "lengthTicks">, { meterMap }: TimeMaps): readonly Bar[] {
  const last = barAt(meterMap, Math.max(0, lengthTicks - 1)).barIndex;
  return Array.from({ length: last + 1 }, (_, index) => barByIndex(meterMap, index));
}

/**
 * The voices of a take by bars. A hit belongs to the bar that it was played for: one a little ahead of a bar line is of the bar that
 * follows, since its slot is.
 */
export function songVoices(pattern: Pattern, maps: TimeMaps, bars = barsOf(pattern, maps)): readonly SongVoice[] {
  const byVoice = hitsByVoice(pattern.hits);
  return pattern.lanes.map((lane): SongVoice => {
    const hits = byVoice.get(lane.voiceId) ?? [];
    const known: { readonly by: Treatment; readonly settled: SettledVoice }[] = [];
    const settledBy = (treatment: Treatment) => {
      const same = known.find(({ by }) => isSettledAlike(by, treatment));
      if (same) return same.settled;
      const settled = settle(hits, treatment, maps);
      known.push({ by: treatment, settled });
      return settled;
    };
    const { slotTicks } = settledBy(lane.treatment).placed;
    const voice = findVoice(pattern.noteMap, lane.voiceId);
    return { lane, voice, hits, barStarts: startsOfBars(slotTicks, bars), settledBy };
  });
}

function isSettledAlike(a: Treatment, b: Treatment): boolean {
  return a.timing === b.timing && a.dynamics === b.dynamics && a.roles === b.roles && a.repair === b.repair;
}

function startsOfBars(slotTicks: Float64Array, bars: readonly Bar[]): Int32Array {
  const starts = new Int32Array(bars.length + 1).fill(slotTicks.length);
  let bar = 0;
  starts[0] = 0;
  for (let row = 0; row < slotTicks.length; row++) {
    // Slots hardly ever go back; a hit whose slot does stays with its neighbours.
    while (bar + 1 < bars.length && slotTicks[row]! >= bars[bar]!.endTick) starts[++bar] = row;
  }
  return starts;
}
