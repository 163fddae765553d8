import { checkOf } from "../api/check-shape.ts";
import type { Pattern } from "../core/document/index.ts";
import { grid } from "../core/document/shapes/values.ts";
import { id, orNull, record, withOptional } from "../core/json-shape.ts";
import { SIDES } from "../core/song/index.ts";
import type { Grid } from "../core/time/index.ts";
import { type BenchState, COLOUR_BYS } from "./bench-state.ts";
import { keep, readKept } from "./browser-store.ts";

/** What is kept of the view in the browser, beside the pattern on the server. */
type KeptView = Pick<
  BenchState,
  "openVoiceId" | "side" | "loop" | "click" | "playheadTick" | "colourBy" | "showsControls" | "areSlim"
> & {
  /** Pairs of voice and grid. */
  readonly drawGrids?: readonly (readonly [string, Grid | "off"])[];
  readonly seen?: readonly string[];
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
      drawGrids: { type: "array", items: { type: "array", minItems: 2, maxItems: 2, items: { anyOf: [id, grid] } } },
      seen: ids,
      asRecorded: ids,
    },
  ),
);

export function keepView(key: string, state: BenchState): void {
  const { openVoiceId, side, loop, click, playheadTick, muted, soloed, hidden, viewport } = state;
  const { colourBy, showsControls, areSlim, drawGrids, seen, asRecorded } = state;
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
    areSlim,
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
  const { startTick, ticksPerPx, muted, soloed, hidden, openVoiceId, drawGrids, seen, asRecorded, ...view } = kept;
  const isLane = (voiceId: string) => pattern.lanes.some((lane) => lane.voiceId === voiceId);
  return {
    ...view,
    ...(openVoiceId === null || isLane(openVoiceId) ? { openVoiceId } : {}),
    drawGrids: new Map(drawGrids),
    seen: new Set(seen),
    asRecorded: new Set(asRecorded),
    muted: new Set(muted.filter(isLane)),
    soloed: new Set(soloed.filter(isLane)),
    hidden: new Set(hidden.filter(isLane)),
    viewport: { startTick, ticksPerPx, widthPx: 0 },
  };
}
