import { type Arrangement, NO_ARRANGEMENT, type SongEntry, type SongPattern } from "../document/arrangement.ts";
import type { GrooveLayer } from "../document/groove.ts";
import type { Pattern } from "../document/pattern.ts";
import { isSameValue } from "../document/stale.ts";
import { type GrooveWish, takeGroove } from "../groove/take-groove.ts";
import { type Bar, buildTimeMaps, type TimeMaps } from "../time/index.ts";
import type { CellPlace } from "./change-cells.ts";
import { type FoundSection, seekSections } from "./find-sections.ts";
import { barTicksOf, type LaidPattern, layPattern } from "./lay-pattern.ts";
import { type FeelProfile, profileOf, type Sameness, samenessOf } from "./sameness.ts";
import { type HeardVoice, heardVoices, type SongTime, songTime } from "./song-time.ts";
import { barsOf, type SongVoice, songVoices } from "./song-voices.ts";

/** What the matrix shows of a voice in a pattern. */
export interface SheetCell {
  readonly voiceId: string;
  readonly hitCount: number;
  readonly profile: FeelProfile;
  /** Its hits for a small picture: place in the pattern (0 to 1) and loudness (0 to 1), by turns. */
  readonly picture: Float32Array;
}

/** What the matrix shows of one pattern. */
export interface PatternSheet {
  readonly id: string;
  /** In the order of the lanes. */
  readonly cells: readonly SheetCell[];
}

/** All that a song screen shows and plays. */
export interface LaidSong {
  readonly sheets: readonly PatternSheet[];
  readonly sameness: readonly Sameness[];
}

/** What is played, on its clock. */
export interface PlayableSong {
  readonly time: SongTime;
  readonly parts: readonly HeardVoice[];
}

/**
 * A take and what is laid of it, kept from one change to the next: a pattern that nothing has happened to is not laid again.
 */
export class SongDesk {
  readonly #take: Pattern;
  readonly #maps: TimeMaps;
  readonly #bars: readonly Bar[];
  readonly #voices: readonly SongVoice[];
  #arrangement: Arrangement;
  #laid = new Map<
    string,
    { readonly from: readonly unknown[]; readonly laid: LaidPattern; readonly sheet: PatternSheet }
  >();

  constructor(take: Pattern) {
    this.#take = take;
    this.#maps = buildTimeMaps(take);
    this.#bars = barsOf(take, this.#maps);
    this.#voices = songVoices(take, this.#maps, this.#bars);
    this.#arrangement = take.arrangement ?? NO_ARRANGEMENT;
  }

