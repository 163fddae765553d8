import { barOfGroove, type Groove, type GrooveLayer, layerFor } from "../document/groove.ts";
import type { Family } from "../document/index.ts";
import type { TimingTreatment } from "../document/treatment.ts";
import { remembering } from "../remember.ts";
import { gridStepTicks, type MeterMap } from "../time/index.ts";
import { PlaceFinder } from "../timing/places.ts";

/** Where a groove wants the hits of a lane, and how loud. Row i is hit i. */
export interface LaidGroove {
  /** How far off its slot the groove has each hit, later is positive; 0 where it says nothing of it. */
  readonly shiftTicks: Float64Array;
  /** In proportion; 1 where the groove has no place for it. */
  readonly accents: Float64Array;
}

/** A hit that is farther than this from a place of the groove, in its steps, is between two of them. */
const ON_PLACE = 0.02;

/**
 * Lays a groove on the slots of a lane: by where they are in the bar, without their swing, over and over from each bar line, so that
 * another meter begins anew with its bar. A slot between two places of the groove takes what lies between.
 * @param slotTicks where each hit belongs
 * @param firstBar the bar that a groove of several bars is counted from
 */
export function layGroove(
  groove: Groove,
  family: Family,
  slotTicks: Float64Array,
  plan: Pick<TimingTreatment, "grid" | "stretches" | "ghostGrid">,
  meterMap: MeterMap,
  firstBar = 0,
): LaidGroove {
  // Some rows of a voice, as in a pattern of a song, are columns that nobody asks for again.
  if (slotTicks.byteLength < slotTicks.buffer.byteLength)
    return lay(groove, family, slotTicks, plan, meterMap, firstBar);
  const { grid, ghostGrid, stretches } = plan;
  return rememberLaid(slotTicks, [groove, family, meterMap, grid, ghostGrid, stretches, firstBar], () =>
    lay(groove, family, slotTicks, plan, meterMap, firstBar),
  );
}

/** A drag of how far a groove is followed asks for the same slots on every frame. */
const rememberLaid = remembering<Float64Array, LaidGroove>();

/** A layer as columns: reading an object for each hit took longer than the arithmetic, and a song lays it thousands of times. */
function columnsOfLayer(layer: GrooveLayer): LayerColumns {
  return rememberColumns(layer, [], () => ({
    offsets: Float64Array.from(layer.slots, ({ offset }) => offset),
    accents: Float64Array.from(layer.slots, ({ accent }) => accent),
  }));
}

interface LayerColumns {
  readonly offsets: Float64Array;
  readonly accents: Float64Array;
}

const rememberColumns = remembering<GrooveLayer, LayerColumns>();

function lay(
  groove: Groove,
  family: Family,
  slotTicks: Float64Array,
  plan: Pick<TimingTreatment, "grid" | "stretches" | "ghostGrid">,
  meterMap: MeterMap,
  firstBar: number,
): LaidGroove {
  const shiftTicks = new Float64Array(slotTicks.length);
  const accents = new Float64Array(slotTicks.length).fill(1);
  const layer = layerFor(groove, family);
  if (!layer) return { shiftTicks, accents };
  const { offsets, accents: slotAccents } = columnsOfLayer(layer);
  const count = offsets.length;
  const stepTicks = gridStepTicks(groove.grid, meterMap.ppq);
  const lengthTicks = groove.lengthQuarters * meterMap.ppq;
  const places = new PlaceFinder(plan, meterMap);
  for (let row = 0; row < slotTicks.length; row++) {
    places.find(slotTicks[row]!);
    const { bar, inBarTicks } = places;
    const barTicks = bar.endTick - bar.startTick;
    const inGroove = inBarTicks + barOfGroove(lengthTicks, barTicks, bar.barIndex - firstBar) * barTicks;
    // A division by steps of whole bars is dear, and hardly ever needed.
    const place = (inGroove < lengthTicks ? inGroove : inGroove % lengthTicks) / stepTicks;
    const before = Math.floor(place + ON_PLACE);
    const share = place - before;
    const here = before < count ? before : before % count;
    const isBetween = share > ON_PLACE;
    const offset = isBetween
      ? offsets[here]! + share * (offsets[(here + 1) % count]! - offsets[here]!)
      : offsets[here]!;
    shiftTicks[row] = bar.startTick + inBarTicks + offset * stepTicks - slotTicks[row]!;
    // Between two places nothing is known of loudness.
    if (!isBetween) accents[row] = slotAccents[here]!;
  }
  return { shiftTicks, accents };
}
