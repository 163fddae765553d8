import { applyEdit, baseTick, type Hit, type Lane, type Pattern } from "../core/document/index.ts";
import { exportTake, importTake } from "../core/file/index.ts";
import { GENERAL_MIDI } from "../core/notemap/index.ts";
import {
  addPlayed,
  CLOCK_SLACK_MS,
  type ClockPair,
  countInMs,
  fitClock,
  passesOf,
  Recorder,
  type TickLoop,
} from "../core/record/index.ts";
import {
  barAt,
  barByIndex,
  buildTimeMaps,
  formatBarBeat,
  formatGrid,
  type Grid,
  gridStepTicks,
  nextBarLine,
  type TempoMap,
  tickAfterMs,
  tickToMs,
} from "../core/time/index.ts";
import { type PartStroke, playStrokes, readPasses, strokesOf, type Tightness } from "../standin/player.ts";
import { createRandom, type Random } from "../standin/random.ts";
import { UsageError } from "./usage.ts";

export interface RecordSettings {
  readonly tightness: Tightness;
  /** What each pass plays, as `readPasses` takes it. */
  readonly passes: string;
  /** How many bars are played over at a time; null for the whole part. */
  readonly bars: number | null;
  /** How late the input is, and what is taken off. */
  readonly latencyMs: number;
  readonly countInBars: number;
  /** What strokes are quantized to on the way in; null for nothing. */
  readonly grid: Grid | null;
  readonly strengthPercent: number;
  readonly seed: number;
}

export interface RecordReport {
  readonly ppq: number;
  readonly hitCount: number;
  /** Strokes of the part that no pass plays. */
  readonly notPlayed: number;
  readonly latencyMs: number;
  readonly grid: string | null;
  readonly passes: readonly {
    readonly pass: number;
    readonly voices: readonly string[];
    readonly hits: readonly {
      readonly note: number;
      readonly recordedTick: number;
      readonly recordedVelocity: number;
      readonly place: string;
    }[];
  }[];
}

/** How far the clock that stamps events is from the one that sound runs by, and how fast it runs. */
const EVENT_CLOCK_AHEAD_MS = 4711.25;
const EVENT_CLOCK_RATE = 1.00004;
/** The two are read together this often; one reading in so many is late, as on a busy page. */
const READ_EVERY_MS = 250;
/** So many times before anything is played. */
const READ_BEFORE = 20;
const LATE_READINGS = 0.15;
const LATE_BY_MS = 40;

/**
 * Records a part without sound: the stand-in player plays it pass by pass into the recorder, over a few bars at a time, after a count-in,
 * through an input that is late and a clock of its own.
 * @throws MidiFileError if the part cannot be read; UsageError if passes name no drum
 */
export function recordPart(bytes: Uint8Array, settings: RecordSettings): { take: Uint8Array; report: RecordReport } {
  const { pattern: part } = importTake(bytes, GENERAL_MIDI);
  const passes = passesFor(settings.passes, part);
  const random = createRandom(settings.seed);
  let take: Pattern = { ...part, hits: [], lanes: part.lanes.map((lane) => laneOnTheWayIn(lane, settings)) };
  let count = 0;
  for (const stretch of stretchesOf(part, settings)) {
    const hits = playOver(part, stretch, passes, settings, random, () => `played-${++count}`);
    if (hits.length > 0) take = applyEdit(take, addPlayed(take, hits));
  }
  const { meterMap } = buildTimeMaps(take);
  const report: RecordReport = {
    ppq: take.ppq,
    hitCount: take.hits.length,
    notPlayed: part.hits.length - passes.reduce((sum, hits) => sum + hits.length, 0),
    latencyMs: settings.latencyMs,
    grid: settings.grid && formatGrid(settings.grid),
    passes: passesOf(take).map(({ pass, voiceIds, hits }) => ({
      pass,
      voices: voiceIds,
      hits: hits.map(({ note, recordedTick, recordedVelocity }) => ({
        note,
        recordedTick: recordedTick ?? 0,
        recordedVelocity: recordedVelocity ?? 0,
        place: formatBarBeat(meterMap, recordedTick ?? 0),
      })),
    })),
  };
  return { take: exportTake(bytes, take), report };
}

function passesFor(text: string, part: Pattern): readonly (readonly Hit[])[] {
  try {
    return readPasses(text, part);
  } catch (error) {
    if (error instanceof RangeError) throw new UsageError(`--passes: ${error.message}`, { cause: error });
    throw error;
  }
}

