import type { Pattern } from "../core/part/index.ts";
import type { Grid } from "../core/time/index.ts";
import type { BenchState } from "./bench-state.ts";

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
  localStorage.setItem(key, JSON.stringify(view));
}

export function restoreView(key: string, pattern: Pattern): Partial<BenchState> {
  const stored = localStorage.getItem(key);
  if (!stored) return {};
  const { startTick, ticksPerPx, muted, soloed, hidden, openVoiceId, drawGrids, seen, asRecorded, ...view } =
    JSON.parse(stored) as KeptView;
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
