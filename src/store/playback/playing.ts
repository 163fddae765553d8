import { createStore } from "zustand/vanilla";
import type { Pattern } from "../../core/document/index.ts";
import type { Tone } from "../../core/file/index.ts";
import type { Side } from "../../core/song/index.ts";
import type { TimeMaps } from "../../core/time/index.ts";
import { deriveLanes, deriveMaps, type LaneView } from "../bench/lane-view.ts";

/** A loop in ticks. */
export interface LoopRange {
  readonly startTick: number;
  readonly endTick: number;
}

export interface ClickSetting {
  readonly isOn: boolean;
  readonly hasOffBeats: boolean;
}

/** What is heard, from which side, and from where to where. */
export interface PlayingState {
  readonly side: Side;
  /** Voices that are shown and heard as recorded while the others are cleaned. */
  readonly asRecorded: ReadonlySet<string>;
  readonly muted: ReadonlySet<string>;
  readonly soloed: ReadonlySet<string>;
  /** Streams that are not drums and are heard all the same, by index, with their notes. */
  readonly heardTones: ReadonlyMap<number, readonly Tone[]>;
  readonly loop: LoopRange | null;
  readonly click: ClickSetting;
  readonly isPlaying: boolean;
  /** Where playing starts, or stopped. */
  readonly playheadTick: number;
}

export const STILL: PlayingState = {
  side: "cleaned",
  asRecorded: new Set(),
  muted: new Set(),
  soloed: new Set(),
  heardTones: new Map(),
  loop: null,
  click: { isOn: true, hasOffBeats: false },
  isPlaying: false,
  playheadTick: 0,
};

/** With what is played by it. */
export interface PlayedState extends PlayingState {
  readonly pattern: Pattern;
  /** The pattern of the song that it is looked at through; null for none. */
  readonly scopeId: string | null;
  readonly maps: TimeMaps;
  readonly lanes: readonly LaneView[];
}

/** What can be done about what is heard. */
export function playingActions(get: () => PlayingState, set: (change: Partial<PlayingState>) => void) {
  return {
    /** @param placeTick where it stopped; left out, the playhead stays where it is */
    setPlaying(isPlaying: boolean, placeTick?: number): void {
      set({ isPlaying, ...(placeTick === undefined ? {} : { playheadTick: placeTick }) });
    },

    setPlayhead: (playheadTick: number) => set({ playheadTick }),

    setLoop: (loop: LoopRange | null) => set({ loop }),

    setClick: (change: Partial<ClickSetting>) => set({ click: { ...get().click, ...change } }),

    setSide: (side: Side) => set({ side }),

    /** Says which voices are silent, heard alone, or heard as recorded. */
    setVoices: (what: "muted" | "soloed" | "asRecorded", voiceIds: ReadonlySet<string>) => set({ [what]: voiceIds }),

    /** Lets a stream that is not drums be heard, or silences it (null). */
    hearTones(streamIndex: number, tones: readonly Tone[] | null): void {
      const heardTones = new Map(get().heardTones);
      if (tones) heardTones.set(streamIndex, tones);
      else heardTones.delete(streamIndex);
      set({ heardTones });
    },
  };
}

/** What `Playback` plays from. */
export interface PlayedStore extends ReturnType<typeof playingActions> {
  getState(): PlayedState;
  subscribe(listener: (state: PlayedState, before: PlayedState) => void): () => void;
}

/** Something to play that is no project: nothing of it is saved, and it can be exchanged while it plays. */
export function createPlayedStore(first: Pattern) {
  const played = (pattern: Pattern) => {
    const maps = deriveMaps(pattern, null);
    return { pattern, maps, lanes: deriveLanes(pattern, [], maps) };
  };
  const { getState, setState, subscribe } = createStore<PlayedState>(() => ({
    ...STILL,
    ...played(first),
    scopeId: null,
  }));
  const set = (change: Partial<PlayedState>) => setState(change);
  return {
    getState,
    subscribe,
    ...playingActions(getState, set),
    exchange: (pattern: Pattern) => set(played(pattern)),
  };
}
