import { playsThisTime } from "../chance.ts";
import type { Arrangement, SongEntry, SongPattern } from "../document/arrangement.ts";
import { type Fullness, USUAL_FULLNESS } from "../document/chance.ts";
import type { Hit } from "../document/pattern.ts";
import {
  type Bar,
  buildTimeMaps,
  type MeterChange,
  type TempoChange,
  type TimeMaps,
  ticksToMs,
} from "../time/index.ts";
import { barTicksOf, type LaidPattern, type LaidSide, type LaidVoice } from "./lay-pattern.ts";

/** A pattern at one of its places in the song. */
export interface PlacedPattern {
  readonly entry: SongEntry;
  readonly pattern: SongPattern;
  /** Which time of the entry, counted from 0. */
  readonly time: number;
  readonly startTick: number;
  readonly lengthTicks: number;
}

/** When everything is in a song: its own ticks, with the meters and tempos that its bars bring from the take. */
export interface SongTime {
  readonly places: readonly PlacedPattern[];
  readonly lengthTicks: number;
  readonly meters: readonly MeterChange[];
  readonly tempos: readonly TempoChange[];
  readonly maps: TimeMaps;
}

/**
 * Places patterns one after another on one clock. Bars keep the meter and the tempos that they have in the take.
 * @param entries what is played; left out, the song
 */
export function songTime(
  { patterns, song }: Arrangement,
  takeBars: readonly Bar[],
  takeMaps: TimeMaps,
  takeTempos: readonly TempoChange[],
  entries: readonly SongEntry[] = song,
): SongTime {
  const byId = new Map(patterns.map((pattern) => [pattern.id, pattern]));
  const places: PlacedPattern[] = [];
  const meters: MeterChange[] = [];
  const tempos: TempoChange[] = [];
  let tick = 0;
  for (const entry of entries) {
    const pattern = byId.get(entry.patternId);
    if (!pattern) continue;
    const starts = barTicksOf(pattern, takeBars);
    const lengthTicks = starts.at(-1)!;
    for (let time = 0; time < entry.repeats; time++) {
      places.push({ entry, pattern, time, startTick: tick, lengthTicks });
      for (const [index, own] of pattern.bars.entries()) {
        const bar = takeBars[own ?? pattern.bars.slice(0, index).findLast((one) => one !== null) ?? 0] ?? takeBars[0]!;
        const startTick = tick + starts[index]!;
        addMeter(meters, startTick, bar, takeMaps.meterMap.ppq);
        addTempos(tempos, startTick, bar, takeMaps, takeTempos);
      }
      tick += lengthTicks;
    }
  }
  const ppq = takeMaps.meterMap.ppq;
  return { places, lengthTicks: tick, meters, tempos, maps: buildTimeMaps({ ppq, meters, tempos }) };
}

/** A meter is told where it changes, and after a bar that was cut short, so that the next one begins a bar. */
function addMeter(meters: MeterChange[], tick: number, { meter }: Bar, ppq: number): void {
  const last = meters.at(-1);
  const barTicks = last ? (last.numerator * 4 * ppq) / last.denominator : 1;
  const isOnBarLine = last !== undefined && (tick - last.tick) % barTicks === 0;
  const isSame = last?.numerator === meter.numerator && last.denominator === meter.denominator;
  if (!isSame || !isOnBarLine) meters.push({ tick, ...meter });
}

function addTempos(
  tempos: TempoChange[],
  tick: number,
  bar: Bar,
  { tempoMap }: TimeMaps,
  takeTempos: readonly TempoChange[],
): void {
  const add = (change: TempoChange) => {
    if (tempos.at(-1)?.usPerQuarter !== change.usPerQuarter) tempos.push(change);
  };
  add({ tick, usPerQuarter: Math.round(usPerQuarterAt(tempoMap, bar.startTick)) });
  for (const change of takeTempos) {
    if (change.tick > bar.startTick && change.tick < bar.endTick)
      add({ tick: tick + change.tick - bar.startTick, usPerQuarter: change.usPerQuarter });
  }
}

function usPerQuarterAt({ startTicks, msPerTick, ppq }: TimeMaps["tempoMap"], tick: number): number {
  let segment = 0;
  while (segment + 1 < startTicks.length && startTicks[segment + 1]! <= tick) segment++;
  return msPerTick[segment]! * ppq * 1000;
}

