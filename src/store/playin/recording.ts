import { canWrite } from "../../core/commands/index.ts";
import { baseTick, findVoice, type Hit, meaningOf, recordLabel } from "../../core/document/index.ts";
import { CHOKE_PRESSURE } from "../../core/file/index.ts";
import {
  type ClockPair,
  chokedAfter,
  countInMs,
  fitClock,
  type LiveStrike,
  MOST_PAIRS,
  nextPass,
  passesOf,
  Recorder,
  replaceBy,
  roomFor,
  type TickLoop,
} from "../../core/record/index.ts";
import { barAt, gridStepTicks, nextBarLine, tickToMs } from "../../core/time/index.ts";
import type { BenchStore } from "../bench/bench-store.ts";
import type { Playback } from "../playback/playback.ts";
import { countInEvents } from "../playback/score.ts";
import { HeldPads } from "./held-pads.ts";
import { InputMeasure } from "./measure-input.ts";
import { createPlayInStore, light, PLAYER_NAME } from "./play-in-state.ts";
import { editOfPlayed } from "./played-edit.ts";
import { PlayerFeed } from "./player-feed.ts";
import { barsBefore, type Session, tickAt } from "./session.ts";

const WORK_EVERY_MS = 25;
/** What is played is saved this often: a crash loses no more than that. */
const SAVE_EVERY_MS = 200;
const READ_CLOCKS_EVERY_MS = 100;
/** Repeats are made so far ahead of being heard. */
const AHEAD_MS = 60;
/** A take that grows has so many bars before the playhead. */
const BARS_AHEAD = 2;
const LOOP_BARS = 2;

/**
 * Records what is played in. Strokes come from anywhere with the time of their event; they are heard at once, and saved as hits of the
 * take in the pass of their round.
 */
export class Recording {
  readonly state = createPlayInStore();
  readonly measure: InputMeasure;
  readonly #store: BenchStore;
  readonly #playback: Playback;
  readonly #held = new HeldPads();
  #session: Session | null = null;
  #feed: PlayerFeed | null = null;
  #pairs: ClockPair[] = [];
  #buffer: Hit[] = [];
  /** Strokes that came while the first one was still starting the recording. */
  #early: { readonly strike: LiveStrike; readonly heardMs: number; readonly isHeld: boolean }[] = [];
  #worker: ReturnType<typeof setInterval> | undefined;
  #lastReadMs = 0;
  #lastSaveMs = 0;
  #replacedTick = 0;
  /** The hit of the last stroke of each note, and when it was meant, on the audio clock. */
  readonly #lastOfNote = new Map<number, { readonly hitId: string; readonly meantMs: number }>();
  #stopListening: () => void = () => {};

  constructor(store: BenchStore, playback: Playback) {
    this.#store = store;
    this.#playback = playback;
    this.measure = new InputMeasure(playback, this.state);
  }

  get isOn(): boolean {
    return this.state.getState().phase !== "idle";
  }

  /** Starts or stops. @returns what came of it, in words */
  async toggle(): Promise<string | null> {
    return this.isOn ? this.stop() : await this.start();
  }

