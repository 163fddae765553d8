import type { Hit } from "../document/pattern.ts";
import type { NoteLengths } from "../document/treatment.ts";
import { noiseOf } from "../humanize.ts";
import { type TempoMap, tickAfterMs } from "../time/index.ts";

/** A hit added by hand sounds this long unless it has a length of its own; drums ignore lengths, but a note needs an end. */
export const ADDED_NOTE_QUARTERS = 1 / 8;

/** How long a note lasts when it goes out. */
export interface NoteLength {
  /** Null for as long as it was recorded. */
  readonly ticks: number | null;
  /** What is made of the recorded length; 1 for all of it. */
  readonly scale: number;
  /** When a hand or the foot stops it at the latest; infinite if nothing does. */
  readonly mostTicks: number;
}

/** Of a hit whose lane says nothing of lengths: what a hand has mended, else what was recorded. */
const asRecorded = ({ lengthTicks }: Hit): NoteLength => ({
  ticks: lengthTicks ?? null,
  scale: 1,
  mostTicks: Number.POSITIVE_INFINITY,
});

/**
 * How long the notes of a voice last, for samplers that listen to lengths. No note goes on after what stopped its hit: the hand that
 * chokes a cymbal, the foot that shuts the hats.
 * @param hits of one voice, ascending by base tick
 * @param ticks where each goes out
 * @param isSilent 1 for hits that do not go out
 * @returns entry i belongs to hit i
 */
export function noteLengths(
  hits: readonly Hit[],
  ticks: ArrayLike<number>,
  isSilent: ArrayLike<number>,
  lengths: NoteLengths | undefined,
  tempoMap: TempoMap,
): readonly NoteLength[] {
  if (!lengths) return hits.map(asRecorded);
  const nextTicks = lengths.mode === "next" ? ticksOfNext(ticks, isSilent) : [];
  const ticksOf = (row: number, ms: number) => tickAfterMs(tempoMap, ticks[row]!, ms) - ticks[row]!;
  const shortestMs = Math.min(lengths.fromMs, lengths.toMs);
  const spanMs = Math.abs(lengths.toMs - lengths.fromMs);
  const setLength = {
    fixed: (row) => ({ ticks: ticksOf(row, lengths.fixedMs) }),
    next: (row) => (Number.isFinite(nextTicks[row]) ? { ticks: nextTicks[row]! - ticks[row]! } : {}),
    scaled: () => ({ scale: lengths.scalePercent / 100 }),
    random: (row, { id }) => {
      const share = (noiseOf(`length ${id}`, lengths.seed, "even") + 1) / 2;
      return { ticks: ticksOf(row, shortestMs + share * spanMs) };
    },
  } satisfies Record<NoteLengths["mode"], (row: number, hit: Hit) => Partial<NoteLength>>;
  return hits.map((hit, row) => {
    const own = asRecorded(hit);
    const mostTicks = Math.min(hit.chokedTicks ?? own.mostTicks, hit.shutTicks ?? own.mostTicks);
    return { ...own, ...setLength[lengths.mode](row, hit), mostTicks };
  });
}

/**
 * @param recordedTicks how long the note lasted when it was recorded
 * @returns whole ticks; 1 at the least, unless it is as recorded and was shorter
 */
export function lastingTicks({ ticks, scale, mostTicks }: NoteLength, recordedTicks: number): number {
  if (ticks === null && scale === 1 && mostTicks >= recordedTicks) return recordedTicks;
  return Math.max(1, Math.round(Math.min(mostTicks, (ticks ?? recordedTicks) * scale)));
}

/** Whether a length is another than was recorded, so that the next note of its key may cut it short. */
export function isReset({ ticks, scale }: NoteLength): boolean {
  return ticks !== null || scale !== 1;
}

/** Where the next hit begins that goes out later; infinite for the last. From the end, so that each is looked at once. */
function ticksOfNext(ticks: ArrayLike<number>, isSilent: ArrayLike<number>): Float64Array {
  const nextTicks = new Float64Array(ticks.length);
  let next = Number.POSITIVE_INFINITY;
  let after = Number.POSITIVE_INFINITY;
  for (let row = ticks.length - 1; row >= 0; row--) {
    const tick = ticks[row]!;
    nextTicks[row] = next > tick ? next : after;
    if (isSilent[row] === 1 || tick >= next) continue;
    after = next;
    next = tick;
  }
  return nextTicks;
}
