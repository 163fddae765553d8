import type { ActKind } from "./act-kind.ts";
import {
  type ChanceAct,
  chance,
  type OffsetAct,
  type OwnDeviationAct,
  offset,
  ownDeviation,
  type WindowAct,
  window,
} from "./chance.ts";
import { type ContourAct, contour } from "./contour.ts";
import {
  type MuteAct,
  mute,
  type RemoveAct,
  type RevoiceAct,
  remove,
  revoice,
  type TakeOutAct,
  takeOut,
} from "./strokes.ts";
import {
  type HumanizeAct,
  humanize,
  type ShiftMsAct,
  type ShiftTicksAct,
  type StretchTimeAct,
  shiftMs,
  shiftTicks,
  stretchTime,
} from "./time.ts";
import {
  type AddAct,
  add,
  type EvenOutAct,
  evenOut,
  type FitInAct,
  fitIn,
  type RangeAct,
  range,
  type ScaleAct,
  type SetAct,
  scale,
  set,
} from "./velocity.ts";

/** One change that a chore makes to the hits that its rule selects. */
export type ChoreAct =
  | AddAct
  | ScaleAct
  | SetAct
  | EvenOutAct
  | RangeAct
  | ContourAct
  | FitInAct
  | ShiftMsAct
  | ShiftTicksAct
  | HumanizeAct
  | RevoiceAct
  | MuteAct
  | RemoveAct
  | StretchTimeAct
  | TakeOutAct
  | ChanceAct
  | WindowAct
  | OwnDeviationAct
  | OffsetAct;

/** Every act, in the order in which they are offered. */
export const ACT_KINDS = {
  add,
  scale,
  set,
  evenOut,
  range,
  contour,
  fitIn,
  shiftMs,
  shiftTicks,
  humanize,
  revoice,
  mute,
  remove,
  stretchTime,
  takeOut,
  chance,
  window,
  ownDeviation,
  offset,
} satisfies { readonly [Kind in ChoreAct["kind"]]: ActKind<Extract<ChoreAct, { readonly kind: Kind }>> };

/** The record holds for each kind what takes acts of that kind, which the compiler knows of each and not of any. */
export function kindOfAct(act: ChoreAct): ActKind<ChoreAct> {
  return ACT_KINDS[act.kind] as unknown as ActKind<ChoreAct>;
}

/** What can be done, as it is offered. */
export const ACT_OFFERS: readonly { readonly name: string; readonly act: ChoreAct }[] = Object.values(
  ACT_KINDS,
).flatMap<{ readonly name: string; readonly act: ChoreAct }>(({ offers }) => offers);
