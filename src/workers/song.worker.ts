import { expose, transfer } from "comlink";
import { type GrooveLayer, type PackedPattern, unpackPattern } from "../core/document/index.ts";
import {
  type Arrangement,
  type CellPlace,
  type FoundSection,
  type PackedSong,
  type PlayableSong,
  packSong,
  SongDesk,
  type SongEntry,
} from "../core/song/index.ts";

/** A step is over in a moment; who waits is told less often. */
const ASK_EVERY_MS = 30;

let desk: SongDesk | null = null;

const song = {
  /** Takes a take on the desk; what follows is about it. */
  open(packed: PackedPattern): void {
    desk = new SongDesk(unpackPattern(packed));
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

  /**
   * The sections of the take that is on the desk, by what repeats.
   * @param goesOn told now and then how far it is, 0 to 1; answers whether it is still wanted
   * @returns null if it was given up
   */
  async sections(goesOn: (share: number) => Promise<boolean>): Promise<readonly FoundSection[] | null> {
    const steps = desk?.seekSections();
    let askedMs = performance.now();
    for (;;) {
      const step = steps?.next();
      if (!step) return null;
      if (step.done) return step.value;
      if (performance.now() - askedMs < ASK_EVERY_MS) continue;
      if (!(await goesOn(step.value))) return null;
      askedMs = performance.now();
    }
  },
};

export type Song = typeof song;
expose(song);