export const SIDES = ["recorded", "cleaned", "plain"] as const;
/** As it came in, as it goes out, and as it goes out but without groove, push and chance. */
export type Side = (typeof SIDES)[number];

/** One voice through the whole song. Entry i of every column is one hit that is heard. */
export interface HeardVoice {
  readonly voiceId: string;
  /** The row of each hit in its lane of the take. */
  readonly rows: Int32Array;
  /** Ascending in slots, and nearly so in time. */
  readonly sides: Readonly<Record<Side, LaidSide & { readonly timesMs: Float64Array }>>;
}

/**
 * All that is heard of a song: laid patterns at their places, without what is muted. Hits that are not played always are drawn anew
 * each time that their pattern comes round.
 * @param fullness of the take; a pattern can be fuller or sparser
 */
export function heardVoices(
  { places, maps }: SongTime,
  laid: ReadonlyMap<string, LaidPattern>,
  voices: readonly { readonly voiceId: string; readonly hits: readonly Hit[] }[],
  fullness: Fullness = USUAL_FULLNESS,
): readonly HeardVoice[] {
  const turns = turnsOf(places);
  return voices.map(({ voiceId, hits }, lane): HeardVoice => {
    const hasChance = hits.some(({ chance }) => chance);
    const heard = places.flatMap(({ entry, pattern, startTick }, place) => {
      const voice = laid.get(pattern.id)?.voices[lane];
      const isHeard = voice && !entry.isMuted && !entry.mutedVoiceIds?.includes(voiceId);
      if (!isHeard) return [];
      const drawn = { ...fullness, percent: pattern.fullnessPercent ?? fullness.percent };
      const isSilent = hasChance ? withoutUnplayed(voice, hits, drawn, turns[place]!) : voice.isSilent;
      return [{ voice, startTick, isSilent }];
    });
    const count = heard.reduce((sum, { isSilent }) => sum + countOf(isSilent), 0);
    const rows = new Int32Array(count);
    const sides = { recorded: emptySide(count), cleaned: emptySide(count), plain: emptySide(count) };
    let at = 0;
    for (const { voice, startTick, isSilent } of heard) {
      for (let own = 0; own < voice.rows.length; own++) {
        if (isSilent[own] === 1) continue;
        rows[at] = voice.rows[own]!;
        for (const side of SIDES) {
          sides[side].ticks[at] = Math.max(0, startTick + voice[side].ticks[own]!);
          sides[side].velocities[at] = voice[side].velocities[own]!;
        }
        at++;
      }
    }
    const timed = (side: LaidSide) => ({ ...side, timesMs: ticksToMs(maps.tempoMap, side.ticks) });
    return {
      voiceId,
      rows,
      sides: { recorded: timed(sides.recorded), cleaned: timed(sides.cleaned), plain: timed(sides.plain) },
    };
  });
}

/** Which time its pattern comes round in the song, for each place: from 0. */
function turnsOf(places: readonly PlacedPattern[]): readonly number[] {
  const counts = new Map<string, number>();
  return places.map(({ pattern: { id } }) => {
    const turn = counts.get(id) ?? 0;
    counts.set(id, turn + 1);
    return turn;
  });
}

/** What is silent with what is not played this time. A hit that a pattern plays more than once is drawn each time by its place. */
function withoutUnplayed(
  { rows, slotTicks, isSilent }: LaidVoice,
  hits: readonly Hit[],
  fullness: Fullness,
  turn: number,
): Uint8Array {
  const places = new Map<number, number>();
  return isSilent.map((silent, at) => {
    const row = rows[at]!;
    const hit = hits[row]!;
    if (!hit.chance || silent === 1) return silent;
    const first = places.get(row) ?? Math.round(slotTicks[at]!);
    places.set(row, first);
    const again = Math.round(slotTicks[at]!) - first;
    return playsThisTime(hit, fullness, turn, again) ? silent : 1;
  });
}

function emptySide(count: number): LaidSide {
  return { ticks: new Float64Array(count), velocities: new Uint8Array(count) };
}

function countOf(isSilent: Uint8Array): number {
  let count = 0;
  for (const silent of isSilent) count += 1 - silent;
  return count;
}
