import type { LiveStrike } from "../../core/record/index.ts";
import type { PlayInSettings } from "./play-in-state.ts";
import { elapsedAt, type Session } from "./session.ts";
import type { StandInPart } from "./stand-in.ts";

/** The hands are ready for a round so long before it begins: what is early comes before it. */
const AHEAD_MS = 150;
/** Without a loop it plays so many quarters of its part at a time. */
const STRETCH_QUARTERS = 8;

interface DueStroke {
  /** Since the recording began. */
  readonly elapsedMs: number;
  readonly strike: LiveStrike;
}

/** What the stand-in player strikes next, round by round. */
export class PlayerFeed {
  readonly #part: StandInPart;
  readonly #settings: PlayInSettings;
  readonly #played: typeof import("./stand-in.ts").played;
  #round = -1;
  #waiting: readonly DueStroke[] = [];

  private constructor(part: StandInPart, settings: PlayInSettings, played: typeof import("./stand-in.ts").played) {
    this.#part = part;
    this.#settings = settings;
    this.#played = played;
  }

  /** Fetches the part that is asked for. */
  static async of(settings: PlayInSettings): Promise<PlayerFeed> {
    const { StandInPart, played } = await import("./stand-in.ts");
    return new PlayerFeed(new StandInPart(settings.part, settings.plays), settings, played);
  }

  /** The strokes whose time has come. */
  dueAt(session: Session, elapsedMs: number): readonly DueStroke[] {
    const { loop, startTick, maps } = session;
    const { ppq } = maps.meterMap;
    const stretchTicks = loop ? loop.endTick - loop.startTick : STRETCH_QUARTERS * ppq;
    const endMs = elapsedAt({ ...session, loop: null }, startTick + stretchTicks, 0);
    const round = Math.max(0, Math.floor((elapsedMs + AHEAD_MS) / endMs));
    if (round > this.#round) {
      this.#round = round;
      this.#waiting = [...this.#waiting, ...this.#strokesOf(session, round, stretchTicks)];
    }
    const due = this.#waiting.filter((stroke) => stroke.elapsedMs <= elapsedMs);
    if (due.length > 0) this.#waiting = this.#waiting.filter((stroke) => stroke.elapsedMs > elapsedMs);
    return due;
  }

  #strokesOf(session: Session, round: number, stretchTicks: number): readonly DueStroke[] {
    const { loop, startTick, maps } = session;
    const { ppq } = maps.meterMap;
    // In a loop the same bars come round; without one the part goes on.
    const begins = loop ? 0 : round * (stretchTicks / ppq);
    const strokes = this.#part.strokesOf(loop ? round : 0, begins, stretchTicks / ppq).map(({ quarters, strike }) => ({
      ms: elapsedAt(session, startTick + quarters * ppq + (loop ? 0 : round * stretchTicks), loop ? round : 0),
      strike,
    }));
    return this.#played(strokes, this.#settings.tightness, round).map(({ ms, strike }) => ({ elapsedMs: ms, strike }));
  }
}
