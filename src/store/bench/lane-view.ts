import {
  ARTICULATION_MARKS,
  baseVelocity,
  columnsOf,
  findVoice,
  type Hit,
  hitsByVoice,
  type NoteMap,
  type Pattern,
  type RoleBorders,
  type Voice,
} from "../../core/document/index.ts";
import type { Treatment } from "../../core/document/treatment.ts";
import { bordersOf, rolesOf } from "../../core/dynamics/index.ts";
import { lazily, remembering } from "../../core/remember.ts";
import { barsOf, rowsInScope, type Side, type SongPattern, spliced, withoutFeel } from "../../core/song/index.ts";
import { buildTimeMaps, type TimeMaps, ticksToMs } from "../../core/time/index.ts";
import { type CleanedHits, treat } from "../../core/treat.ts";

/** One side of a lane. Row i of every column belongs to hit i. */
export interface LaneSide {
  readonly ticks: Float64Array;
  readonly velocities: Uint8Array;
  readonly timesMs: Float64Array;
}

/**
 * A lane with everything that is drawn and heard of it. Row i of every column belongs to hit i. What takes long is made when it is
 * first asked for: a list of messages asks for the names of lanes only.
 */
export interface LaneView {
  readonly voiceId: string;
  readonly voice: Voice;
  readonly treatment: Treatment;
  readonly hits: readonly Hit[];
  /** The lane as it goes out. */
  readonly cleaned: CleanedHits;
  /** The lane as it came in. Hits added by hand are where they were put. */
  readonly recorded: LaneSide;
  readonly roleBorders: RoleBorders;
  /** Of each hit its place in `ROLES`. */
  readonly roles: Uint8Array;
  /** How each hit is marked on its fin: its place in `ARTICULATION_MARKS`. */
  readonly marks: Uint8Array;
  /** Which of the voice's articulations each hit is, counted from 0; -1 for none of them. */
  readonly articulationRows: Int8Array;
  /** How long each hit rings until a foot or a hand stops it, in ticks; infinite if nothing does. */
  readonly ringTicks: Float64Array;
  /** When each cleaned hit sounds. */
  readonly cleanedMs: Float64Array;
  /** What no setting changes, for a lane that is derived from this one. */
  readonly recording: () => Recording;
  /** Where the take ends. */
  readonly lengthTicks: number;
  /** What the lane was derived with; another value means it must be derived anew. */
  readonly maps: TimeMaps;
  readonly noteMap: NoteMap;
  readonly scope?: SongPattern;
}

/** A pattern of the song that the take is looked at through, and the take: outside its bars that is what is shown. */
export interface Through {
  readonly scope: SongPattern;
  readonly take: Pattern;
}

/** Which side of a lane is shown and heard: that of all, unless this voice alone is as recorded. */
export function shownSide(
  state: { readonly side: Side; readonly asRecorded: ReadonlySet<string> },
  { voiceId }: { readonly voiceId: string },
): Side {
  return state.asRecorded.has(voiceId) ? "recorded" : state.side;
}

/** Positions and velocities of one side. */
export function sideOf(lane: LaneView, side: Side): LaneSide {
  if (side === "recorded") return lane.recorded;
  const { ticks, velocities } = lane.cleaned;
  return side === "cleaned" ? { ticks, velocities, timesMs: lane.cleanedMs } : plainSideOf(lane);
}

/** The lane without its feel is made when it is first asked for: a drag of a setting shows the cleaned side. */
function plainSideOf(lane: LaneView): LaneSide {
  return rememberPlain(lane, [], () => {
    const { hits, treatment, maps, lengthTicks, voice } = lane;
    const { ticks, velocities } = treat(hits, withoutFeel(treatment), maps, lengthTicks, voice.family);
    return { ticks, velocities, timesMs: ticksToMs(maps.tempoMap, ticks) };
  });
}

const rememberPlain = remembering<LaneView, LaneSide>();

/** Derives the lanes of a pattern. A lane whose hits, treatment and time are the same as before is kept as it is. */
export function deriveLanes(
  pattern: Pattern,
  before: readonly LaneView[],
  maps: TimeMaps,
  through?: Through,
): readonly LaneView[] {
  const byVoice = groupHits(pattern.hits);
  const beforeById = new Map(before.map((lane) => [lane.voiceId, lane]));
  return pattern.lanes.map(({ voiceId, treatment }) => {
    const hits = byVoice.get(voiceId) ?? [];
    const known = beforeById.get(voiceId);
    const isSame =
      known &&
      known.treatment === treatment &&
      known.maps === maps &&
      known.noteMap === pattern.noteMap &&
      known.scope === through?.scope &&
      (known.hits === hits || (known.hits.length === hits.length && known.hits.every((hit, row) => hit === hits[row])));
    return isSame ? known : deriveLane(pattern, voiceId, treatment, hits, maps, known, through);
  });
}

