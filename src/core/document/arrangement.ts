import type { Groove } from "./groove.ts";
import type { Lane } from "./pattern.ts";
import type { DynamicsTreatment, FeelTreatment, TimingTreatment, Treatment } from "./treatment.ts";

/** What patterns can be marked with; the same part of a song has the same one. */
export const PATTERN_COLOURS = ["moss", "clay", "slate", "plum", "sand", "fern", "rose", "ash"] as const;
export type PatternColour = (typeof PATTERN_COLOURS)[number];

/** A groove that is laid on one voice of one pattern, by its id in the arrangement. */
export interface CellFeel {
  readonly grooveId: string;
  /** -200 to 200, as in a treatment. */
  readonly timingPercent: number;
  readonly accentPercent: number;
}

/** What one voice does otherwise in one pattern. What is left out is as in the pattern that it follows, or in the take. */
export interface CellTreatment {
  readonly timing?: TimingTreatment;
  readonly dynamics?: DynamicsTreatment;
  /** Null lays no groove, whatever the take does. */
  readonly feel?: CellFeel | null;
  /** Ahead of the beat is negative. */
  readonly pushMs?: number;
  /** A length of its own, which it plays over and over until the pattern ends. Left out, that of the pattern. */
  readonly ownLengthTicks?: number;
}

export type Cells = Readonly<Record<string, CellTreatment>>;

/**
 * A few bars of a song, cut from the take. It names bars and holds no hits, so that the take stays whole, and a hit that is mended
 * on the Bench is mended in every pattern that plays its bar.
 */
export interface SongPattern {
  readonly id: string;
  readonly name: string;
  readonly colour: PatternColour;
  /** Bars of the take, counted from 0, in any order and as often as wanted; null for a silent one. */
  readonly bars: readonly (number | null)[];
  /** How far everything is turned round in the pattern, in ticks. Left out, not at all. */
  readonly turnedTicks?: number;
  /** How full it is played, for hits that depend on it, 0 to 100. Left out, as the take. */
  readonly fullnessPercent?: number;
  /** Whose settings it takes where it has none of its own. Left out, those of the take. */
  readonly followsId?: string;
  /** By voice. Left out, there are none. */
  readonly cells?: Cells;
  /** The drums, or strokes of them, that alone are heard in it. Left out, all are. */
  readonly only?: readonly PatternPart[];
}

/** A drum, or one way it is struck. */
export interface PatternPart {
  readonly voiceId: string;
  /** Null for all strokes. */
  readonly articulationId: string | null;
}

/** Whether a hit is heard in a pattern, as far as the pattern says. */
export function isHeardIn(
  { only }: Pick<SongPattern, "only">,
  { voiceId, articulationId }: { readonly voiceId: string; readonly articulationId: string },
): boolean {
  return (
    only?.some((part) => part.voiceId === voiceId && (part.articulationId ?? articulationId) === articulationId) ?? true
  );
}

/** One place in the order of a song. */
export interface SongEntry {
  readonly id: string;
  readonly patternId: string;
  /** 1 to 99. */
  readonly repeats: number;
  /** Left out unless it is passed over in silence. */
  readonly isMuted?: true;
  /** Voices that are silent in it. Left out, there are none. */
  readonly mutedVoiceIds?: readonly string[];
}

/** What was made of a take: its patterns, and the order in which the song plays them. */
export interface Arrangement {
  readonly patterns: readonly SongPattern[];
  readonly song: readonly SongEntry[];
  /** The grooves that cells name, whole, so that the song sounds the same whatever becomes of the shelf. */
  readonly grooves: Readonly<Record<string, Groove>>;
}

/** Longer takes are not cut: a machine that was left running for days, or a file that says so. */
export const MOST_TAKE_BARS = 10_000;
export const MOST_REPEATS = 99;
export const MOST_PATTERN_BARS = 999;
export const NO_ARRANGEMENT: Arrangement = { patterns: [], song: [], grooves: {} };

/** The runs of bars of the take in a pattern: those that follow one another there, from one up to another that is no part of it. */
export function runsOf(bars: SongPattern["bars"]): readonly (readonly [from: number, to: number])[] {
  const runs: [number, number][] = [];
  for (const bar of bars) {
    if (bar === null) continue;
    const last = runs.at(-1);
    if (last?.[1] === bar) last[1] = bar + 1;
    else runs.push([bar, bar + 1]);
  }
  return runs;
}

/** What a voice does in a pattern. */
export interface EffectiveTreatment {
  /** What settles the voice: it is the lane's own, the same object, unless the pattern has another timing or dynamics. */
  readonly settling: Treatment;
  /** All of it, with the pattern's feel and push. */
  readonly treatment: Treatment;
}

const NO_CELL: CellTreatment = {};

/** The cell of a voice with what is taken from the patterns that it follows, the nearest first. */
export function cellOf(arrangement: Arrangement, pattern: SongPattern, voiceId: string): CellTreatment {
  if (pattern.followsId === undefined) return pattern.cells?.[voiceId] ?? NO_CELL;
  const chain: CellTreatment[] = [];
  const seen = new Set<string>();
  let at: SongPattern | undefined = pattern;
  // Patterns that follow one another round in a ring end where it began.
  while (at && !seen.has(at.id)) {
    seen.add(at.id);
    const own = at.cells?.[voiceId];
    if (own) chain.unshift(own);
    const { followsId }: SongPattern = at;
    at = followsId === undefined ? undefined : arrangement.patterns.find(({ id }) => id === followsId);
  }
  return chain.length === 1 ? chain[0]! : Object.assign({}, ...chain);
}

/** What a lane does in a pattern: its own steps, and in their place those that the pattern has. */
export function treatmentIn(arrangement: Arrangement, pattern: SongPattern, lane: Lane): EffectiveTreatment {
  const { treatment } = lane;
  const cell = cellOf(arrangement, pattern, lane.voiceId);
  const { timing, dynamics, feel, pushMs } = cell;
  const settling =
    timing || dynamics ? { ...treatment, ...(timing ? { timing } : {}), ...(dynamics ? { dynamics } : {}) } : treatment;
  if (feel === undefined && pushMs === undefined) return { settling, treatment: settling };
  const { feel: ofTake, ...rest } = settling;
  const laid = feel === undefined ? ofTake : feel === null ? undefined : feelOfCell(arrangement, feel);
  const pushed = pushMs === undefined ? settling.timing : withPush(settling.timing, pushMs);
  return { settling, treatment: { ...rest, timing: pushed, ...(laid ? { feel: laid } : {}) } };
}

/** A push of its own is heard also where the timing step is off: then it is the only thing of it. */
function withPush(timing: TimingTreatment, pushMs: number): TimingTreatment {
  if (timing.isOn) return { ...timing, pushMs };
  const { pushTicks: _ticks, exceptions: _exceptions, ...rest } = timing;
  return { ...rest, isOn: true, pushMs, pushEvery: 1, pushFrom: 1, humanizeMs: 0 };
}

/** A cell's groove as a treatment has it; undefined if the groove is gone. */
export function feelOfCell({ grooves }: Arrangement, { grooveId, ...amounts }: CellFeel): FeelTreatment | undefined {
  const groove = grooves[grooveId];
  return groove ? { isOn: true, groove, ...amounts } : undefined;
}
