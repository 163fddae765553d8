import {
  Engine,
  type EventSource,
  gainOfDb,
  MidiClock,
  MidiOut,
  type MidiPort,
  type Mix,
  SAMPLE_RATE,
  SoundBank,
  type SoundEvent,
  type SoundId,
  SteadyOffset,
  soundAt,
  soundLike,
  Transport,
} from "../../audio/index.ts";
import { findVoice, isUnnamedVoice, type Levels, type NoteMap } from "../../core/document/index.ts";
import type { ClockPair } from "../../core/record/index.ts";
import { bpmAt, msToTick, tickToMs } from "../../core/time/index.ts";
import { noteOfEvent, SoundOut } from "../playin/sound-out.ts";
import { kitSound } from "./kit-sounds.ts";
import type { PlayedStore } from "./playing.ts";
import { clickEvents, type Score } from "./score.ts";
import { takeScore } from "./take-score.ts";

/** How far ahead of the clock events are handed over; a hidden page is woken only once a second. */
const AHEAD_S = 0.15;
const AHEAD_HIDDEN_S = 1.6;
const PLAN_EVERY_MS = 25;
const START_DELAY_S = 0.045;
const CLOCK_TELLS_AFTER_S = 0.5;

/** What sounds before a place is reached, such as a count-in. */
export interface Lead {
  readonly events: readonly SoundEvent[];
  readonly lengthMs: number;
}
const NO_LEAD: Lead = { events: [], lengthMs: 0 };

/** How it begins to play, where that is not at once, alone, and up to the end. */
interface Beginning {
  /** What sounds before; its times count from its own beginning. */
  readonly lead?: Lead;
  /** Where it began already on the audio clock, as with the first stroke of a hand. */
  readonly startedS?: number | undefined;
  /** It goes on past the end of what it plays, as while a take grows: a page that was held up may be late to make it longer. */
  readonly isEndless?: boolean;
}

/** Plays a score: from its events to sound, and from the engine's clock back to a playhead. */
export class Playback {
  readonly #store: PlayedStore;
  #score: () => Score;
  readonly #bank = new SoundBank();
  #engine: Engine | null = null;
  #transport: Transport | null = null;
  #timer: ReturnType<typeof setInterval> | undefined;
  /** Where it sounds beside the stand-in kit, or in its place. */
  readonly out = new SoundOut(() => this.stop());
  #midi: MidiOut | null = null;
  #clock: MidiClock | null = null;
  #port: MidiPort | null = null;
  #steady: SteadyOffset | null = null;

  constructor(store: PlayedStore) {
    this.#store = store;
    this.#score = () => takeScore(store.getState());
  }

  /** Plays something else than the take. @param score asked for anew whenever it matters */
  playInstead(score: () => Score): void {
    this.stop();
    this.#score = score;
    this.#store.setLoop(null);
    this.#store.setPlayhead(0);
  }

