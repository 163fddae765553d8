import { checkOf } from "../../api/check-shape.ts";
import type { Pattern } from "../../core/document/index.ts";
import { grid } from "../../core/document/shapes/values.ts";
import { id, orNull, record, withOptional } from "../../core/json-shape.ts";
import { SIDES } from "../../core/song/index.ts";
import type { Grid } from "../../core/time/index.ts";
import { keep, readKept } from "../project/browser-store.ts";
import type { BenchState } from "./bench-state.ts";
import { COLOUR_BYS, type LaneSize, LEAST_LANE_ZOOM, MOST_LANE_ZOOM, SLIM_LANE_ZOOM } from "./view.ts";

/** What is kept of the view in the browser, beside the pattern on the server. */
type KeptView = Pick<
  BenchState,
  "openVoiceId" | "side" | "loop" | "click" | "playheadTick" | "colourBy" | "showsControls"
> & {
  /** Pairs of voice and grid; an older version kept “off” for drawing off any grid. */
  readonly drawGrids?: readonly (readonly [string, Grid | string])[];
  readonly seen?: readonly string[];
  /** An older version kept only whether all lanes are low. */
  readonly areSlim?: boolean;
  readonly laneZoom?: number;
  readonly laneSizes?: readonly (readonly [string, LaneSize])[];
  readonly keptOpen?: readonly string[];
  readonly asRecorded?: readonly string[];
  readonly hidden: readonly string[];
  readonly muted: readonly string[];
  readonly soloed: readonly string[];
  readonly startTick: number;
  readonly ticksPerPx: number;
};

const yesOrNo = { type: "boolean" };
const place = { type: "number", minimum: 0 };
const ids = { type: "array", items: id };
const lanePx = { type: "number", minimum: 10, maximum: 2000 };
const laneSize = withOptional(record({}), { closedPx: lanePx, fieldPx: lanePx });
/** What an older version kept has fewer fields: those that were there from the start are required. */
const isView = checkOf(
  withOptional(
    record({
      openVoiceId: orNull(id),
      side: { enum: SIDES },
      loop: orNull(record({ startTick: place, endTick: place })),
      click: record({ isOn: yesOrNo, hasOffBeats: yesOrNo }),
      playheadTick: place,
      muted: ids,
      soloed: ids,
      hidden: ids,
      startTick: { type: "number" },
      ticksPerPx: { type: "number", minimum: 1e-6, maximum: 1e9 },
    }),
    {
      colourBy: { enum: COLOUR_BYS },
      showsControls: yesOrNo,
      areSlim: yesOrNo,
      laneZoom: { type: "number", minimum: LEAST_LANE_ZOOM, maximum: MOST_LANE_ZOOM },
      laneSizes: {
        type: "array",
        items: { type: "array", minItems: 2, maxItems: 2, items: { anyOf: [id, laneSize] } },
      },
      keptOpen: ids,
      drawGrids: { type: "array", items: { type: "array", minItems: 2, maxItems: 2, items: { anyOf: [id, grid] } } },
      seen: ids,
      asRecorded: ids,
    },
  ),
);

export function keepView(key: string, state: BenchState): void {
  const { openVoiceId, side, loop, click, playheadTick, muted, soloed, hidden, viewport } = state;
  const { colourBy, showsControls, laneZoom, laneSizes, keptOpen, drawGrids, seen, asRecorded } = state;
  if (viewport.widthPx === 0) return;
  const { startTick, ticksPerPx } = viewport;
  const view: KeptView = {
    openVoiceId,
    side,
    loop,
    click,
    playheadTick,
    colourBy,
    showsControls,
    laneZoom,
    laneSizes: [...laneSizes],
    keptOpen: [...keptOpen],
    drawGrids: [...drawGrids],
    seen: [...seen],
    asRecorded: [...asRecorded],
    muted: [...muted],
    soloed: [...soloed],
    hidden: [...hidden],
    startTick,
    ticksPerPx,
  };
  keep(key, view);
}

export function restoreView(key: string, pattern: Pattern): Partial<BenchState> {
  const kept = readKept<KeptView>(key, isView);
  if (!kept) return {};
  const { startTick, ticksPerPx, muted, soloed, hidden, openVoiceId, drawGrids, seen, asRecorded, ...lasting } = kept;
  const { areSlim, laneZoom, laneSizes, keptOpen, ...view } = lasting;
  const isLane = (voiceId: string) => pattern.lanes.some((lane) => lane.voiceId === voiceId);
  return {
    ...view,
    ...(openVoiceId === null || isLane(openVoiceId) ? { openVoiceId } : {}),
    drawGrids: new Map(
      drawGrids?.flatMap(([voiceId, one]) => (typeof one === "string" ? [] : [[voiceId, one] as const])),
    ),
    laneZoom: laneZoom ?? (areSlim ? SLIM_LANE_ZOOM : 1),
    laneSizes: new Map(laneSizes),
    keptOpen: new Set(keptOpen?.filter(isLane)),
    seen: new Set(seen),
    asRecorded: new Set(asRecorded),
    muted: new Set(muted.filter(isLane)),
    soloed: new Set(soloed.filter(isLane)),
    hidden: new Set(hidden.filter(isLane)),
    viewport: { startTick, ticksPerPx, widthPx: 0 },
  };
}
