import type { Family, Hit, RoleBorders, TreatmentChange } from "../../../../core/document/index.ts";
import type { Marker } from "../../../../core/file/index.ts";
import type { Grid, GridStretch, TimeMaps } from "../../../../core/time/index.ts";
import type { Viewport } from "../../../../store/bench/viewport.ts";
import type { LoopRange } from "../../../../store/playback/playing.ts";
import type { LaneBox } from "../lane-layout.ts";
import type { Inks } from "./inks.ts";

// What the lanes and the ruler are painted from: plain values and columns, since the painting is done in a worker.

/** What is marked on single hits. */
export const BIT = { picked: 1, pinned: 2, muted: 4, flagged: 8 } as const;

/** Stands among chances for a hit that is played in every repeat, however full the part is. */
export const ALWAYS_PLAYED = 255;

/** One lane. Row i of every column belongs to hit i. */
export interface LanePicture {
  readonly voiceId: string;
  readonly ink: Family;
  /** For each hit its place in `FAMILIES`, where hits of a lane differ in their ink. */
  readonly hitInks: Uint8Array | null;
  /** Whether the strength of its ink says how loud a hit is. */
  readonly isShaded: boolean;
  /** Whether it is drawn at full strength: it is heard, and no other is in front of it. */
  readonly isClear: boolean;
  /** Whether another side is shown than the recorded one. */
  readonly isCleaned: boolean;
  /** Of the side that is shown. */
  readonly ticks: Float64Array;
  readonly velocities: Uint8Array;
  readonly recordedTicks: Float64Array;
  readonly recordedVelocities: Uint8Array;
  /** Places in `ROLES`. */
  readonly roles: Uint8Array;
  /** Places in `ARTICULATION_MARKS`. */
  readonly marks: Uint8Array;
  /** How long each hit rings until something stops it, in ticks; infinite if nothing does. */
  readonly ringTicks: Float64Array;
  /** Of `BIT`. */
  readonly bits: Uint8Array;
  /** How often each hit is played, in percent; `ALWAYS_PLAYED` for always. Null if all are. */
  readonly chances: Uint8Array | null;
  /** For the open lane. */
  readonly cleanedTicks: Float64Array;
  readonly slotTicks: Float64Array;
  readonly articulationRows: Int8Array;
  readonly isTreated: boolean;
  /** The grid that hits are drawn on; in stretches it is theirs. */
  readonly handGrid: Grid;
  readonly stretches: readonly GridStretch[] | undefined;
  readonly roleBorders: RoleBorders;
  /** The loudest of each layer of the kit but the last. */
  readonly layerBorders: readonly number[];
  readonly meanDriftMs: number | null;
  readonly spreadMs: number;
}

/** The size of what is painted on, in CSS px. */
export interface Size {
  readonly widthPx: number;
  readonly heightPx: number;
}

/** Everything but the lanes' own. */
export interface ScenePicture {
  readonly boxes: readonly LaneBox[];
  readonly maps: TimeMaps;
  readonly lengthTicks: number;
  readonly viewport: Viewport;
  readonly loop: LoopRange | null;
  readonly markers: readonly Marker[];
  /** Whether hits that are not picked stand back. */
  readonly fadesOthers: boolean;
  /** Whether hits are being drawn: then every lane shows what they are drawn on. */
  readonly isDrawing: boolean;
  /** The grid of the lane that is worked on: what is counted between the beats when there is room. */
  readonly countGrid: Grid | null;
  /** Whether each slot is shown as a cell. */
  readonly showsCells: boolean;
  readonly inks: Inks;
}

/** What a lane is treated from, while one of its settings is dragged. */
export interface LaneSource {
  readonly voiceId: string;
  readonly hits: readonly Hit[];
  readonly family: Family;
  readonly lengthTicks: number;
}

/** What is other than it was. */
export interface PictureNews {
  readonly scene: Partial<ScenePicture>;
  /** All lanes in order, each with what of it has changed. */
  readonly lanes: readonly (Partial<LanePicture> & Pick<LanePicture, "voiceId">)[];
  /** Settings that are dragged now; null for none. Left out if they are as they were. */
  readonly dragged?: readonly Pick<TreatmentChange, "voiceId" | "to">[] | null;
  /** Of lanes whose settings are dragged, if they were not told yet. */
  readonly sources?: readonly LaneSource[];
}

/** What is painted on. */
export const SURFACES = ["lanes", "ruler"] as const;
export type Surface = (typeof SURFACES)[number];

/** What the painter is told. */
export type PainterMessage =
  | { readonly kind: "surface"; readonly surface: Surface; readonly canvas: OffscreenCanvas }
  | { readonly kind: "size"; readonly surface: Surface; readonly size: Size; readonly scale: number }
  | { readonly kind: "news"; readonly news: PictureNews };

/** What the painter says once, when it runs. */
export const STARTED = "started";

/** What of a value is other than it was, looked at one level deep. */
export function differences<Value extends object>(before: Value | undefined, after: Value): Partial<Value> {
  const other: Partial<Value> = {};
  for (const name of Object.keys(after) as (keyof Value)[]) {
    if (before === undefined || before[name] !== after[name]) other[name] = after[name];
  }
  return other;
}
