import {
  Engine,
  type EventSource,
  matchingGain,
  SAMPLE_RATE,
  SoundBank,
  type SoundEvent,
  type SoundId,
  soundLike,
  Transport,
} from "../audio/index.ts";
import { findVoice, isUnnamedVoice, type NoteMap } from "../core/notemap/index.ts";
import type { Side } from "../core/song/index.ts";
import { barAt, msToTick, tickToMs } from "../core/time/index.ts";
import { type Helper, startKit } from "../workers/index.ts";
import type { Kit } from "../workers/kit.worker.ts";
import { isAudible } from "./bench-selectors.ts";
import type { BenchState, BenchStore } from "./bench-store.ts";
import { type LaneView, shownSide, sideOf } from "./lane-view.ts";

/** How far ahead of the clock events are handed over; a hidden page is woken only once a second. */
const AHEAD_S = 0.15;
const AHEAD_HIDDEN_S = 1.6;
const PLAN_EVERY_MS = 25;
const START_DELAY_S = 0.06;

/** Plays the store's pattern: from its state to events, and from the engine's clock back to a playhead. */
export class Playback {
  readonly #store: BenchStore;
  readonly #bank = new SoundBank();
  #engine: Engine | null = null;
  #kit: Helper<Kit> | null = null;
  #transport: Transport | null = null;
  #timer: ReturnType<typeof setInterval> | undefined;

