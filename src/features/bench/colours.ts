import { FAMILIES, type Family, type NoteStream, ROLES } from "../../core/document/index.ts";
import type { ColourBy } from "../../store/bench-state.ts";
import type { LaneView } from "../../store/lane-view.ts";

/** One colour of the picture, and what it says. */
export interface ColourMeaning {
  readonly ink: Family;
  readonly name: string;
}

const ROLE_INKS = { ghost: "kick", stroke: "hats", accent: "snare" } as const satisfies Record<string, Family>;
/** Inks that are told apart best come first. */
const ORDER: readonly Family[] = ["kick", "snare", "hats", "cymbals", "toms", "percussion"];

/** Inks of streams: those of drums in the order of the take, and over again if there are more than inks. */
function inkOfStream(streams: readonly NoteStream[], streamIndex: number, colourBy: "channel" | "track"): Family {
  const keyOf = (stream: NoteStream) => (colourBy === "channel" ? stream.channel : stream.trackIndex);
  const keys = [...new Set(streams.filter(({ isDrums }) => isDrums).map(keyOf))];
  const stream = streams[streamIndex];
  return ORDER[Math.max(0, stream ? keys.indexOf(keyOf(stream)) : 0) % ORDER.length]!;
}

/** What the colours say, for a legend; families need none, for their lanes are named. */
export function legendOf(colourBy: ColourBy, streams: readonly NoteStream[]): readonly ColourMeaning[] {
  if (colourBy === "family") return [];
  if (colourBy === "role") return Object.entries(ROLE_INKS).map(([name, ink]) => ({ name, ink }));
  const meanings = new Map<string, Family>();
  for (const [index, { isDrums, channel, trackIndex, trackName }] of streams.entries()) {
    const track = trackName || `track ${trackIndex + 1}`;
    if (isDrums) {
      meanings.set(colourBy === "channel" ? `channel ${channel + 1}` : track, inkOfStream(streams, index, colourBy));
    }
  }
  return [...meanings].map(([name, ink]) => ({ name, ink }));
}

/** For each hit of a lane the place of its ink in `FAMILIES`; null where all are in the ink of the lane. */
export function hitInksOf(lane: LaneView, colourBy: ColourBy, streams: readonly NoteStream[]): Uint8Array | null {
  if (colourBy === "family") return null;
  if (colourBy === "role") {
    const ofRoles = ROLES.map((role) => FAMILIES.indexOf(ROLE_INKS[role]));
    return lane.roles.map((role) => ofRoles[role]!);
  }
  const ofStreams = streams.map((_, index) => FAMILIES.indexOf(inkOfStream(streams, index, colourBy)));
  return Uint8Array.from(lane.hits, ({ streamIndex }) => ofStreams[streamIndex] ?? FAMILIES.indexOf(ORDER[0]!));
}
