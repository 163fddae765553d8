import { changeTreatments } from "../../../core/commands/index.ts";
import { type Edit, type Groove, type GrooveLayer, slotCountOf } from "../../../core/document/index.ts";
import type { FeelTreatment } from "../../../core/document/treatment.ts";
import { takeGroove } from "../../../core/groove/index.ts";
import type { Grid } from "../../../core/time/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";

/** What a groove is taken from. */
export type TakeSource = "voice" | "picked" | "loop" | "all";

/** How a groove is taken. */
export interface TakeSetting {
  readonly source: TakeSource;
  readonly side: "recorded" | "cleaned";
  readonly grid: Grid;
  readonly lengthQuarters: number;
  readonly isByFamily: boolean;
}

/** The layers of a groove taken from the take; empty if nothing that is meant is on its places. */
export function layersFrom(state: BenchState, voiceId: string, setting: TakeSetting): readonly GrooveLayer[] {
  const { lanes, picked, loop, maps } = state;
  const { source } = setting;
  const meant = source === "voice" ? lanes.filter((lane) => lane.voiceId === voiceId) : lanes;
  const inLoop = () =>
    new Set(
      lanes.flatMap(({ hits, cleaned }) =>
        hits
          .filter((_, row) => loop && cleaned.ticks[row]! >= loop.startTick && cleaned.ticks[row]! < loop.endTick)
          .map(({ id }) => id),
      ),
    );
  const among = source === "picked" ? picked : source === "loop" ? inLoop() : null;
  return takeGroove(meant, { ...setting, among }, maps);
}

/** Lays a feel on some voices; null takes it off. */
export function feelEdit(
  { pattern }: Pick<BenchState, "pattern">,
  voiceIds: ReadonlySet<string>,
  feel: FeelTreatment | null,
): Edit {
  return changeTreatments(pattern, voiceIds, ({ feel: _, ...treatment }) =>
    feel ? { ...treatment, feel: { ...feel, groove: laid(feel.groove) } } : treatment,
  );
}

/** A groove as a lane holds it: by what it is, without what the shelf says of it. */
function laid({ id, name, lengthQuarters, grid, layers }: Groove): Groove {
  return { id, name, lengthQuarters, grid, layers };
}

/** Lays the feel of a voice on every other as well: one drummer. */
export function giveFeel({ store }: Bench, feel: FeelTreatment): string {
  const state = store.getState();
  const all = new Set(state.pattern.lanes.map(({ voiceId }) => voiceId));
  store.commit(`Lay ${feel.groove.name} on every voice`, feelEdit(state, all, feel));
  return `“${feel.groove.name}” is used for all ${all.size} voices. One undo takes it back.`;
}

export function slotsPerQuarter({ lengthQuarters, grid }: Pick<Groove, "lengthQuarters" | "grid">): number {
  return slotCountOf(lengthQuarters, grid) / lengthQuarters;
}