  /** Takes another arrangement of the same take. What is the same as before stays the same object, also after a way from elsewhere. */
  arrange({ patterns, song, grooves }: Arrangement): void {
    const before = this.#arrangement;
    const known = new Map(before.patterns.map((pattern) => [pattern.id, pattern]));
    const kept = <Value>(value: Value, was: Value | undefined) =>
      was !== undefined && isSameValue(was, value) ? was : value;
    this.#arrangement = {
      patterns: patterns.map((pattern) => kept(pattern, known.get(pattern.id))),
      song,
      grooves: Object.fromEntries(
        Object.entries(grooves).map(([id, groove]) => [id, kept(groove, before.grooves[id])]),
      ),
    };
  }

  lay(): LaidSong {
    const { patterns } = this.#arrangement;
    const sheets = patterns.map((pattern) => this.#layOne(pattern).sheet);
    const kept = new Set(patterns.map(({ id }) => id));
    for (const id of this.#laid.keys()) if (!kept.has(id)) this.#laid.delete(id);
    const sameness = this.#voices.map(({ lane }, index) =>
      samenessOf(
        lane.voiceId,
        sheets.map(({ cells }) => cells[index]!.profile),
      ),
    );
    return { sheets, sameness };
  }

  get voiceIds(): readonly string[] {
    return this.#voices.map(({ lane }) => lane.voiceId);
  }

  /** Finds the sections of the take by what repeats, in steps that say how far it is, 0 to 1. */
  seekSections(): Generator<number, readonly FoundSection[], void> {
    return seekSections(this.#voices, this.#bars, this.#take.ppq);
  }

  /** @param entries what is played; null for the song */
  play(entries: readonly SongEntry[] | null): PlayableSong {
    const time = songTime(this.#arrangement, this.#bars, this.#maps, this.#take.tempos, entries ?? undefined);
    const laid = new Map(time.places.map(({ pattern }) => [pattern.id, this.#layOne(pattern).laid]));
    return {
      time,
      parts: heardVoices(
        time,
        laid,
        this.#voices.map(({ lane: { voiceId }, hits }) => ({ voiceId, hits })),
        this.#take.fullness,
      ),
    };
  }

  /**
   * The layers of a groove that is taken from cells: from the hits of those voices in those patterns, as they were recorded or as they
   * go out there. Bars are counted from the first bar of the first pattern.
   */
  take(places: readonly CellPlace[], wish: Omit<GrooveWish, "among" | "firstBar">): readonly GrooveLayer[] {
    const patterns = this.#arrangement.patterns.filter(({ id }) => places.some(({ patternId }) => patternId === id));
    const lanes = this.#voices.flatMap((voice, index) => {
      const { voiceId, treatment } = voice.lane;
      const rows = new Map<number, { readonly tick: number; readonly velocity: number }>();
      for (const pattern of patterns) {
        if (!places.some((place) => place.patternId === pattern.id && place.voiceId === voiceId)) continue;
        const laid = this.#layOne(pattern).laid.voices[index]!;
        for (let at = 0; at < laid.rows.length; at++) {
          if (laid.isSilent[at] === 1) continue;
          const tick = laid.cleaned.ticks[at]! - laid.slotTicks[at]!;
          rows.set(laid.rows[at]!, { tick, velocity: laid.cleaned.velocities[at]! });
        }
      }
      if (rows.size === 0) return [];
      const { placed, roles } = voice.settledBy(treatment);
      const ticks = placed.slotTicks.map((slot, row) => slot + (rows.get(row)?.tick ?? 0));
      const velocities = Uint8Array.from(voice.hits, (_, row) => rows.get(row)?.velocity ?? 1);
      const { slotTicks, driftsMs } = placed;
      const cleaned = { ticks, velocities, slotTicks, driftsMs };
      const among = [...rows.keys()].map((row) => voice.hits[row]!.id);
      return [{ lane: { voice: voice.voice, treatment, hits: voice.hits, roles: roles(), cleaned }, among }];
    });
    const firstBar = patterns[0]?.bars.find((bar) => bar !== null) ?? 0;
    const among = new Set(lanes.flatMap((one) => one.among));
    return takeGroove(
      lanes.map(({ lane }) => lane),
      { ...wish, among, firstBar },
      this.#maps,
    );
  }

  #layOne(pattern: SongPattern): { readonly laid: LaidPattern; readonly sheet: PatternSheet } {
    const from = this.#dependencies(pattern);
    const known = this.#laid.get(pattern.id);
    if (known && known.from.length === from.length && known.from.every((one, index) => one === from[index]))
      return known;
    const laid = layPattern(this.#arrangement, pattern, this.#voices, this.#bars, this.#maps);
    const next = { from, laid, sheet: this.#sheetOf(pattern, laid) };
    this.#laid.set(pattern.id, next);
    return next;
  }

  /** Whatever a pattern sounds like depends on these, and on nothing else of the song. */
  #dependencies(pattern: SongPattern): readonly unknown[] {
    const { patterns, grooves } = this.#arrangement;
    const chain: SongPattern[] = [];
    let at: SongPattern | undefined = pattern;
    while (at && !chain.includes(at)) {
      chain.push(at);
      const { followsId }: SongPattern = at;
      at = patterns.find(({ id }) => id === followsId);
    }
    const named = chain.flatMap(({ cells = {} }) =>
      Object.values(cells).map(({ feel }) => (feel ? grooves[feel.grooveId] : undefined)),
    );
    return [...chain, ...named];
  }

  #sheetOf(pattern: SongPattern, laid: LaidPattern): PatternSheet {
    const barTicks = barTicksOf(pattern, this.#bars);
    const cells = laid.voices.map((voice) => ({
      voiceId: voice.voiceId,
      hitCount: voice.isSilent.length,
      profile: profileOf(voice, barTicks, this.#take.ppq),
      picture: pictureOf(voice.slotTicks, voice.cleaned.velocities, laid.lengthTicks),
    }));
    return { id: pattern.id, cells };
  }
}

const MOST_IN_PICTURE = 160;

function pictureOf(slotTicks: Float64Array, velocities: Uint8Array, lengthTicks: number): Float32Array {
  const count = Math.min(slotTicks.length, MOST_IN_PICTURE);
  const picture = new Float32Array(2 * count);
  for (let index = 0; index < count; index++) {
    const at = Math.floor((index * slotTicks.length) / count);
    picture[2 * index] = slotTicks[at]! / lengthTicks;
    picture[2 * index + 1] = velocities[at]! / 127;
  }
  return picture;
}
