import { ROLES } from "../../core/dynamics/index.ts";
import { FAMILIES, type Family, type NoteStream } from "../../core/notemap/index.ts";
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

interface ColourScene {
  readonly colourBy: ColourBy;
  readonly streams: readonly NoteStream[];
}

/** The rows of a lane for each ink, in the order of the families so that they are painted the same way every time. */
export function finsByColour(lane: LaneView, { colourBy, streams }: ColourScene) {
  const rowsOf = new Map<Family, number[]>();
  for (const [row, hit] of lane.hits.entries()) {
    const ink =
      colourBy === "family"
        ? lane.voice.ink
        : colourBy === "role"
          ? ROLE_INKS[ROLES[lane.roles[row]!]!]
          : inkOfStream(streams, hit.streamIndex, colourBy);
    const rows = rowsOf.get(ink);
    if (rows) rows.push(row);
    else rowsOf.set(ink, [row]);
  }
  return FAMILIES.flatMap((ink) => {
    const rows = rowsOf.get(ink);
    return rows ? [{ ink, rows }] : [];
  });
}
