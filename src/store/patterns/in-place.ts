import { playsThisTime } from "../../core/chance.ts";
import {
  findVoice,
  type Hit,
  type Lane,
  type Pattern,
  type Treatment,
  USUAL_FULLNESS,
} from "../../core/document/index.ts";
import { barOf, endOf, type Rhythm, type RhythmBar, type RhythmStroke, rhythmBar } from "../../core/pattern/index.ts";
import { type Bar, barAt, type TimeMaps } from "../../core/time/index.ts";
import { treat } from "../../core/treat.ts";
import { heardBetween } from "../bench/bench-selectors.ts";
import type { LaneView } from "../bench/lane-view.ts";
import { inMap, placesOf } from "./lay-on.ts";

// A pattern of the shelf as it would be in a take: with the settings of its lanes, between its own bars.

/** Hits keep within no end: a pattern may be put behind the take. */
const NO_END = Number.MAX_SAFE_INTEGER;

/**
 * The strokes of a pattern as the lanes of a take would treat them, were they played from a bar line of it on. Drums that the take has no
 * lane for stay as they are.
 */
export function settledIn<Stroke extends RhythmStroke>(
  take: Pattern,
  maps: TimeMaps,
  startTick: number,
  { bars }: Pick<Rhythm, "bars">,
  strokes: readonly Stroke[],
): readonly Stroke[] {
  const places = placesOf(take, startTick, bars.length);
  const lanes = new Map(take.lanes.map((lane) => [lane.voiceId, lane]));
  const byLane = new Map<Lane, { readonly stroke: Stroke; readonly hit: Hit }[]>();
  const untouched: Stroke[] = [];
  for (const [index, stroke] of strokes.entries()) {
    const meaning = inMap(take.noteMap, stroke.hit);
    const lane = meaning && lanes.get(meaning.voiceId);
    if (!lane) {
      untouched.push(stroke);
      continue;
    }
    const bar = barOf(bars, stroke.quarters);
    const tick = places[bar]!.startTick + (stroke.quarters - bars[bar]!.startQuarters) * take.ppq;
    const played = byLane.get(lane) ?? [];
    byLane.set(lane, played);
    played.push({ stroke, hit: asPlayed(stroke, meaning, `${index}`, Math.max(0, Math.round(tick))) });
  }
  const settled = [...byLane].flatMap(([{ voiceId, treatment }, played]) => {
    const ordered = played.toSorted((a, b) => a.hit.recordedTick! - b.hit.recordedTick!);
    const hits = ordered.map(({ hit }) => hit);
    const { family } = findVoice(take.noteMap, voiceId);
    const { ticks, velocities } = treat(hits, asFarAsMeant(treatment), maps, NO_END, family);
    return ordered.map(({ stroke, hit }, row): Stroke => {
      const quarters = stroke.quarters + (ticks[row]! - hit.recordedTick!) / take.ppq;
      return { ...stroke, quarters: Math.max(0, quarters), velocity: velocities[row]! };
    });
  });
  return [...untouched, ...settled].sort((a, b) => a.quarters - b.quarters);
}

/** Nearer to half-way between two slots than this, a stroke was meant for a place that the lane's grid does not have. */
const MOST_REACH_PERCENT = 25;

/**
 * A pattern has places of its own: what the lane's grid lacks is not pulled to the slots that it has. What the take came in late by, and
 * how early or late its player sits, are not the pattern's.
 */
function asFarAsMeant(treatment: Treatment): Treatment {
  const { timing } = treatment;
  const reachPercent = Math.min(MOST_REACH_PERCENT, timing.reachPercent);
  return { ...treatment, timing: { ...timing, latencyMs: 0, pocketMs: 0, reachPercent } };
}

/** A stroke as if it had been recorded there: then the settings of its lane are done to it. */
function asPlayed(
  { velocity, hit }: RhythmStroke,
  meaning: { readonly voiceId: string; readonly articulationId: string },
  id: string,
  recordedTick: number,
): Hit {
  const { streamIndex, note, pedal } = hit;
  return {
    id,
    streamIndex,
    note,
    pedal,
    ...meaning,
    shutTicks: null,
    chokedTicks: null,
    recordedTick,
    recordedVelocity: velocity,
    pinnedTick: null,
    pinnedVelocity: null,
  };
}

/** A pattern between the bars of a take that are before and after its place. */
export interface Framed {
  readonly bars: readonly RhythmBar[];
  readonly strokes: readonly RhythmStroke[];
  /** What the take plays around it. */
  readonly around: readonly RhythmStroke[];
}

/** @param startTick a bar line of the take: where the pattern would begin */
export function framedBy(
  take: Pattern,
  lanes: readonly LaneView[],
  maps: TimeMaps,
  startTick: number,
  { bars }: Pick<Rhythm, "bars">,
  strokes: readonly RhythmStroke[],
): Framed {
  const endTick = placesOf(take, startTick, bars.length).at(-1)!.endTick;
  const before = startTick > 0 ? barAt(maps.meterMap, startTick - 1) : null;
  const after = endTick < take.lengthTicks ? barAt(maps.meterMap, endTick) : null;
  const shift = before ? lengthOf(before, take.ppq) : 0;
  const own = bars.map((bar) => ({ ...bar, startQuarters: bar.startQuarters + shift }));
  const afterQuarters = shift + endOf(bars);
  return {
    bars: [
      ...(before ? [rhythmBar(before, 0, take.ppq)] : []),
      ...own,
      ...(after ? [rhythmBar(after, afterQuarters, take.ppq)] : []),
    ],
    strokes: strokes.map((stroke) => ({ ...stroke, quarters: stroke.quarters + shift })),
    around: [
      ...(before ? strokesIn(take, lanes, before, 0) : []),
      ...(after ? strokesIn(take, lanes, after, afterQuarters) : []),
    ],
  };
}

const lengthOf = ({ startTick, endTick }: Bar, ppq: number) => (endTick - startTick) / ppq;

/** What a take plays in one of its bars, as it goes out first. */
function strokesIn(take: Pattern, lanes: readonly LaneView[], { startTick, endTick }: Bar, fromQuarters: number) {
  const { fullness = USUAL_FULLNESS, ppq } = take;
  return heardBetween(lanes, startTick, endTick)
    .filter(({ hit }) => playsThisTime(hit, fullness, 0))
    .map(({ hit, voice: { family }, tick, velocity }): RhythmStroke => {
      return { family, quarters: fromQuarters + (tick - startTick) / ppq, velocity, hit };
    });
}