  /** Plays the stand-in kit on other speakers. @returns why it cannot, in words; null if it does */
  async playOnSpeakers(speakersId: string): Promise<string | null> {
    try {
      if (this.#engine) await playOn(this.#engine.context, speakersId);
      this.out.choose({ speakersId });
      return null;
    } catch (error) {
      if (!(error instanceof DOMException)) throw error;
      return "The browser cannot play there. It plays on where it did.";
    }
  }

  /** Starts the audio clock; browsers allow it only after a key or a click. */
  async #wake(): Promise<Engine> {
    if (!this.#engine) {
      const context = new AudioContext({ latencyHint: "interactive", sampleRate: SAMPLE_RATE });
      this.#engine = new Engine(context, this.#bank, (voiceId) =>
        mixOf(this.#store.getState().pattern.levels, voiceId),
      );
      const { speakersId = "" } = this.out.state.getState();
      // What was plugged in then may not be now: it sounds on the usual ones.
      if (speakersId !== "") await playOn(context, speakersId).catch(() => this.out.choose({ speakersId: "" }));
    }
    if (this.#engine.context.state !== "running") await this.#engine.context.resume();
    const { mode, deviceNames } = this.out.state.getState();
    if (mode !== "kit" && deviceNames === null) await this.out.find();
    return this.#engine;
  }

  /** Makes the sounds of the pattern, quick ones first: cymbals ring long and take longest to make. */
  async prepareSounds(): Promise<void> {
    const sounds = new Set<SoundId>();
    const { lanes } = this.#store.getState();
    for (const lane of lanes.toReversed()) {
      for (const { voiceId, articulationId, pedal } of lane.hits) {
        sounds.add(soundAt(`${voiceId}/${articulationId}`, pedal ?? undefined));
      }
    }
    await this.#makeSounds(sounds);
  }

  /** Makes sounds that something else than the take is about to play. */
  async prepareMore(strokes: Iterable<{ readonly voiceId: string; readonly articulationId: string }>): Promise<void> {
    const sounds = new Set<SoundId>();
    for (const { voiceId, articulationId } of strokes) sounds.add(`${voiceId}/${articulationId}`);
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
    const { loop, playheadTick } = this.#store.getState();
    const isOutside = loop && (playheadTick < loop.startTick || playheadTick >= loop.endTick);
    const { lengthTicks } = this.#score();
    await this.playFrom(isOutside ? loop.startTick : playheadTick >= lengthTicks - 1 ? 0 : playheadTick);
  }

  /**
   * Plays from a place.
   * @returns when the place itself sounds, on the audio clock in ms; null if it was stopped before the clock ran
   */
  async playFrom(
    startTick: number,
    { lead = NO_LEAD, startedS, isEndless = false }: Beginning = {},
  ): Promise<number | null> {
    this.#store.setPlaying(true);
    void this.prepareSounds();
    const engine = await this.#wake();
    if (!this.#store.getState().isPlaying || this.#transport) return null;
    const leadS = startedS ?? engine.context.currentTime + START_DELAY_S;
    for (const event of lead.events) this.#sound(event, leadS + event.ms / 1000);
    const startMs = tickToMs(this.#score().maps.tempoMap, startTick);
    const startS = leadS + lead.lengthMs / 1000;
    this.#transport = new Transport(this.#source(isEndless), startS, startMs);
    const { port } = this.out;
    this.#clock =
      port && this.out.state.getState().sendsClock ? new MidiClock(port, startS, this.#pageMs(startS)) : null;
    this.#plan();
    this.#timer = setInterval(() => this.#plan(), PLAN_EVERY_MS);
    return startS * 1000;
  }

  /** Lets the audio clock run, so that it can be read before anything plays. @returns its first reading */
  async prepareClock(): Promise<ClockPair> {
    await this.#wake();
    // It tells nothing for a moment after it began to run.
    let pair = this.readClocks();
    while (!pair) {
      await new Promise((resolve) => setTimeout(resolve, PLAN_EVERY_MS));
      pair = this.readClocks();
    }
    return pair;
  }

  /**
   * What is heard now, by the clock that stamps events and by that of sound; null before the clock runs. With what sound takes to get
   * out: whoever plays along plays to what is heard.
   */
  readClocks(): ClockPair | null {
    const context = this.#engine?.context;
    if (context?.state !== "running") return null;
    const tells = "getOutputTimestamp" in context;
    const { contextTime = 0, performanceTime = 0 } = tells ? context.getOutputTimestamp() : {};
    if (contextTime > 0 && performanceTime > 0) return this.#asHeard(performanceTime, contextTime * 1000);
    // A clock that has just begun to run tells that a little later; some browsers never do.
    if (tells && context.currentTime < CLOCK_TELLS_AFTER_S) return null;
    return { eventMs: performance.now(), audioMs: (context.currentTime - (context.outputLatency || 0)) * 1000 };
  }

  /** Beside the kit a device goes with it, whatever the sound does; by itself it keeps its own time while the take plays. */
  #asHeard(eventMs: number, audioMs: number): ClockPair {
    const { port } = this.out;
    if (!this.#transport || !port || this.out.state.getState().mode === "both") return { eventMs, audioMs };
    this.#steady ??= new SteadyOffset(eventMs - audioMs, eventMs);
    return { eventMs: audioMs + this.#steady.follow(eventMs - audioMs, eventMs), audioMs };
  }

  /** Sounds an event in the kit, on a device, or on both. */
  #sound(event: SoundEvent, timeS: number): void {
    const { port } = this.out;
    if (port !== this.#port) {
      this.#midi?.silence(performance.now());
      this.#port = port;
      this.#midi = port && new MidiOut(port, (one) => noteOfEvent(this.#store.getState().pattern, one));
    }
    // Without its device nothing would be heard at all.
    if (!this.#midi || this.out.state.getState().mode === "both") this.#engine?.play(event, timeS);
    if (this.#midi) this.#midi.play(event, this.#pageMs(timeS));
  }

  /** When a moment of the audio clock is heard, on the page's clock. */
  #pageMs(timeS: number): number {
    const pair = this.readClocks();
    if (pair) return pair.eventMs + timeS * 1000 - pair.audioMs;
    // A clock that has just begun to run does not tell yet what is heard.
    const { currentTime = 0, outputLatency = 0 } = this.#engine?.context ?? {};
    return performance.now() + (timeS - currentTime + outputLatency) * 1000;
  }

  /** How loud it is after everything, in dB under full scale; -Infinity for silence. */
  peakDb(): number {
    return this.#engine?.peakDb() ?? Number.NEGATIVE_INFINITY;
  }

  /** Ends all sound at once, on every channel of the device, too. */
  panic(): void {
    this.stop();
    this.#midi?.panic();
  }

  /** Sounds one stroke at a moment of the audio clock, or at once if that is over. */
  strike(voiceId: string, articulationId: string, velocity: number, audioMs: number): void {
    if (!this.#engine) return;
    void this.#makeSounds([`${voiceId}/${articulationId}`]);
    const event = { key: "strike", ms: 0, voiceId, articulationId, velocity };
    this.#sound(event, Math.max(this.#engine.context.currentTime, audioMs / 1000));
  }

  /** A hand on a cymbal: it rings no more. */
  damp(voiceId: string, articulationId: string): void {
    this.#engine?.damp(voiceId);
    this.#midi?.damp({ key: "damp", ms: 0, voiceId, articulationId, velocity: 1 });
  }

  /** Keeps something that was just heard from sounding once more in this round. */
  passOver(keys: readonly string[]): void {
    this.#transport?.passOver(keys);
  }

  stop(): void {
    const placeTick = this.placeTick();
    clearInterval(this.#timer);
    this.#transport = null;
    this.#steady = null;
    this.#engine?.silence();
    this.#midi?.silence(performance.now());
    // After what was sent ahead was taken back: the stop is not.
    this.#clock?.stop();
    this.#clock = null;
    this.#store.setPlaying(false, placeTick ?? undefined);
  }

  /** Goes to a place; when it plays, it goes on from there. */
  seek(tick: number): void {
    const wasPlaying = this.#transport !== null;
    if (wasPlaying) this.stop();
    this.#store.setPlayhead(Math.max(0, Math.min(this.#score().lengthTicks - 1, tick)));
    if (wasPlaying) void this.play();
  }

  /** Where it plays now, or null when it does not. */
  placeTick(): number | null {
    const placeMs = this.placeMs();
    return placeMs === null ? null : msToTick(this.#score().maps.tempoMap, placeMs);
  }

  /** The same in ms from the beginning of what is played. */
  placeMs(): number | null {
    if (!this.#transport || !this.#engine) return null;
    const latencyS = this.#engine.context.outputLatency || 0;
    return this.#transport.placeAt(this.#engine.context.currentTime - latencyS);
  }

  /** Sounds one stroke now, as when a hit is picked. */
  async audition(voiceId: string, articulationId: string, velocity: number): Promise<void> {
    const engine = await this.#wake();
    // A drum that the take does not play, as in a map, is made when it is first heard.
    await this.#makeSounds([`${voiceId}/${articulationId}`]);
    this.#sound({ key: "audition", ms: 0, voiceId, articulationId, velocity }, engine.context.currentTime + 0.005);
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
      this.#sound(event, Math.max(nowS, timeS));
    }
    const { tempoMap } = this.#score().maps;
    this.#clock?.plan(
      nowS + aheadS,
      (timeS) => 60_000 / bpmAt(tempoMap, msToTick(tempoMap, this.#transport?.placeAt(timeS) ?? 0)),
      (timeS) => this.#pageMs(timeS),
    );
    const { endTimeS } = this.#transport;
    if (endTimeS !== null && nowS > endTimeS + 0.5) {
      this.stop();
      this.#store.setPlayhead(0);
    }
  }

  #source(isEndless: boolean): EventSource {
    return {
      eventsBetween: (startMs, endMs, round) => [
        ...this.#score().eventsBetween(startMs, endMs, round),
        ...clickEvents(this.#store.getState().click, this.#score(), startMs, endMs),
      ],
      loop: () => {
        const { loop } = this.#store.getState();
        const { tempoMap } = this.#score().maps;
        return loop && { startMs: tickToMs(tempoMap, loop.startTick), endMs: tickToMs(tempoMap, loop.endTick) };
      },
      endMs: () =>
        isEndless ? Number.POSITIVE_INFINITY : tickToMs(this.#score().maps.tempoMap, this.#score().lengthTicks),
    };
  }
}

/** Lets sound out of other speakers than the usual ones; empty for those. */
async function playOn(context: AudioContext, speakersId: string): Promise<void> {
  await (context as AudioContext & { setSinkId?(id: string): Promise<void> }).setSinkId?.(speakersId);
}

/** How loud a drum is, and where, as the take's mix has it. */
function mixOf(levels: Levels | undefined, voiceId: string): Mix {
  const level = levels?.[voiceId];
  return { gain: gainOfDb(level?.gainDb ?? 0), pan: (level?.panPercent ?? 0) / 100 };
}

/** A stroke that the kit does not have sounds like the nearest one that it has; a note without a name like none. */
function likeInKit(map: NoteMap, sound: SoundId): SoundId {
  const [voiceId = "", articulationId = ""] = sound.split("/");
  if (isUnnamedVoice(voiceId)) return sound;
  const voice = findVoice(map, voiceId);
  const mark = voice.articulations.find(({ id }) => id === articulationId)?.mark ?? "none";
  return soundLike(sound, voice.family, mark);
}
