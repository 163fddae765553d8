import { addLane, growTo, type NewId } from "../commands/index.ts";
import {
  type Edit,
  type FilePlace,
  type Hit,
  MOST_HITS,
  meaningOf,
  type Pattern,
  placeInFile,
  placeInPattern,
  type Strike,
} from "../document/index.ts";
import { type TempoMap, tickAfterMs } from "../time/index.ts";
import { type PlacedStroke, placeStroke, type RecordingPlace } from "./place-stroke.ts";

/** A note that was struck, and how hard (1 to 127). */
export interface LiveStrike extends Strike {
  readonly velocity: number;
}

/** A device sends no more strokes than this in a second by itself, if nothing is stuck. */
const MOST_A_SECOND = 100;

/**
 * Makes hits of strokes as they come: each in the pass of its round. It keeps where a recording stands, and knows no sound, no device
 * and no document but what it is told.
 */
export class Recorder {
  readonly #place: RecordingPlace;
  readonly #tempoMap: TempoMap;
  readonly #newId: NewId;
  readonly #passOfRound = new Map<number, number>();
  #nextPass: number;
  #recent: number[] = [];

  /** @param firstPass the number that the first pass gets */
  constructor(place: RecordingPlace, tempoMap: TempoMap, firstPass: number, newId: NewId) {
    this.#place = place;
    this.#tempoMap = tempoMap;
    this.#nextPass = firstPass;
    this.#newId = newId;
  }

  /**
   * The hit that a stroke makes, named by the pattern's map. What was struck is in it as it came, for ever.
   * @param elapsedMs as `placeStroke` has it
   * @returns null for a stroke of the count-in
   */
  hitOf(pattern: Pattern, strike: LiveStrike, elapsedMs: number): Hit | null {
    const placed = placeStroke(this.#place, this.#tempoMap, elapsedMs);
    if (!placed) return null;
    this.#recent = [...this.#recent.filter((ms) => ms > elapsedMs - 1000), elapsedMs].slice(-2 * MOST_A_SECOND);
    const { note, pedal, channel } = strike;
    const { voiceId, articulationId } = meaningOf(pattern.noteMap, strike);
    const inFile = pattern.timeline && {
      ...placeBeside(pattern, placed.tick),
      shutTicks: null,
      chokedTicks: null,
    };
    return {
      id: this.#newId(),
      streamIndex: streamFor(pattern, channel),
      note,
      voiceId,
      articulationId,
      pedal,
      shutTicks: null,
      chokedTicks: null,
      // On a timeline a place is what the timeline makes of the file's: else another time and back would move it.
      recordedTick: inFile && inFile.since === undefined ? placeInPattern(pattern)(inFile.tick) : placed.tick,
      recordedVelocity: strike.velocity,
      pinnedTick: null,
      pinnedVelocity: null,
      ...(inFile ? { inFile } : {}),
      pass: this.#passOf(placed),
    };
  }

  /** Rounds in which nothing is played are no passes. */
  #passOf({ round }: PlacedStroke): number {
    let pass = this.#passOfRound.get(round);
    if (pass === undefined) {
      pass = this.#nextPass++;
      this.#passOfRound.set(round, pass);
    }
    return pass;
  }

  /** Whether more comes in than anybody plays: a pad may be stuck. */
  get isFlooded(): boolean {
    return this.#recent.length > MOST_A_SECOND;
  }
}

/** Where a stroke would be in the file; in a take with bars that were put in, where it is beside the file. */
function placeBeside(pattern: Pattern, tick: number): Omit<FilePlace, "shutTicks" | "chokedTicks"> {
  const { length: since } = pattern.timeline?.barChanges ?? [];
  return since === 0 ? { tick: placeInFile(pattern)(tick) } : { tick, since };
}

/** A hit that a hand has stopped, so long after it was struck. */
export function chokedAfter(hit: Hit, afterMs: number, tempoMap: TempoMap): Hit {
  const tick = hit.recordedTick ?? 0;
  const chokedTicks = Math.max(1, Math.round(tickAfterMs(tempoMap, tick, afterMs) - tick));
  return { ...hit, chokedTicks, ...(hit.inFile ? { inFile: { ...hit.inFile, chokedTicks } } : {}) };
}

/** The stream that a stroke goes out on: drums on its own channel, or the first that is drums. */
function streamFor({ streams }: Pattern, channel: number): number {
  const own = streams.findIndex((stream) => stream.isDrums && stream.channel === channel);
  return Math.max(0, own >= 0 ? own : streams.findIndex(({ isDrums }) => isDrums));
}

/** How many more hits a take can hold. */
export function roomFor({ hits }: Pattern): number {
  return Math.max(0, MOST_HITS - hits.length);
}

/**
 * Takes hits that were played in into a pattern, with bars for those past its end, and a lane for each drum that has none.
 * @param hits with ids that the pattern has not
 */
export function addPlayed(pattern: Pattern, hits: readonly Hit[]): Edit {
  const add: Edit = { kind: "addHits", hits };
  const last = hits.reduce((most, { recordedTick }) => Math.max(most, recordedTick ?? 0), 0);
  const missing = [...new Set(hits.map(({ voiceId }) => voiceId))].filter((voiceId) =>
    pattern.lanes.every((lane) => lane.voiceId !== voiceId),
  );
  const [first, ...more] = missing;
  const edits = [...growTo(pattern, last), ...(first === undefined ? [] : [addLane(pattern, first, more)]), add];
  return edits.length === 1 ? add : { kind: "together", edits };
}