/** What a lane does with strokes as they come in. What was struck is kept beside. */
function laneOnTheWayIn({ voiceId, treatment }: Lane, { grid, strengthPercent }: RecordSettings): Lane {
  const { stretches: _stretches, ghostGrid: _ghosts, ...timing } = treatment.timing;
  const onTheWayIn = grid ? { isOn: true, grid, strengthPercent, pocketMs: 0 } : { isOn: false };
  return { voiceId, treatment: { ...treatment, timing: { ...timing, ...onTheWayIn } } };
}

/** A stroke that comes so much ahead of a bar line, in ticks, belongs to the bar that begins there. */
const earlyTicks = ({ ppq }: Pattern, { grid }: RecordSettings) => gridStepTicks(grid ?? USUAL_SLOTS, ppq) / 2;
/** Where strokes are not quantized on the way in, a hand is still ahead of the bar lines that it means. */
const USUAL_SLOTS: Grid = { family: "straight", denominator: 16 };

/** The same in ms, and as much at the least as clocks are sure. */
function aheadMs(part: Pattern, settings: RecordSettings, tempoMap: TempoMap, tick: number): number {
  const early = earlyTicks(part, settings);
  return Math.max(CLOCK_SLACK_MS, tickToMs(tempoMap, tick) - tickToMs(tempoMap, tick - early));
}

/** The bars of a part, so many at a time. A stroke that all but lies on the last bar line is in the bar after it. */
function stretchesOf(part: Pattern, settings: RecordSettings): readonly TickLoop[] {
  const { meterMap, tempoMap } = buildTimeMaps(part);
  const last = part.hits.reduce((most, hit) => Math.max(most, baseTick(hit)), 0);
  const { bars } = settings;
  const endTick = nextBarLine(meterMap, tickAfterMs(tempoMap, last, aheadMs(part, settings, tempoMap, last)) + 1);
  if (bars === null) return [{ startTick: 0, endTick }];
  const stretches: TickLoop[] = [];
  const barCount = barAt(meterMap, endTick - 1).barIndex + 1;
  for (let first = 0; first < barCount; first += bars) {
    const last = Math.min(barCount, first + bars) - 1;
    stretches.push({
      startTick: barByIndex(meterMap, first).startTick,
      endTick: barByIndex(meterMap, last).endTick,
    });
  }
  return stretches;
}

/** Plays all passes over a stretch, round by round. */
function playOver(
  part: Pattern,
  stretch: TickLoop,
  passes: readonly (readonly Hit[])[],
  settings: RecordSettings,
  random: Random,
  newId: () => string,
): readonly Hit[] {
  const maps = buildTimeMaps(part);
  const { tempoMap } = maps;
  const { startTick, endTick } = stretch;
  const { tightness, latencyMs, countInBars } = settings;
  const startsMs = countInMs(countInBars, maps, startTick);
  const roundMs = tickToMs(tempoMap, endTick) - tickToMs(tempoMap, startTick);
  const ahead = aheadMs(part, settings, tempoMap, endTick);
  const played = passes.flatMap((hits, round) =>
    playStrokes(strokesOf(part, hits, tempoMap, stretch, ahead), tightness, random).map(
      (stroke): PartStroke => ({ ...stroke, ms: startsMs + round * roundMs + stroke.ms }),
    ),
  );
  const place = { startTick, loop: stretch, earlyTicks: earlyTicks(part, settings) };
  const recorder = new Recorder(place, tempoMap, 1, newId);
  const clocks = new SimulatedClocks(random);
  return played.flatMap(({ ms, strike }) => {
    const eventMs = clocks.stampOf(ms + latencyMs);
    const hit = recorder.hitOf(part, strike, fitClock(clocks.readUntil(ms))(eventMs) - latencyMs - startsMs);
    return hit ? [hit] : [];
  });
}

/** The clock that stamps events beside that of sound, and how the two are read together. */
class SimulatedClocks {
  readonly #random: Random;
  readonly #pairs: ClockPair[] = [];

  constructor(random: Random) {
    this.#random = random;
  }

  /** The stamp of an event at a moment of the audio clock. */
  stampOf(audioMs: number): number {
    return EVENT_CLOCK_AHEAD_MS + audioMs * EVENT_CLOCK_RATE;
  }

  /** All readings up to a moment, which never goes back by much. */
  readUntil(audioMs: number): readonly ClockPair[] {
    const readings = READ_BEFORE + Math.max(1, Math.floor(audioMs / READ_EVERY_MS) + 1);
    while (this.#pairs.length < readings) {
      const readMs = (this.#pairs.length - READ_BEFORE) * READ_EVERY_MS;
      const lateMs = this.#random.chance(LATE_READINGS) ? this.#random.uniform() * LATE_BY_MS : 0;
      this.#pairs.push({ audioMs: readMs, eventMs: this.stampOf(readMs + lateMs) });
    }
    return this.#pairs;
  }
}
