import type { Pattern } from "../../core/document/index.ts";
import { importUnplanned } from "../../core/file/index.ts";
import { GENERAL_MIDI } from "../../core/notemap/index.ts";
import { writeMidiFile } from "../../core/smf/index.ts";
import { NIGHT_FERRY } from "../../standin/night-ferry.ts";
import { type Habits, perform } from "../../standin/perform.ts";
import { type PartStroke, playStrokes, readPasses, type Tightness } from "../../standin/player.ts";
import { createRandom } from "../../standin/random.ts";

/** As it is written: nothing is early, late or by mistake. */
const EXACT: Habits = {
  ppq: 480,
  voices: { any: { biasMs: 0, spreadMs: 0 } },
  wanderMs: 0,
  velocities: {
    ghost: { mean: 34, spread: 3 },
    stroke: { mean: 82, spread: 4 },
    accent: { mean: 112, spread: 3 },
  },
  doubleTriggerShare: 0,
  graceMs: 28,
};

/** The parts that the stand-in player has. */
export const PLAYER_PARTS = NIGHT_FERRY.map(({ slug, part }) => ({ id: slug, name: part.title }));

/** A stroke of the player in quarters from the first bar line of its part. */
export interface QuarterStroke {
  readonly quarters: number;
  readonly strike: PartStroke["strike"];
}

/** What the player plays in each round: a part by its passes. */
export class StandInPart {
  readonly #part: Pattern;
  readonly #passes: ReturnType<typeof readPasses>;

  /** @param plays what each round plays, as `readPasses` takes it */
  constructor(id: string, plays: string) {
    const take = NIGHT_FERRY.find(({ slug }) => slug === id) ?? NIGHT_FERRY[0]!;
    const { file } = perform(take.part, EXACT, createRandom(take.seed));
    this.#part = importUnplanned(writeMidiFile(file), GENERAL_MIDI).pattern;
    this.#passes = readPasses(plays, this.#part);
  }

  /**
   * The strokes of a round. One that has several things to play plays them in turn, and rests when all are played.
   * @param fromQuarters where the round begins in the part, which goes round itself
   */
  strokesOf(round: number, fromQuarters: number, lengthQuarters: number): readonly QuarterStroke[] {
    const pass = this.#passes.length === 1 ? this.#passes[0] : this.#passes[round];
    if (!pass) return [];
    const { ppq, streams, lengthTicks } = this.#part;
    const partQuarters = lengthTicks / ppq;
    return pass.flatMap((hit) => {
      const at = (hit.recordedTick ?? 0) / ppq;
      const ahead = (((at - fromQuarters) % partQuarters) + partQuarters) % partQuarters;
      if (ahead >= lengthQuarters) return [];
      const { note, pedal, streamIndex, recordedVelocity } = hit;
      const channel = streams[streamIndex]?.channel ?? 9;
      return [{ quarters: ahead, strike: { note, pedal, channel, velocity: recordedVelocity ?? 90 } }];
    });
  }
}

/** Strokes as the player's hands play them: each round otherwise, and the same again in the same round. */
export function played(strokes: readonly PartStroke[], tightness: Tightness, round: number): readonly PartStroke[] {
  return playStrokes(strokes, tightness, createRandom(7001 + round));
}
