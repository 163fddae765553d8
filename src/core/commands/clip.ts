import type { ArticulationMark, Edit, Family, Hit, NoteMap, Pattern } from "../document/index.ts";
import { applyEdit, baseVelocity, copiedMarksOf, strokeLike } from "../document/index.ts";
import { barAt, type MeterMap } from "../time/index.ts";
import { insertBars } from "./change-bars.ts";
import type { PlacedHit } from "./commands.ts";
import { distanceOfCopies, firstBeat, SAME_PLACE_QUARTERS } from "./pick-hits.ts";
import { type NewId, type Stroke, writeStrokes } from "./write-hits.ts";

// Hits that are copied from one place and laid into another, of the same take or of any other.

/** One copied hit, with all that another take needs to know its drum by. */
export interface ClipStroke extends Stroke {
  readonly voiceName: string;
  readonly family: Family;
  readonly mark: ArticulationMark;
}

/** Copied hits. Ticks are counted from the bar line of the first. */
export interface Clip {
  readonly ppq: number;
  /** How long the bar is that they were copied from. */
  readonly barTicks: number;
  /** The beat on which the first is played, and how many ticks of whole beats they take from there. */
  readonly startTick: number;
  readonly spanTicks: number;
  readonly strokes: readonly ClipStroke[];
}

/** @param placed at least one hit, with the places and loudness at which they sound */
export function clipOf(pattern: Pattern, meterMap: MeterMap, placed: readonly PlacedHit[]): Clip {
  const beat = firstBeat(placed, meterMap);
  const bar = barAt(meterMap, beat);
  const voices = new Map(pattern.noteMap.voices.map((voice) => [voice.id, voice]));
  const strokes = placed.map(({ hit, tick, velocity }): ClipStroke => {
    const voice = voices.get(hit.voiceId);
    const stroke = voice?.articulations.find(({ id }) => id === hit.articulationId);
    return {
      voiceId: hit.voiceId,
      articulationId: hit.articulationId,
      tick: Math.round(tick) - bar.startTick,
      velocity: Math.max(1, Math.min(127, Math.round(velocity ?? baseVelocity(hit)))),
      voiceName: voice?.name ?? hit.voiceId,
      family: voice?.family ?? "percussion",
      mark: stroke?.mark ?? "none",
      marks: copiedMarksOf(hit),
    };
  });
  return {
    ppq: pattern.ppq,
    barTicks: bar.endTick - bar.startTick,
    startTick: beat - bar.startTick,
    spanTicks: distanceOfCopies(placed, meterMap),
    strokes,
  };
}

/** The stroke of a map that a copied one is: the same drum and stroke, or those of the same name, mark and family. */
export function strokeInMap(
  { voices }: Pick<NoteMap, "voices">,
  { voiceId, voiceName, family, articulationId, mark }: ClipStroke,
) {
  const voice =
    voices.find(({ id }) => id === voiceId) ??
    voices.find(({ name }) => name.toLowerCase() === voiceName.toLowerCase()) ??
    voices.find((one) => one.family === family);
  return voice ? strokeLike(voice, { articulationId, mark }) : null;
}

/** Where and how copies are laid. */
export interface PasteWish {
  /** The first of them at a place, or each at its own place of the bar that the place is in. */
  readonly where: "place" | "bar";
  /**
   * Beside what is there, leaving out what would fall on it; in its place, on the drums that the copies are of; or in bars of their own,
   * which are put in before the bar of the place.
   */
  readonly how: "beside" | "instead" | "insert";
  /** How often, one behind the other; or as often as there is room for in the take. */
  readonly times: number | "end";
}

/** What a paste would do, before it is done. */
export interface PastePlan {
  readonly edit: Edit;
  readonly startTick: number;
  readonly endTick: number;
  readonly written: readonly Stroke[];
  /** Copies that are left out, since something is there already. */
  readonly inWayCount: number;
  /** Hits that make room. */
  readonly replaced: readonly Hit[];
  /** Drums that this take's map does not have. */
  readonly missing: readonly string[];
  /** How many bars are put in for them. */
  readonly newBars: number;
  /** Whether the copies are from bars of another length. */
  readonly isOtherMeter: boolean;
}

/** Nearer to a hit of the same drum than this, a copy would fall on it. */
const TAKEN_QUARTERS = 1 / 12;
const MOST_TIMES = 1000;

