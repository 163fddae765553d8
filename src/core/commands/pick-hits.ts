import { baseVelocity } from "../document/pattern.ts";
import { extentOf } from "../extent.ts";
import { barAt, type MeterMap, tickToBarBeat } from "../time/index.ts";
import type { PlacedHit } from "./commands.ts";

// From some picked hits to others that are like them. Each returns ids.

/** Hits this much softer or louder sound alike. */
const ALIKE_VELOCITY = 6;
/** Hits at most this far apart, in parts of a quarter, are played for the same place. */
export const SAME_PLACE_QUARTERS = 1 / 10;

/** Every hit of the strokes that are picked. */
export function likeStrokes(all: readonly PlacedHit[], picked: readonly PlacedHit[]): ReadonlySet<string> {
  const keyOf = ({ hit }: PlacedHit) => `${hit.voiceId}/${hit.articulationId}`;
  const keys = new Set(picked.map(keyOf));
  return idsOf(all.filter((one) => keys.has(keyOf(one))));
}

/** Every hit of the voices that are picked that is about as loud as one of the picked hits of its voice. */
export function likeLoudness(all: readonly PlacedHit[], picked: readonly PlacedHit[]): ReadonlySet<string> {
  return idsOf(
    all.filter(({ hit }) =>
      picked.some(
        (one) =>
          one.hit.voiceId === hit.voiceId && Math.abs(baseVelocity(one.hit) - baseVelocity(hit)) <= ALIKE_VELOCITY,
      ),
    ),
  );
}

/** Every hit of the voices that are picked at the same places of any bar of the same meter. */
export function likePlaces(
  all: readonly PlacedHit[],
  picked: readonly PlacedHit[],
  meterMap: MeterMap,
): ReadonlySet<string> {
  const near = SAME_PLACE_QUARTERS * meterMap.ppq;
  const placeOf = (tick: number) => {
    const bar = barAt(meterMap, tick);
    const barTicks = bar.endTick - bar.startTick;
    const { numerator, denominator } = bar.meter;
    return { inBar: tick - bar.startTick, barTicks, meter: `${numerator}/${denominator}` };
  };
  const wanted = picked.map(({ hit, tick }) => ({ voiceId: hit.voiceId, ...placeOf(tick) }));
  return idsOf(
    all.filter(({ hit, tick }) => {
      const { inBar, barTicks, meter } = placeOf(tick);
      return wanted.some((one) => {
        if (one.voiceId !== hit.voiceId || one.meter !== meter) return false;
        // A hit slightly ahead of a bar line is played for the bar that it leads into.
        const apart = Math.abs(one.inBar - inBar);
        return Math.min(apart, barTicks - apart) <= near;
      });
    }),
  );
}

/** The hits of the voices that are picked that are not picked themselves; of all voices if none is. */
export function others(all: readonly PlacedHit[], picked: readonly PlacedHit[]): ReadonlySet<string> {
  const voices = new Set(picked.map(({ hit }) => hit.voiceId));
  const pickedIds = idsOf(picked);
  return idsOf(all.filter(({ hit }) => (voices.size === 0 || voices.has(hit.voiceId)) && !pickedIds.has(hit.id)));
}

/**
 * Where copies of hits go, so that they follow the originals: as many whole beats on as the hits take, counted from the beat
 * that the first one is played on.
 * @returns a distance in ticks
 */
export function distanceOfCopies(placed: readonly PlacedHit[], meterMap: MeterMap): number {
  const [, last] = extentOf(placed.map(({ tick }) => tick));
  const near = SAME_PLACE_QUARTERS * meterMap.ppq;
  const startTick = firstBeat(placed, meterMap);
  let endTick = pulseAfter(meterMap, startTick);
  while (endTick <= last + near) endTick = pulseAfter(meterMap, endTick);
  return endTick - startTick;
}

/** The beat that the first of some hits is played on, also where it is a little early. */
export function firstBeat(placed: readonly PlacedHit[], meterMap: MeterMap): number {
  const [first] = extentOf(placed.map(({ tick }) => tick));
  return pulseAt(meterMap, first + SAME_PLACE_QUARTERS * meterMap.ppq);
}

/** The pulse at or before a tick. */
export function pulseAt(meterMap: MeterMap, tick: number): number {
  const bar = barAt(meterMap, Math.max(0, tick));
  return bar.startTick + (bar.pulseTicks[tickToBarBeat(meterMap, Math.max(0, tick)).beatIndex] ?? 0);
}

/** The pulse after the one that a tick is at or behind. */
export function pulseAfter(meterMap: MeterMap, tick: number): number {
  const bar = barAt(meterMap, Math.max(0, tick));
  const next = bar.pulseTicks[tickToBarBeat(meterMap, Math.max(0, tick)).beatIndex + 1];
  return next === undefined ? bar.endTick : Math.min(bar.endTick, bar.startTick + next);
}

function idsOf(placed: readonly PlacedHit[]): ReadonlySet<string> {
  return new Set(placed.map(({ hit }) => hit.id));
}
