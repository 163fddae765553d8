import type { PlacedHit } from "../../../core/commands/index.ts";
import { baseVelocity, type Edit } from "../../../core/document/index.ts";
import {
  alongContour,
  type Contour,
  type ContourSpan,
  type CopiedContour,
  copyContour,
  layContour,
  setVelocities,
} from "../../../core/dynamics/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { pickedHits } from "../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { hitCount, workingLane } from "../commands/actions.ts";
import { meantStretch } from "../commands/write-actions.ts";

// Shapes that a hand lays over some hits: those that are picked, or what the open lane has in the loop or in view.

type Said = string | null;

/** How loudness is led by hand. */
export interface HandShape {
  readonly contour: Contour;
  readonly from: number;
  readonly to: number;
  readonly span: ContourSpan;
}

interface Placed extends PlacedHit {
  readonly velocity: number;
}

/** The hits that are meant, by when they sound. */
export function meantHits(state: BenchState): readonly Placed[] {
  const picked = pickedHits(state);
  const placed = picked.length > 0 ? picked : hitsInStretch(state);
  return placed
    .map((one) => ({ ...one, velocity: one.velocity ?? baseVelocity(one.hit) }))
    .toSorted((a, b) => a.tick - b.tick);
}

function hitsInStretch(state: BenchState): readonly PlacedHit[] {
  const lane = workingLane(state);
  if (!lane) return [];
  const { startTick, endTick } = meantStretch(state);
  return lane.hits.flatMap((hit, row): PlacedHit[] => {
    const tick = lane.cleaned.ticks[row]!;
    return tick >= startTick && tick < endTick ? [{ hit, tick, velocity: lane.cleaned.velocities[row]! }] : [];
  });
}

function withValues(placed: readonly Placed[], values: readonly number[]): Edit {
  const loudness = new Map(placed.map(({ hit }, index) => [hit, values[index]!]));
  return setVelocities(
    placed.map(({ hit }) => hit),
    (hit) => loudness.get(hit)!,
  );
}

/** The edit that leads what is meant along a shape; to be shown, or to be done. */
export function handEdit(state: BenchState, shape: HandShape): Edit {
  const placed = meantHits(state);
  return withValues(placed, alongContour(placed, shape, state.maps.meterMap));
}

export function leadByHand({ store }: Bench, shape: HandShape): Said {
  const state = store.getState();
  const count = meantHits(state).length;
  if (count === 0) return NOTHING_MEANT;
  store.commit(`Lead ${hitCount(count)} ${shape.from}→${shape.to}, ${shape.contour}`, handEdit(state, shape));
  return null;
}

const NOTHING_MEANT = "Select some hits first, or open a lane that has some in view.";

/** Moves the mean of what is meant, in proportion: the shape stays. */
export function moveMean({ store }: Bench, toMean: number): Said {
  const placed = meantHits(store.getState());
  if (placed.length === 0) return NOTHING_MEANT;
  const mean = placed.reduce((sum, { velocity }) => sum + velocity, 0) / placed.length;
  store.commit(
    `Move the mean of ${hitCount(placed.length)} to ${toMean}`,
    withValues(
      placed,
      placed.map(({ velocity }) => (velocity * toMean) / mean),
    ),
  );
  return null;
}

/** The shape that was copied last; it goes along to other takes as long as the page is open. */
let copied: CopiedContour | null = null;

export function copyShape({ store }: Bench): Said {
  const state = store.getState();
  const placed = meantHits(state);
  const shape = copyContour(placed, state.maps.meterMap);
  if (!shape) return NOTHING_MEANT;
  copied = shape;
  return `Copied the shape of ${hitCount(placed.length)}. Lay it on others: of another drum, or another bar.`;
}

/** @param keepsMean around the mean that the hits have; otherwise as loud as where it was copied */
export function layShape({ store }: Bench, keepsMean: boolean): Said {
  const state = store.getState();
  const placed = meantHits(state);
  if (!copied) return "No shape is copied yet.";
  if (placed.length === 0) return NOTHING_MEANT;
  const values = layContour(placed, copied, state.maps.meterMap, keepsMean);
  store.commit(`Lay the copied shape on ${hitCount(placed.length)}`, withValues(placed, values));
  return `Laid the shape on ${hitCount(placed.length)}.`;
}