  constructor(store: BenchStore) {
    this.#store = store;
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
    await this.#bank.prepare(sounds, (sound, sampleRate) => {
      this.#kit ??= startKit();
      const like = likeInKit(this.#store.getState().pattern.noteMap, sound);
      return this.#kit.run((kit) => kit.render(like, sampleRate));
    });
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
    const startTick = isOutside ? loop.startTick : playheadTick >= state.pattern.lengthTicks - 1 ? 0 : playheadTick;
    const startMs = tickToMs(state.maps.tempoMap, startTick);
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
    this.#store.setState({ playheadTick: Math.max(0, Math.min(this.#store.getState().pattern.lengthTicks - 1, tick)) });
    if (wasPlaying) void this.play();
  }

  /** Where it plays now, or null when it does not. */
  placeTick(): number | null {
    if (!this.#transport || !this.#engine) return null;
    const latencyS = this.#engine.context.outputLatency || 0;
    const placeMs = this.#transport.placeAt(this.#engine.context.currentTime - latencyS);
    return msToTick(this.#store.getState().maps.tempoMap, placeMs);
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
    this.#kit?.end();
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
    const get = () => this.#store.getState();
    return {
      eventsBetween: (startMs, endMs) =>
        [hitEvents, toneEvents, clickEvents].flatMap((eventsOf) => eventsOf(get(), startMs, endMs)),
      loop: () => {
        const { loop, maps } = get();
        if (!loop) return null;
        return { startMs: tickToMs(maps.tempoMap, loop.startTick), endMs: tickToMs(maps.tempoMap, loop.endTick) };
      },
      endMs: () => tickToMs(get().maps.tempoMap, get().pattern.lengthTicks),
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

function hitEvents(state: BenchState, startMs: number, endMs: number): SoundEvent[] {
  const events: SoundEvent[] = [];
  const gain = levelOf(state);
  for (const lane of state.lanes) {
    if (!isAudible(state, lane.voiceId)) continue;
    const side = shownSide(state, lane);
    const { velocities, timesMs } = sideOf(lane, side);
    // A plain scan: 50,000 comparisons take well under a millisecond, and recorded times may be out of order.
    for (let row = 0; row < timesMs.length; row++) {
      if (timesMs[row]! < startMs || timesMs[row]! >= endMs) continue;
      const { id, voiceId, articulationId, isMuted } = lane.hits[row]!;
      // What the repair leaves out is still heard on the side that is as recorded.
      if (isMuted || (side !== "recorded" && lane.cleaned.isLeftOut[row] === 1)) continue;
      const event = { key: id, ms: timesMs[row]!, voiceId, articulationId, velocity: velocities[row]!, gain };
      const ringTicks = lane.ringTicks[row]!;
      if (ringTicks === Number.POSITIVE_INFINITY) events.push(event);
      else events.push({ ...event, stopAfterMs: lengthMs(state, lane.recorded.ticks[row]!, ringTicks) });
    }
  }
  return events;
}

/** Sides are compared equally loud, or the louder one would always seem the better: what goes out is heard as it is. */
function levelOf({ lanes, side }: BenchState): number {
  return side === "cleaned" ? 1 : levelBetween(lanes, side);
}

const levels = new WeakMap<readonly LaneView[], Map<Side, number>>();

function levelBetween(lanes: readonly LaneView[], side: Side): number {
  const known = levels.get(lanes) ?? new Map<Side, number>();
  levels.set(lanes, known);
  const all = (one: Side) => lanes.map((lane) => sideOf(lane, one).velocities);
  const level = known.get(side) ?? matchingGain(all(side), all("cleaned"));
  known.set(side, level);
  return level;
}

function lengthMs({ maps }: BenchState, startTick: number, lengthTicks: number): number {
  return tickToMs(maps.tempoMap, startTick + lengthTicks) - tickToMs(maps.tempoMap, startTick);
}

/** Tracks that are not drums, where they are to be heard. They are never moved. */
function toneEvents(state: BenchState, startMs: number, endMs: number): SoundEvent[] {
  const events: SoundEvent[] = [];
  for (const [streamIndex, tones] of state.heardTones) {
    for (const [index, { startTick, lengthTicks, note, velocity }] of tones.entries()) {
      const ms = tickToMs(state.maps.tempoMap, startTick);
      if (ms < startMs || ms >= endMs) continue;
      const stopAfterMs = lengthMs(state, startTick, lengthTicks);
      const key = `tone ${streamIndex} ${index}`;
      events.push({ key, ms, voiceId: "tone", articulationId: "tone", velocity, toneNote: note, stopAfterMs });
    }
  }
  return events;
}

const SHORTEST_CLICK_MS = 40;
const CLICK_VELOCITY = { bar: 100, beat: 72, offBeat: 44 } as const;

/** The click follows the pulses of the meter, with off-beats half-way, or on the last third of a compound pulse. */
function clickEvents({ click, maps, pattern }: BenchState, startMs: number, endMs: number): SoundEvent[] {
  if (!click.isOn) return [];
  const events: SoundEvent[] = [];
  const add = (kind: keyof typeof CLICK_VELOCITY, tick: number) => {
    const ms = tickToMs(maps.tempoMap, tick);
    if (ms < startMs - 1e-6 || ms >= endMs - 1e-6) return;
    events.push({ key: `click ${tick}`, ms, voiceId: "click", articulationId: kind, velocity: CLICK_VELOCITY[kind] });
  };
  const endTick = Math.min(pattern.lengthTicks, msToTick(maps.tempoMap, endMs));
  let bar = barAt(maps.meterMap, Math.max(0, msToTick(maps.tempoMap, startMs)));
  while (bar.startTick < endTick) {
    const barMs = tickToMs(maps.tempoMap, bar.endTick) - tickToMs(maps.tempoMap, bar.startTick);
    // A tempo that nobody can count would ask for thousands of clicks at once.
    if (barMs / bar.pulseTicks.length < SHORTEST_CLICK_MS) return events;
    const isCompound = bar.meter.denominator >= 8 && bar.meter.numerator % 3 === 0 && bar.meter.numerator > 3;
    for (const [index, pulse] of bar.pulseTicks.entries()) {
      const pulseTick = bar.startTick + pulse;
      if (pulseTick >= bar.endTick) break;
      add(index === 0 ? "bar" : "beat", pulseTick);
      const nextTick = Math.min(bar.endTick, bar.startTick + (bar.pulseTicks[index + 1] ?? Number.POSITIVE_INFINITY));
      if (click.hasOffBeats) add("offBeat", pulseTick + (nextTick - pulseTick) * (isCompound ? 2 / 3 : 1 / 2));
    }
    bar = barAt(maps.meterMap, bar.endTick);
  }
  return events;
}
