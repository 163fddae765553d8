import { baseTick, lateMsOf, ownWords, ROLES, roleWord } from "../../../core/document/index.ts";
import type { Side } from "../../../core/song/index.ts";
import { barAt, tickToBarBeat, tickToMs } from "../../../core/time/index.ts";
import { type LaneView, sideOf } from "../../../store/bench/lane-view.ts";
import { driftWords } from "../lanes/drag-edits.ts";

/** What has moved a hit on which a groove lies: the latency that is taken off, the grid, and the groove. */
export function movedWords({ cleaned, hits, treatment, maps: { tempoMap } }: LaneView, row: number): readonly string[] {
  const { feelTicks, placedTicks } = cleaned;
  if (!feelTicks || feelTicks[row] === 0) return [];
  const msBetween = (from: number, to: number) => Math.round(tickToMs(tempoMap, to) - tickToMs(tempoMap, from));
  const placed = placedTicks[row]!;
  const lateMs = lateMsOf(hits[row]!, treatment.timing);
  const parts = [
    ...(lateMs === 0 ? [] : [["latency", Math.round(-lateMs)] as const]),
    ["grid", msBetween(baseTick(hits[row]!), placed) + Math.round(lateMs)],
    ["groove", msBetween(placed, placed + feelTicks[row]!)],
  ] as const;
  return parts.map(
    ([what, ms]) => `${what} ${ms === 0 ? "± 0 ms" : `${Math.abs(ms)} ms ${ms < 0 ? "earlier" : "later"}`}`,
  );
}

/** A hit as it is read out: `Snare, bar 5 beat 2, velocity 38, ghost, 6 ms late`. */
export function hitWords(lane: LaneView, row: number, side: Side): string {
  const { ticks, velocities, timesMs } = sideOf(lane, side);
  const { meterMap, tempoMap } = lane.maps;
  const hit = lane.hits[row]!;
  const { barIndex, beatIndex } = tickToBarBeat(meterMap, ticks[row]!);
  const place = placeInBeat(lane, lane.cleaned.slotTicks[row]!);
  const driftMs = timesMs[row]! - tickToMs(tempoMap, lane.cleaned.slotTicks[row]!);
  // The first stroke of a drum is the one that is meant by its name alone.
  const stroke = lane.voice.articulations.slice(1).find(({ id }) => id === hit.articulationId)?.name;
  const words = [
    lane.voice.name,
    ...(stroke ? [stroke] : []),
    `bar ${barIndex + 1} beat ${beatIndex + 1}${place}`,
    `velocity ${velocities[row]}`,
    roleWord(ROLES[lane.roles[row]!]!, 1),
    driftWords(Math.round(driftMs)),
  ];
  if (hit.pinnedTick !== null && side !== "recorded") words.push("pinned");
  else if (side === "cleaned") words.push(...movedWords(lane, row));
  if (side !== "recorded") words.push(...ownWords(hit));
  if (hit.isMuted) words.push("muted");
  if (lane.cleaned.isLeftOut[row] === 1 && side !== "recorded") words.push("left out by the repair");
  return words.join(", ");
}

/** How places between the beats are counted aloud. */
const COUNTED: readonly (readonly [share: number, name: string])[] = [
  [1 / 4, " e"],
  [1 / 3, " trip"],
  [1 / 2, " &"],
  [2 / 3, " let"],
  [3 / 4, " a"],
];
const NEAR_SHARE = 0.04;

/** ` &`, ` e`, ` trip`: where in its beat a slot is, as it is counted; nothing on the beat and between such places. */
function placeInBeat({ maps: { meterMap } }: LaneView, slotTick: number): string {
  const { startTick, endTick, pulseTicks } = barAt(meterMap, slotTick);
  const inBar = slotTick - startTick;
  const beat = Math.max(
    0,
    pulseTicks.findLastIndex((tick) => tick <= inBar),
  );
  const length = (pulseTicks[beat + 1] ?? endTick - startTick) - pulseTicks[beat]!;
  const share = (inBar - pulseTicks[beat]!) / length;
  return COUNTED.find(([counted]) => Math.abs(share - counted) < NEAR_SHARE)?.[1] ?? "";
}