/**
 * @param placed all hits of the take with the ticks at which they sound
 * @param atTick where the playhead is, on the grid that is wished for
 */
export function planPaste(
  pattern: Pattern,
  placed: readonly PlacedHit[],
  meterMap: MeterMap,
  clip: Clip,
  atTick: number,
  { where, how, times }: PasteWish,
  newId: NewId,
): PastePlan {
  const factor = pattern.ppq / clip.ppq;
  const bar = barAt(meterMap, atTick);
  const isInserted = how === "insert";
  const base = where === "bar" ? bar.startTick : atTick - clip.startTick * factor;
  const spanTicks = Math.max(1, clip.spanTicks * factor);
  const startTick = base + clip.startTick * factor;
  // What is put in has no end to reach.
  const count =
    times === "end" ? (isInserted ? 1 : Math.max(1, Math.floor((pattern.lengthTicks - startTick) / spanTicks))) : times;
  const missing = new Set<string>();
  const known = clip.strokes.flatMap((stroke) => {
    const meaning = strokeInMap(pattern.noteMap, stroke);
    if (!meaning) missing.add(stroke.voiceName);
    const { velocity, marks: { lengthTicks, ...marks } = {} } = stroke;
    const length = lengthTicks === undefined ? {} : { lengthTicks: Math.max(1, Math.round(lengthTicks * factor)) };
    return meaning ? [{ ...meaning, tick: stroke.tick * factor, velocity, marks: { ...marks, ...length } }] : [];
  });
  const all = Array.from({ length: Math.min(MOST_TIMES, count) }, (_, turn) =>
    known.map((stroke) => ({ ...stroke, tick: Math.round(base + stroke.tick + turn * spanTicks) })),
  )
    .flat()
    .filter(({ tick }) => tick >= 0);
  const endTick = startTick + Math.min(MOST_TIMES, count) * spanTicks;
  const voiceIds = new Set(known.map(({ voiceId }) => voiceId));
  const early = SAME_PLACE_QUARTERS * pattern.ppq;
  const replaced =
    how === "instead"
      ? placed.flatMap(({ hit, tick }) =>
          voiceIds.has(hit.voiceId) && tick >= startTick - early && tick < endTick - early ? [hit] : [],
        )
      : [];
  const gone = new Set(replaced);
  const barTicks = bar.endTick - bar.startTick;
  const newBars = isInserted ? Math.max(1, Math.ceil((endTick - bar.startTick) / barTicks - 1e-9)) : 0;
  const before: readonly Edit[] = isInserted
    ? [insertBars(pattern, bar.startTick, bar, newBars)]
    : replaced.length > 0
      ? [{ kind: "removeHits", hits: replaced }]
      : [];
  const cleared = before.reduce(applyEdit, pattern);
  const free = placed.filter(({ hit }) => !gone.has(hit));
  const written = isInserted ? all : withoutTaken(all, free, pattern.ppq);
  const write = writeStrokes(cleared, written, newId);
  const edits = [...before, write].flatMap((edit) => (edit.kind === "together" ? edit.edits : [edit]));
  return {
    edit: edits.length === 1 ? edits[0]! : { kind: "together", edits },
    startTick,
    endTick,
    written,
    inWayCount: all.length - written.length,
    replaced,
    missing: [...missing],
    newBars,
    isOtherMeter: Math.abs(clip.barTicks * factor - barTicks) > 0.5,
  };
}

/** The strokes that would not fall on a hit of their own drum. */
export function withoutTaken(strokes: readonly Stroke[], placed: readonly PlacedHit[], ppq: number): readonly Stroke[] {
  const near = TAKEN_QUARTERS * ppq;
  const ticksOf = new Map<string, number[]>();
  for (const { hit, tick } of placed) {
    const ticks = ticksOf.get(hit.voiceId);
    if (ticks) ticks.push(tick);
    else ticksOf.set(hit.voiceId, [tick]);
  }
  for (const ticks of ticksOf.values()) ticks.sort((one, other) => one - other);
  return strokes.filter(({ voiceId, tick }) => {
    const ticks = ticksOf.get(voiceId) ?? [];
    let [low, high] = [0, ticks.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (ticks[middle]! < tick - near) low = middle + 1;
      else high = middle;
    }
    return !(ticks[low] !== undefined && ticks[low]! <= tick + near);
  });
}
