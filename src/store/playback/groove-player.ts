import type { Pattern } from "../../core/document/index.ts";
import { findVoice, type Groove } from "../../core/document/index.ts";
import { neutralPart, withFeel } from "../../core/groove/index.ts";
import { barByIndex } from "../../core/time/index.ts";
import { openProject } from "../server-api.ts";
import { Playback } from "./playback.ts";
import { createPlayedStore } from "./playing.ts";

/** What a groove is heard on: a plain part on the grid, or the take that is open. */
export type GrooveStage = "plain" | "take";

const BARS_OF_TAKE = 4;

/** Plays a groove over and over, and goes on with another while it plays. Nothing of it is saved. */
export class GroovePlayer {
  readonly #projectId: string | undefined;
  readonly #store;
  readonly #playback: Playback;
  readonly #stopListening: () => void;
  #take: Pattern | null = null;

  constructor(projectId: string | undefined, groove: Groove, bpm: number, onPlaying: (isPlaying: boolean) => void) {
    this.#projectId = projectId;
    this.#store = createPlayedStore(neutralPart(groove, bpm));
    this.#store.setClick({ isOn: false });
    this.#playback = new Playback(this.#store);
    this.#stopListening = this.#store.subscribe(({ isPlaying }, before) => {
      if (isPlaying !== before.isPlaying) onPlaying(isPlaying);
    });
  }

  /** Lays the groove on what it is heard on. While it plays, it goes over into it. */
  async lay(groove: Groove, bpm: number, stage: GrooveStage): Promise<void> {
    const pattern = stage === "plain" ? neutralPart(groove, bpm) : onTake(await this.#openTake(), groove);
    this.#store.exchange(pattern);
    const { meterMap } = this.#store.getState().maps;
    const endTick = Math.min(pattern.lengthTicks, barByIndex(meterMap, BARS_OF_TAKE).startTick);
    this.#store.setLoop({ startTick: 0, endTick: stage === "plain" ? pattern.lengthTicks : endTick });
    // The take has drums that the plain part has not, and it may be playing already.
    if (this.#store.getState().isPlaying) void this.#playback.prepareSounds();
  }

  async toggle(): Promise<void> {
    await this.#playback.toggle();
  }

  end(): void {
    this.#stopListening();
    this.#playback.close();
  }

  async #openTake(): Promise<Pattern> {
    if (!this.#projectId) throw new Error("No take is open.");
    this.#take ??= (await openProject(this.#projectId)).pattern;
    return this.#take;
  }
}

function onTake(take: Pattern, groove: Groove): Pattern {
  const { arrangement: _, ...pattern } = take;
  const lanes = pattern.lanes.map((lane) => ({
    ...lane,
    treatment: withFeel(lane.treatment, groove, findVoice(pattern.noteMap, lane.voiceId).family),
  }));
  return { ...pattern, lanes };
}
