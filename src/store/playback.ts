import {
  Engine,
  type EventSource,
  SAMPLE_RATE,
  SoundBank,
  type SoundId,
  soundLike,
  Transport,
} from "../audio/index.ts";
import { findVoice, isUnnamedVoice, type NoteMap } from "../core/document/index.ts";
import { msToTick, tickToMs } from "../core/time/index.ts";
import type { BenchStore } from "./bench-store.ts";
import { kitSound } from "./kit-sounds.ts";
import { clickEvents, type Score } from "./score.ts";
import { takeScore } from "./take-score.ts";

/** How far ahead of the clock events are handed over; a hidden page is woken only once a second. */
const AHEAD_S = 0.15;
const AHEAD_HIDDEN_S = 1.6;
const PLAN_EVERY_MS = 25;
const START_DELAY_S = 0.06;

/** Plays a score: from its events to sound, and from the engine's clock back to a playhead. */
export class Playback {
  readonly #store: BenchStore;
  #score: () => Score;
  readonly #bank = new SoundBank();
  #engine: Engine | null = null;
  #transport: Transport | null = null;
  #timer: ReturnType<typeof setInterval> | undefined;

  constructor(store: BenchStore) {
    this.#store = store;
    this.#score = () => takeScore(store.getState());
  }

  /** Plays something else than the take. @param score asked for anew whenever it matters */
  playInstead(score: () => Score): void {
    this.stop();
    this.#score = score;
    this.#store.setState({ loop: null, playheadTick: 0 });
  }

  /** Starts the audio clock; browsers allow it only after a key or a click. */
  async #wake(): Promise<Engine> {
    this.#engine ??= new Engine(new AudioContext({ latencyHint: "interactive", sampleRate: SAMPLE_RATE }), this.#bank);
    if (this.#engine.context.state !== "running") await this.#engine.context.resume();
    return this.#engine;
  }

  /** Makes the sounds of the pattern, quick ones first: cymbals ring long and take longest to make. */
  async prepareSounds(): Promise<void> {
    const sounds = new Set<SoundId>();
    const { lanes } = this.#store.getState();
    for (const lane of lanes.toReversed()) {
      for (const hit of lane.hits) sounds.add(`${hit.voiceId}/${hit.articulationId}`);
    }
    await this.#makeSounds(sounds);
  }

  async #makeSounds(sounds: Iterable<SoundId>): Promise<void> {
    const { noteMap } = this.#store.getState().pattern;
    await this.#bank.prepare(sounds, (sound) => kitSound(likeInKit(noteMap, sound)));
  }

  async toggle(): Promise<void> {
    if (this.#store.getState().isPlaying) this.stop();
    else await this.play();
  }

  async play(): Promise<void> {
    this.#store.setState({ isPlaying: true });
    void this.prepareSounds();
    const engine = await this.#wake();
    const state = this.#store.getState();
    if (!state.isPlaying || this.#transport) return; // stopped again before the clock ran
    const { loop, playheadTick } = state;
    const isOutside = loop && (playheadTick < loop.startTick || playheadTick >= loop.endTick);
    const { lengthTicks, maps } = this.#score();
    const startTick = isOutside ? loop.startTick : playheadTick >= lengthTicks - 1 ? 0 : playheadTick;
    const startMs = tickToMs(maps.tempoMap, startTick);
    this.#transport = new Transport(this.#source(), engine.context.currentTime + START_DELAY_S, startMs);
    this.#plan();
    this.#timer = setInterval(() => this.#plan(), PLAN_EVERY_MS);
  }

  stop(): void {
    const placeTick = this.placeTick();
    clearInterval(this.#timer);
    this.#transport = null;
    this.#engine?.silence();
    this.#store.setState({ isPlaying: false, ...(placeTick === null ? {} : { playheadTick: placeTick }) });
  }

  /** Goes to a place; when it plays, it goes on from there. */
  seek(tick: number): void {
    const wasPlaying = this.#transport !== null;
    if (wasPlaying) this.stop();
    this.#store.setState({ playheadTick: Math.max(0, Math.min(this.#score().lengthTicks - 1, tick)) });
    if (wasPlaying) void this.play();
  }

  /** Where it plays now, or null when it does not. */
  placeTick(): number | null {
    if (!this.#transport || !this.#engine) return null;
    const latencyS = this.#engine.context.outputLatency || 0;
    const placeMs = this.#transport.placeAt(this.#engine.context.currentTime - latencyS);
    return msToTick(this.#score().maps.tempoMap, placeMs);
  }

  /** Sounds one stroke now, as when a hit is picked. */
  async audition(voiceId: string, articulationId: string, velocity: number): Promise<void> {
    const engine = await this.#wake();
    // A drum that the take does not play, as in a map, is made when it is first heard.
    await this.#makeSounds([`${voiceId}/${articulationId}`]);
    engine.play({ key: "audition", ms: 0, voiceId, articulationId, velocity }, engine.context.currentTime + 0.005);
  }

  close(): void {
    this.stop();
    void this.#engine?.context.close();
  }

  #plan(): void {
    if (!this.#transport || !this.#engine) return;
    const nowS = this.#engine.context.currentTime;
    const aheadS = document.hidden ? AHEAD_HIDDEN_S : AHEAD_S;
    for (const { event, timeS } of this.#transport.plan(nowS, nowS + aheadS)) {
      this.#engine.play(event, Math.max(nowS, timeS));
    }
    const { endTimeS } = this.#transport;
    if (endTimeS !== null && nowS > endTimeS + 0.5) {
      this.stop();
      this.#store.setState({ playheadTick: 0 });
    }
  }

  #source(): EventSource {
    return {
      eventsBetween: (startMs, endMs) => [
        ...this.#score().eventsBetween(startMs, endMs),
        ...clickEvents(this.#store.getState().click, this.#score(), startMs, endMs),
      ],
      loop: () => {
        const { loop } = this.#store.getState();
        const { tempoMap } = this.#score().maps;
        return loop && { startMs: tickToMs(tempoMap, loop.startTick), endMs: tickToMs(tempoMap, loop.endTick) };
      },
      endMs: () => tickToMs(this.#score().maps.tempoMap, this.#score().lengthTicks),
    };
  }
}

/** A stroke that the kit does not have sounds like the nearest one that it has; a note without a name like none. */
function likeInKit(map: NoteMap, sound: SoundId): SoundId {
  const [voiceId = "", articulationId = ""] = sound.split("/");
  if (isUnnamedVoice(voiceId)) return sound;
  const voice = findVoice(map, voiceId);
  const mark = voice.articulations.find(({ id }) => id === articulationId)?.mark ?? "none";
  return soundLike(sound, voice.family, mark);
}
