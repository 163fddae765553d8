import { expose, transfer } from "comlink";
import type { GrooveLayer, Pattern } from "../core/document/index.ts";
import {
  type Arrangement,
  barsOf,
  type CellPlace,
  type FoundSection,
  findSections,
  type PackedSong,
  type PlayableSong,
  packSong,
  SongDesk,
  type SongEntry,
  songVoices,
} from "../core/song/index.ts";
import { buildTimeMaps } from "../core/time/index.ts";

let desk: SongDesk | null = null;

const song = {
  /** Takes a take on the desk; what follows is about it. */
  open(take: Pattern): void {
    desk = new SongDesk(take);
  },

  /** Lays an arrangement of the take that is on the desk. */
  lay(arrangement: Arrangement): PackedSong | null {
    if (!desk) return null;
    desk.arrange(arrangement);
    const packed = packSong(desk.lay(), desk.voiceIds);
    return transfer(packed, [packed.numbers.buffer, packed.layout.buffer]);
  },

  /** What sounds when. @param entries what is played; null for the song */
  play(entries: readonly SongEntry[] | null): PlayableSong | null {
    return desk?.play(entries) ?? null;
  },

  /** The groove of some cells. */
  take(places: readonly CellPlace[], wish: Parameters<SongDesk["take"]>[1]): readonly GrooveLayer[] {
    return desk?.take(places, wish) ?? [];
  },

  /** The sections of a take, by what repeats. */
  sections(take: Pattern): readonly FoundSection[] {
    const maps = buildTimeMaps(take);
    const bars = barsOf(take, maps);
    return findSections(songVoices(take, maps, bars), bars, take.ppq);
  },
};

export type Song = typeof song;
expose(song);