/** A drag of a setting derives lanes on every frame from the same hits; they are grouped once. */
const rememberGroups = remembering<readonly Hit[], ReturnType<typeof hitsByVoice>>();
const groupHits = (hits: readonly Hit[]) => rememberGroups(hits, [], () => hitsByVoice(hits));

function deriveLane(
  pattern: Pattern,
  voiceId: string,
  treatment: Treatment,
  hits: readonly Hit[],
  maps: TimeMaps,
  known: LaneView | undefined,
  through: Through | undefined,
): LaneView {
  const { lengthTicks, noteMap } = pattern;
  const voice = findVoice(noteMap, voiceId);
  // Not the pattern itself: a lane that stays as it is would keep all hits of long ago.
  const about = { voiceId, voice, treatment, hits, maps, lengthTicks, noteMap };
  const ofTake = through?.take.lanes.find((lane) => lane.voiceId === voiceId)?.treatment;
  const scope = through?.scope;
  const isSameRecording = known?.hits === hits && known.maps === maps && known.noteMap === noteMap;
  const recording = isSameRecording ? known.recording : lazily(() => describeRecording(about));
  const cleaned = lazily(() => clean(about, scope, ofTake));
  const cleanedMs = lazily(() => ticksToMs(maps.tempoMap, cleaned().ticks));
  const roleBorders = lazily(() => bordersOf(columnsOf(hits), maps.meterMap, treatment.roles));
  const roles = lazily(() => rolesOf(columnsOf(hits), maps.meterMap, treatment.roles));
  return {
    ...about,
    get cleaned() {
      return cleaned();
    },
    get cleanedMs() {
      return cleanedMs();
    },
    get roleBorders() {
      return roleBorders();
    },
    get roles() {
      return roles();
    },
    get recorded() {
      return recording().recorded;
    },
    get marks() {
      return recording().marks;
    },
    get articulationRows() {
      return recording().articulationRows;
    },
    get ringTicks() {
      return recording().ringTicks;
    },
    recording,
    ...(scope ? { scope } : {}),
  };
}

type AboutLane = Pick<LaneView, "voice" | "treatment" | "hits" | "maps" | "lengthTicks">;

/**
 * A lane as it goes out.
 * @param scope outside its bars the lane goes by the settings of the take, `ofTake`
 */
function clean(
  { voice: { family }, treatment, hits, maps, lengthTicks }: AboutLane,
  scope: SongPattern | undefined,
  ofTake: Treatment | undefined,
): CleanedHits {
  const own = treat(hits, treatment, maps, lengthTicks, family);
  if (!scope || !ofTake || ofTake === treatment) return own;
  const around = treat(hits, ofTake, maps, lengthTicks, family);
  return spliced(own, around, rowsInScope(scope, own.slotTicks, barsOf({ lengthTicks }, maps)));
}

type Recording = Pick<LaneView, "recorded" | "marks" | "articulationRows" | "ringTicks">;

/** The part of a lane that no setting changes; a drag of one keeps it. */
function describeRecording({ voice, hits, maps }: AboutLane): Recording {
  const ticks = new Float64Array(hits.length);
  const velocities = new Uint8Array(hits.length);
  const marks = new Uint8Array(hits.length);
  const articulationRows = new Int8Array(hits.length);
  const ringTicks = new Float64Array(hits.length);
  const markOf = new Map(voice.articulations.map(({ id, mark }) => [id, ARTICULATION_MARKS.indexOf(mark)]));
  const rowOf = new Map(voice.articulations.map(({ id }, row) => [id, row]));
  for (let row = 0; row < hits.length; row++) {
    const hit = hits[row]!;
    ticks[row] = hit.recordedTick ?? hit.pinnedTick ?? 0;
    velocities[row] = hit.recordedVelocity ?? baseVelocity(hit);
    marks[row] = markOf.get(hit.articulationId) ?? 0;
    articulationRows[row] = rowOf.get(hit.articulationId) ?? -1;
    ringTicks[row] = ringOf(hit, voice);
  }
  return {
    recorded: { ticks, velocities, timesMs: ticksToMs(maps.tempoMap, ticks) },
    marks,
    articulationRows,
    ringTicks,
  };
}

/** Drums die away by themselves; a foot shuts hats, and a hand or the end of a held note stops hats and cymbals. */
function ringOf({ shutTicks, chokedTicks }: Hit, { family }: Voice): number {
  const shut = family === "hats" ? (shutTicks ?? Number.POSITIVE_INFINITY) : Number.POSITIVE_INFINITY;
  const choked = family === "hats" || family === "cymbals" ? chokedTicks : null;
  return Math.min(shut, choked ?? Number.POSITIVE_INFINITY);
}

/** The maps of a pattern; the same object as before if its meters and tempos are the same. */
export function deriveMaps(pattern: Pattern, before: { pattern: Pattern; maps: TimeMaps } | null): TimeMaps {
  const isSame =
    before &&
    before.pattern.meters === pattern.meters &&
    before.pattern.tempos === pattern.tempos &&
    before.pattern.ppq === pattern.ppq;
  return isSame ? before.maps : buildTimeMaps(pattern);
}