  /** Begins: with the count-in, or with the first stroke. @returns why it cannot, in words */
  async start(): Promise<string | null> {
    const take = this.#store.take();
    if (this.isOn) return null;
    if (!canWrite(take)) return "This take has no drum track to record on. Say under Tracks which one is drums.";
    if (roomFor(take) === 0) return "This take holds as many hits as a take can. Nothing more can be recorded into it.";
    if (this.#store.getState().isPlaying) this.#playback.stop();
    const { settings } = this.state.getState();
    this.state.setState({ phase: "waiting", pass: null, strokeCount: 0, trouble: null, measuring: null });
    await this.#playback.prepareClock();
    this.#readClocks();
    this.#feed = settings.from === "player" ? await PlayerFeed.of(settings) : null;
    const waits = settings.waitsForStroke && settings.from === "hand";
    if (!waits && this.isOn) await this.#begin(null);
    return null;
  }

  /** @param firstStrokeMs on the audio clock, where it begins with a stroke */
  async #begin(firstStrokeMs: number | null): Promise<void> {
    const { settings } = this.state.getState();
    const { maps, playheadTick } = this.#store.getState();
    const take = this.#store.take();
    const loop = settings.over === "loop" ? this.#loopToPlay() : null;
    this.#store.setLoop(loop);
    const startTick = loop ? loop.startTick : barAt(maps.meterMap, playheadTick).startTick;
    const isCounted = firstStrokeMs === null;
    const bars = isCounted ? settings.countInBars : 0;
    const fromTick = isCounted ? barsBefore(maps, startTick, settings.preRollBars) : startTick;
    const lead = { events: countInEvents(maps, fromTick, bars), lengthMs: countInMs(bars, maps, fromTick) };
    this.state.setState({ phase: bars > 0 || fromTick < startTick ? "countIn" : "recording" });
    const playsMs = await this.#playback.playFrom(fromTick, {
      lead,
      startedS: isCounted ? undefined : firstStrokeMs / 1000,
      isEndless: loop === null,
    });
    if (playsMs === null) {
      this.state.setState({ phase: "idle" });
      return;
    }
    const startMs = playsMs + tickToMs(maps.tempoMap, startTick) - tickToMs(maps.tempoMap, fromTick);
    const earlyTicks = gridStepTicks(settings.grid, take.ppq) / 2;
    const firstPass = nextPass(take);
    const recorder = new Recorder({ startTick, loop, earlyTicks }, maps.tempoMap, firstPass, this.#store.newId);
    const { lengthTicks } = take;
    this.#session = { recorder, startTick, loop, maps, startMs, firstPass, lengthTicks };
    this.#replacedTick = startTick;
    this.#held.clear();
    for (const { strike, heardMs, isHeld } of this.#early.splice(0)) this.#takeDown(strike, heardMs, isHeld);
    this.#worker = setInterval(() => this.#work(), WORK_EVERY_MS);
    this.#stopListening = this.#store.subscribe(({ isPlaying }) => {
      if (!isPlaying && this.#session) this.stop();
    });
  }

  /** The loop that is set, or two bars from the playhead. */
  #loopToPlay(): TickLoop {
    const { loop, playheadTick, maps, pattern } = this.#store.getState();
    if (loop) return loop;
    const first = barAt(maps.meterMap, Math.min(playheadTick, Math.max(0, pattern.lengthTicks - 1)));
    let { endTick } = first;
    for (let bar = 1; bar < LOOP_BARS; bar++) endTick = barAt(maps.meterMap, endTick).endTick;
    return { startTick: first.startTick, endTick: Math.min(endTick, Math.max(first.endTick, pattern.lengthTicks)) };
  }

  /** Ends. What was played is saved. @returns what came of it, in words */
  stop(): string | null {
    const session = this.#session;
    const wasOn = this.isOn;
    clearInterval(this.#worker);
    this.#stopListening();
    this.#save();
    this.#session = null;
    this.#feed = null;
    this.#early = [];
    this.#held.clear();
    this.state.setState({ phase: "idle", pass: null });
    if (this.#store.getState().isPlaying) this.#playback.stop();
    if (!wasOn) return null;
    if (session) this.#trim(session);
    const passes = session ? passesOf(this.#store.take()).filter(({ pass }) => pass >= session.firstPass) : [];
    const count = passes.reduce((sum, { hits }) => sum + hits.length, 0);
    if (count === 0) return "Nothing was recorded.";
    const hits = count === 1 ? "one hit" : `${count} hits`;
    return `Recorded ${hits} in ${passes.length === 1 ? "one pass" : `${passes.length} passes`}.`;
  }

  close(): void {
    if (this.isOn) this.stop();
    this.measure.cancel();
  }

  /**
   * A stroke, from wherever it comes: it is heard at once.
   * @param eventMs when it was struck, on the page's clock
   * @param input the name of what it came from
   */
  strike(strike: LiveStrike, eventMs: number, input: string): void {
    this.#readClocks();
    if (strike.note === this.state.getState().settings.startNote && !this.measure.isOn) {
      this.state.setState({ lastInput: input, lastNote: strike.note });
      void this.toggle();
      return;
    }
    this.#sound(strike, 0);
    light(this.state, strike.note);
    this.state.setState({ lastInput: input, lastNote: strike.note });
    const heardMs = this.#heardAt(eventMs);
    if (heardMs === null) return;
    if (this.measure.isOn) {
      this.measure.strike(heardMs, input);
      return;
    }
    const meantMs = heardMs - this.#lateOf(input);
    if (!this.#session && this.isOn) {
      this.#early.push({ strike, heardMs: meantMs, isHeld: true });
      // The first of them begins it.
      if (this.#early.length === 1 && this.state.getState().phase === "waiting") void this.#begin(meantMs);
      return;
    }
    this.#takeDown(strike, meantMs, true);
  }

  #takeDown(strike: LiveStrike, meantMs: number, isHeld: boolean): void {
    this.#record(strike, meantMs);
    if (!this.#session || !isHeld) return;
    this.#held.press(strike, this.#session, meantMs - this.#session.startMs, this.#isLatched);
  }

  /** Whether a pad repeats until it is struck again. */
  get #isLatched(): boolean {
    const { isLatched, repeats } = this.state.getState().settings;
    return isLatched && repeats;
  }

  /** A pad is let go: it repeats no more, unless it is latched. */
  release(note: number): void {
    if (this.#isLatched) return;
    this.#held.release(note);
    this.#early = this.#early.map((one) => (one.strike.note === note ? { ...one, isHeld: false } : one));
  }

  /** A pad is pressed harder; a cymbal that is gripped rings no more. */
  pressure(note: number, value: number, eventMs: number): void {
    this.#held.pressHarder(note, value);
    const { pattern } = this.#store.getState();
    const { voiceId, articulationId } = meaningOf(pattern.noteMap, { note, channel: 9, pedal: null });
    const { repeats, repeatLoudness } = this.state.getState().settings;
    const saysLoudness = repeats && repeatLoudness === "pressure";
    const isCymbal = findVoice(pattern.noteMap, voiceId).family === "cymbals";
    if (value < CHOKE_PRESSURE || !isCymbal || saysLoudness) return;
    this.#playback.damp(voiceId, articulationId);
    const struck = this.#lastOfNote.get(note);
    const heardMs = this.#heardAt(eventMs);
    if (!struck || !this.#session || heardMs === null) return;
    this.#lastOfNote.delete(note);
    const afterMs = heardMs - this.#lateOf(this.state.getState().lastInput ?? "") - struck.meantMs;
    const choke = (hit: Hit) => chokedAfter(hit, afterMs, this.#session!.maps.tempoMap);
    const waiting = this.#buffer.findIndex(({ id }) => id === struck.hitId);
    if (waiting >= 0) {
      this.#buffer[waiting] = choke(this.#buffer[waiting]!);
      return;
    }
    const saved = this.#store.take().hits.find(({ id }) => id === struck.hitId);
    if (!saved) return;
    this.#store.commit(recordLabel(saved.pass ?? 1), {
      kind: "together",
      edits: [
        { kind: "removeHits", hits: [saved] },
        { kind: "addHits", hits: [choke(saved)] },
      ],
    });
  }

  #record(strike: LiveStrike, heardMs: number): void {
    const session = this.#session;
    if (!session) return;
    const take = this.#store.take();
    if (this.#buffer.length >= roomFor(take)) {
      this.state.setState({
        trouble: "This take holds as many hits as a take can. What is played now is not recorded.",
      });
      return;
    }
    const hit = session.recorder.hitOf(take, strike, heardMs - session.startMs);
    if (!hit) return;
    this.#buffer.push(hit);
    this.#lastOfNote.set(strike.note, { hitId: hit.id, meantMs: heardMs });
    this.state.setState({ strokeCount: this.state.getState().strokeCount + 1, pass: hit.pass ?? null });
    if (!session.recorder.isFlooded) return;
    this.state.setState({
      trouble: `Note ${strike.note} comes far more often than anybody plays: a pad may be stuck. All of it is recorded; undo takes the pass away.`,
    });
  }

  /** When a stroke was struck against what is heard, on the audio clock; null before the clock runs. */
  #heardAt(eventMs: number): number | null {
    return this.#pairs.length === 0 ? null : fitClock(this.#pairs)(eventMs);
  }

  #lateOf(input: string): number {
    return this.state.getState().settings.lateMs[input] ?? 0;
  }

  #readClocks(): void {
    const nowMs = performance.now();
    if (this.#pairs.length > 0 && nowMs - this.#lastReadMs < READ_CLOCKS_EVERY_MS) return;
    const pair = this.#playback.readClocks();
    if (!pair) return;
    this.#lastReadMs = nowMs;
    this.#pairs = [...this.#pairs.slice(1 - MOST_PAIRS), pair];
  }

  /** What goes on while it records. */
  #work(): void {
    const session = this.#session;
    if (!session) return;
    this.#readClocks();
    const nowMs = performance.now();
    const elapsedMs = (this.#heardAt(nowMs) ?? session.startMs) - session.startMs;
    if (elapsedMs >= 0 && this.state.getState().phase === "countIn") this.state.setState({ phase: "recording" });
    const { settings } = this.state.getState();
    for (const { strike, elapsedMs: atMs } of this.#held.strikesUntil(session, elapsedMs + AHEAD_MS, settings)) {
      this.#sound(strike, session.startMs + atMs);
      this.#record(strike, session.startMs + atMs);
    }
    this.#playPart(session, elapsedMs, nowMs);
    this.#grow(session, elapsedMs);
    if (nowMs - this.#lastSaveMs < SAVE_EVERY_MS) return;
    this.#lastSaveMs = nowMs;
    this.#save();
    this.#replaceHeld(session, elapsedMs);
  }

  /** The stand-in player's strokes come as a device's do: stamped when they were struck, and handled a little later. */
  #playPart(session: Session, elapsedMs: number, nowMs: number): void {
    const due = this.#feed?.dueAt(session, elapsedMs) ?? [];
    if (due.length === 0) return;
    const fit = fitClock(this.#pairs);
    const rate = (fit(nowMs) - fit(nowMs - 1000)) / 1000;
    const lateMs = this.#lateOf(PLAYER_NAME);
    for (const { elapsedMs: atMs, strike } of due) {
      this.strike(strike, nowMs + (session.startMs + atMs + lateMs - fit(nowMs)) / rate, PLAYER_NAME);
      this.release(strike.note);
    }
  }

  /** Puts what was played into the take. */
  #save(): void {
    const session = this.#session;
    const hits = this.#buffer.splice(0);
    if (!session || hits.length === 0) return;
    for (const pass of new Set(hits.map((hit) => hit.pass!))) {
      const own = hits.filter((hit) => hit.pass === pass);
      // It was heard as it was struck; from the next round on it is heard as it is treated.
      this.#playback.passOver(own.map(({ id }) => id));
      this.#store.commit(
        recordLabel(pass),
        editOfPlayed(this.#store.getState().pattern, session, this.state.getState().settings, pass, own),
      );
    }
  }

  /** While a pad is held, what its drum had at the playhead gives way. */
  #replaceHeld(session: Session, elapsedMs: number): void {
    const { settings, pass } = this.state.getState();
    const [from, to] = [this.#replacedTick, tickAt(session, elapsedMs)];
    this.#replacedTick = to;
    const held = this.#held.strikes;
    if (settings.mode !== "replaceHeld" || held.length === 0 || pass === null) return;
    const { noteMap } = this.#store.getState().pattern;
    const voiceIds = held.map((strike) => meaningOf(noteMap, strike).voiceId);
    const { startTick, endTick } = session.loop ?? { startTick: from, endTick: to };
    const stretches =
      to >= from
        ? [[from, to]]
        : [
            [from, endTick],
            [startTick, to],
          ];
    for (const [start = 0, end = 0] of stretches) {
      const stretch = { startTick: start, endTick: end };
      this.#store.commit(recordLabel(pass), replaceBy(this.#store.getState().pattern, stretch, voiceIds, pass));
    }
  }

  /** A take that is recorded on and on has bars before the playhead. */
  #grow(session: Session, elapsedMs: number): void {
    if (session.loop) return;
    const { meterMap } = session.maps;
    const bar = barAt(meterMap, tickAt(session, elapsedMs));
    const wanted = nextBarLine(meterMap, bar.endTick + BARS_AHEAD * (bar.endTick - bar.startTick));
    this.#setLength(session, Math.max(wanted, this.#store.getState().pattern.lengthTicks));
  }

  /** Takes back the bars that it grew by and nothing was played in. */
  #trim(session: Session): void {
    if (session.loop) return;
    const last = this.#store.take().hits.reduce((most, hit) => Math.max(most, baseTick(hit)), 0);
    const needed = Math.max(session.lengthTicks, nextBarLine(session.maps.meterMap, last + 1));
    this.#setLength(session, Math.min(needed, this.#store.getState().pattern.lengthTicks));
  }

  /** As a part of the pass that is played, which takes it back with itself. */
  #setLength({ firstPass }: Session, to: number): void {
    const { pattern } = this.#store.getState();
    if (to === pattern.lengthTicks) return;
    const pass = Math.max(firstPass, nextPass(pattern) - 1);
    this.#store.commit(recordLabel(pass), { kind: "setLength", from: pattern.lengthTicks, to });
  }

  #sound(strike: LiveStrike, audioMs: number): void {
    const { voiceId, articulationId } = meaningOf(this.#store.getState().pattern.noteMap, strike);
    this.#playback.strike(voiceId, articulationId, strike.velocity, audioMs);
  }
}
