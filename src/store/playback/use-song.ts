import { useEffect, useMemo, useState } from "react";
import { type GrooveLayer, type Pattern, packPattern } from "../../core/document/index.ts";
import type { GrooveWish } from "../../core/groove/index.ts";
import {
  type CellPlace,
  type FoundSection,
  NO_ARRANGEMENT,
  type PackedSong,
  type PatternSheet,
  type PlayableSong,
  type SongEntry,
  unpackSheet,
} from "../../core/song/index.ts";
import { calledBack, startSong } from "../../workers/index.ts";
import type { BenchStore } from "../bench/bench-store.ts";

/** How a groove is taken from cells. */
export type TakeWish = Omit<GrooveWish, "among" | "firstBar">;

/** A song that is laid in a worker whenever something of it changes. */
export class SongDesk {
  readonly #helper = startSong();
  readonly #store: BenchStore;
  readonly #stop: () => void;
  readonly #listeners = new Set<() => void>();
  /** What is on the worker's desk. */
  #take: Pattern | null = null;
  #laidFor: Pattern["arrangement"] | "nothing" = "nothing";
  #entries: readonly SongEntry[] | null = null;
  #isRunning = false;
  #isEnded = false;
  /** What is laid, as it came; `sheetOf` reads it. */
  laid: PackedSong | null = null;
  #sheets = new Map<string, PatternSheet>();
  playable: PlayableSong | null = null;

  constructor(store: BenchStore) {
    this.#store = store;
    this.#stop = store.subscribe(() => void this.#update());
    void this.#update();
  }

  /** What is played: some entries, such as one pattern alone, or the song (null). */
  async choose(entries: readonly SongEntry[] | null): Promise<void> {
    this.#entries = entries;
    await this.#play();
  }

  get entries(): readonly SongEntry[] | null {
    return this.#entries;
  }

  /**
   * The sections of the take, by what repeats.
   * @param goesOn told now and then how far it is, 0 to 1; false gives it up
   * @returns null if it was given up
   */
  async sections(goesOn: (share: number) => boolean): Promise<readonly FoundSection[] | null> {
    await this.#open(this.#store.getState().shown);
    // The channel's types take a union of promises for the promise of a union.
    const asked = calledBack(async (share: number) => goesOn(share));
    return this.#helper.run((song) => song.sections(asked) as Promise<readonly FoundSection[] | null>);
  }

  /** What is shown of a pattern; undefined until it is laid. */
  sheetOf(patternId: string): PatternSheet | undefined {
    const known = this.#sheets.get(patternId);
    if (known || !this.laid) return known;
    const sheet = unpackSheet(this.laid, patternId);
    if (sheet) this.#sheets.set(patternId, sheet);
    return sheet;
  }

  /** Whether what is laid is of this take as it is now. Until it is, figures of it are those of a moment ago. */
  isCurrent(shown: Pattern): boolean {
    return this.laid !== null && this.#isLaid(shown);
  }

  /** The groove of some cells, as it is heard there or as it was recorded. */
  take(places: readonly CellPlace[], wish: TakeWish): Promise<readonly GrooveLayer[]> {
    return this.#helper.run((song) => song.take(places, wish) as Promise<readonly GrooveLayer[]>);
  }

  subscribe(listener: () => void): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }

  end(): void {
    this.#isEnded = true;
    this.#stop();
    this.#helper.end();
  }

  async #update(): Promise<void> {
    const { shown } = this.#store.getState();
    if (this.#isRunning || this.#isEnded || this.#isLaid(shown)) return;
    this.#isRunning = true;
    await this.#open(shown);
    const take = this.#take;
    const arrangement = shown.arrangement ?? NO_ARRANGEMENT;
    const laid = await this.#helper.run((song) => song.lay(arrangement) as Promise<PackedSong | null>);
    this.#isRunning = false;
    if (this.#isEnded) return;
    // A newer take may have been opened while this one was laid.
    this.#laidFor = take === this.#take ? shown.arrangement : "nothing";
    this.laid = laid;
    this.#sheets = new Map();
    await this.#play();
    // Something may have changed in the meantime.
    void this.#update();
  }

  /** Has the take on the worker's desk, as it is now. */
  async #open(shown: Pattern): Promise<void> {
    if (this.#take && isSameTake(this.#take, shown)) return;
    await this.#helper.run((song) => song.open(packPattern(shown)));
    this.#take = shown;
    this.#laidFor = "nothing";
  }

  #isLaid(shown: Pattern): boolean {
    return this.#take !== null && isSameTake(this.#take, shown) && this.#laidFor === shown.arrangement;
  }

  async #play(): Promise<void> {
    const entries = this.#entries;
    const playable = await this.#helper.run((song) => song.play(entries) as Promise<PlayableSong | null>);
    if (this.#isEnded) return;
    this.playable = playable;
    for (const listener of this.#listeners) listener();
  }
}

/** Patterns name bars of the take. Which parts of it a song is laid from: where one of them is another, all of it is laid anew. */
const IS_LAID_FROM: Readonly<Record<keyof Pattern, boolean>> = {
  hits: true,
  lanes: true,
  ppq: true,
  meters: true,
  tempos: true,
  noteMap: true,
  lengthTicks: true,
  fullness: true,
  // The patterns and their order are handed on by themselves.
  arrangement: false,
  timeline: false,
  streams: false,
  outgoingMap: false,
  changedMessages: false,
  levels: false,
  otherSide: false,
};
const LAID_FROM = (Object.keys(IS_LAID_FROM) as (keyof Pattern)[]).filter((part) => IS_LAID_FROM[part]);

const isSameTake = (a: Pattern, b: Pattern) => LAID_FROM.every((part) => a[part] === b[part]);

/** The desk of the open take, which ends with the screen, and what is laid on it now. */
export function useSongDesk(store: BenchStore): SongDesk {
  const desk = useMemo(() => new SongDesk(store), [store]);
  const [, setTurn] = useState(0);
  useEffect(() => desk.subscribe(() => setTurn((turn) => turn + 1)), [desk]);
  useEffect(() => () => desk.end(), [desk]);
  return desk;
}
