import { META, type MidiFile, type MidiMessage } from "../core/smf/index.ts";
import { buildTempoMap, DEFAULT_US_PER_QUARTER, tickToMs } from "../core/time/index.ts";
import type { Random } from "./random.ts";
import { barsOfPart, type WrittenPart } from "./written-part.ts";

/** A take that was played to no click: the file counts at 120 bpm, and the music goes its own way. */
export interface FreeTake {
  readonly file: MidiFile;
  /** When each quarter, or the pulse of a compound meter, was felt, in ms of the file. */
  readonly beatsMs: readonly number[];
}

/**
 * Plays a performance again in a tempo that breathes: slowly faster and slower, and a little by chance from beat to beat.
 * @param swayPercent how far the tempo goes up and down; 0 for one that is steady, as to a click that the file does not know
 */
export function withoutClick(
  file: MidiFile,
  part: WrittenPart,
  ppq: number,
  random: Random,
  swayPercent: number,
): FreeTake {
  const bars = barsOfPart(part, ppq);
  const tempoMap = buildTempoMap(
    ppq,
    bars.map(({ startTick, bpm }) => ({ tick: startTick, usPerQuarter: 60_000_000 / bpm })),
  );
  const endTick = bars.at(-1)!.startTick + bars.at(-1)!.barTicks;
  const quarters = Math.ceil(endTick / ppq) + 8;
  const leadInMs = 300 + random.uniform() * 1500;
  const slow = 24 + random.uniform() * 40;
  const turn = random.uniform() * 2 * Math.PI;
  let wander = 0;
  // When each quarter of the written time falls, as played.
  const quarterMs = [leadInMs];
  for (let quarter = 0; quarter < quarters; quarter++) {
    wander = wander * 0.95 + random.bell(swayPercent === 0 ? 0 : 0.006);
    const sway = (swayPercent / 100) * Math.sin(turn + (2 * Math.PI * quarter) / slow);
    const lengthMs = tickToMs(tempoMap, (quarter + 1) * ppq) - tickToMs(tempoMap, quarter * ppq);
    quarterMs.push(quarterMs.at(-1)! + lengthMs * (1 + sway + wander));
  }
  const playedMs = (tick: number) => {
    const quarter = Math.max(0, Math.min(quarterMs.length - 2, Math.floor(tick / ppq)));
    return quarterMs[quarter]! + (quarterMs[quarter + 1]! - quarterMs[quarter]!) * (tick / ppq - quarter);
  };
  const msPerTick = DEFAULT_US_PER_QUARTER / (1000 * ppq);
  const isTime = (message: MidiMessage) =>
    message.kind === "meta" && (message.metaType === META.tempo || message.metaType === META.meter);
  const tracks = file.tracks.map(({ messages }) => ({
    messages: messages
      .filter((message) => !isTime(message))
      .map((message) => ({
        ...message,
        tick:
          message.kind === "meta" && message.tick === 0
            ? 0
            : Math.max(0, Math.round(playedMs(message.tick) / msPerTick)),
      })),
  }));
  const isCompound = part.denominator === 8 && part.numerator % 3 === 0;
  const beatTicks = isCompound ? 1.5 * ppq : ppq;
  const beatsMs = Array.from({ length: Math.floor(endTick / beatTicks) }, (_, beat) => playedMs(beat * beatTicks));
  return { file: { ...file, tracks }, beatsMs };
}
