import { FAMILIES, type Family, type NoteStream, ROLES, type Role, roleWord } from "../../../core/document/index.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import type { ColourBy } from "../../../store/bench/view.ts";

/** One colour of the picture, and what it says. */
export interface ColourMeaning {
  readonly ink: Family;
  readonly name: string;
}

const ROLE_INKS = { ghost: "kick", stroke: "hats", accent: "snare" } as const satisfies Record<string, Family>;
/** Inks that are told apart best come first. */
const ORDER: readonly Family[] = ["kick", "snare", "hats", "cymbals", "toms", "percussion"];

const inkAt = (index: number): Family => ORDER[Math.max(0, index) % ORDER.length]!;

/** What tells the streams of a take apart, by what colours say. */
const STREAM_KEYS = {
  channel: (stream: NoteStream) => stream.channel,
  track: (stream: NoteStream) => stream.trackIndex,
} as const;

/** Inks of streams: those of drums in the order of the take, and over again if there are more than inks. */
function inkOfStream(streams: readonly NoteStream[], streamIndex: number, colourBy: keyof typeof STREAM_KEYS): Family {
  const keyOf = STREAM_KEYS[colourBy];
  const keys = [...new Set(streams.filter(({ isDrums }) => isDrums).map(keyOf))];
  const stream = streams[streamIndex];
  return inkAt(stream ? keys.indexOf(keyOf(stream)) : 0);
}

/** The notes that a lane's hits came in on, lowest first: each has an ink. */
const notesOf = (lane: LaneView): readonly number[] =>
  [...new Set(lane.hits.map(({ note }) => note))].sort((one, other) => one - other);

/**
 * What the colours say, for a legend; families need none, for their lanes are named, and velocity none, for it is strength of ink.
 * @param lane the lane that is worked on, whose notes are named
 */
export function legendOf(
  colourBy: ColourBy,
  streams: readonly NoteStream[],
  lane: LaneView | undefined,
): readonly ColourMeaning[] {
  switch (colourBy) {
    case "family":
    case "velocity":
      return [];
    case "role":
      return Object.entries(ROLE_INKS).map(([role, ink]) => ({ name: roleWord(role as Role, 1), ink }));
    case "note":
      return lane ? notesOf(lane).map((note, index) => ({ name: `note ${note}`, ink: inkAt(index) })) : [];
    default: {
      const meanings = new Map<string, Family>();
      for (const [index, { isDrums, channel, trackIndex, trackName }] of streams.entries()) {
        const track = trackName || `track ${trackIndex + 1}`;
        const name = colourBy === "channel" ? `channel ${channel + 1}` : track;
        if (isDrums) meanings.set(name, inkOfStream(streams, index, colourBy));
      }
      return [...meanings].map(([name, ink]) => ({ name, ink }));
    }
  }
}

/** For each hit of a lane the place of its ink in `FAMILIES`; null where all are in the ink of the lane. */
export function hitInksOf(lane: LaneView, colourBy: ColourBy, streams: readonly NoteStream[]): Uint8Array | null {
  switch (colourBy) {
    case "family":
    case "velocity":
      return null;
    case "role": {
      const ofRoles = ROLES.map((role) => FAMILIES.indexOf(ROLE_INKS[role]));
      return lane.roles.map((role) => ofRoles[role]!);
    }
    case "note": {
      const notes = notesOf(lane);
      return Uint8Array.from(lane.hits, ({ note }) => FAMILIES.indexOf(inkAt(notes.indexOf(note))));
    }
    default: {
      const ofStreams = streams.map((_, index) => FAMILIES.indexOf(inkOfStream(streams, index, colourBy)));
      return Uint8Array.from(lane.hits, ({ streamIndex }) => ofStreams[streamIndex] ?? FAMILIES.indexOf(ORDER[0]!));
    }
  }
}
