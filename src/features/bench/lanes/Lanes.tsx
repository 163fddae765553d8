import clsx from "clsx";
import { type KeyboardEvent, type RefObject, useEffect, useMemo, useRef, useState } from "react";
import { useStore } from "zustand";
import { useShallow } from "zustand/shallow";
import { pulseAfter, pulseAt } from "../../../core/commands/index.ts";
import type { MeterMap } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { visibleLanes } from "../../../store/bench/bench-selectors.ts";
import { tickToX, xToTick } from "../../../store/bench/viewport.ts";
import { usePlayFrames } from "../../../store/playback/use-play-frames.ts";
import { ToolStrip } from "../tools/ToolStrip.tsx";
import { LaneHead } from "./LaneHead.tsx";
import { LanesGrid } from "./LanesGrid.tsx";
import { LanesMenu } from "./LanesMenu.tsx";
import { Legend } from "./Legend.tsx";
import { HEAD_WIDTH_PX, layoutLanes, RULER_HEIGHT_PX } from "./lane-layout.ts";
import { PointerWords } from "./PointerWords.tsx";
import { PointMenu } from "./PointMenu.tsx";
import { MARKER_ROW_PX } from "./paint/paint-ruler.ts";
import { useSize } from "./use-canvas.ts";
import { usePainter } from "./use-painter.ts";

const TOOL_CURSORS = { select: "", draw: "cursor-crosshair", erase: "cursor-not-allowed" } as const;

/** The ruler, the heads and the fins. */
export function Lanes() {
  const { store } = useBench();
  const setElement = useSize((widthPx) => store.setWidth(widthPx - HEAD_WIDTH_PX));
  const setView = useSize((_widthPx, lanesViewPx) => store.setLanesView(lanesViewPx));
  // Only the voices, so that a drag that changes what is in the lanes does not draw their heads anew.
  const voices = useStore(
    store,
    useShallow((state) => visibleLanes(state).map(({ voice }) => voice)),
  );
  const laneCount = useBenchState((state) => state.lanes.length);
  const tool = useBenchState((state) => state.tool);
  const look = useStore(
    store,
    useShallow(({ openVoiceId, keptOpen, laneZoom, laneSizes, lanesViewPx }) => ({
      openVoiceId,
      keptOpen,
      laneZoom,
      laneSizes,
      lanesViewPx,
    })),
  );
  const boxes = useMemo(
    () =>
      layoutLanes(
        voices.map((voice) => ({ voice })),
        look,
      ),
    [voices, look],
  );
  const last = boxes.at(-1);
  const height = last ? last.top + last.height : 0;
  const [focused, setFocused] = useState<string | null>(null);
  const stop =
    [focused, look.openVoiceId].find((id) => boxes.some(({ voice }) => voice.id === id)) ?? boxes[0]?.voice.id;
  const lanesRef = useRef<HTMLDivElement>(null);
  const rulerRef = useRef<HTMLDivElement>(null);
  usePainter(store, lanesRef, rulerRef);
  return (
    // Where the focus goes when nothing else had it: keys mean there what they mean on the page.
    <main
      ref={setElement}
      aria-label="Lanes"
      tabIndex={-1}
      data-focus-home
      className="relative isolate col-start-1 row-start-1 flex min-h-0 min-w-0 flex-col outline-none"
    >
      <h1 className="sr-only">Bench</h1>
      <ToolStrip />
      <Ruler ref={rulerRef} />
      <div ref={setView} data-scrolls-lanes className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto">
        <PointMenu>
          <div className="relative flex" style={{ height }}>
            <div
              role="toolbar"
              aria-label="Lane heads"
              aria-orientation="vertical"
              className="shrink-0"
              style={{ width: HEAD_WIDTH_PX }}
              onFocus={({ target }) => setFocused(laneOf(target)?.dataset.lane ?? null)}
              onKeyDown={goWithArrows}
            >
              {boxes.map((box) => (
                <LaneHead key={box.voice.id} box={box} isStop={box.voice.id === stop} />
              ))}
            </div>
            <div className="relative min-w-0 flex-1">
              <div
                ref={lanesRef}
                data-testid="fins"
                className={clsx("absolute inset-0 touch-none", TOOL_CURSORS[tool])}
              />
              <LanesGrid />
              <PointerWords lanesRef={lanesRef} />
            </div>
          </div>
        </PointMenu>
        {boxes.length === 0 && voices.length < laneCount && (
          <p className="p-10 text-center text-muted">Every lane is hidden. “Lanes”, above, shows them again.</p>
        )}
        {laneCount === 0 && (
          <p className="p-10 text-center text-muted">
            No track of this take counts as drums. Choose one under “Tracks of the take”, at the top.
          </p>
        )}
      </div>
      <Playhead />
      <Legend />
    </main>
  );
}

const laneOf = (element: Element) => element.closest<HTMLElement>("[data-lane]");

/**
 * All heads are one stop of the Tab key: arrows go up and down from one to the next, and sideways over what it has. Whoever has only
 * clicked there means the hits with them.
 */
function goWithArrows(event: KeyboardEvent<HTMLElement>): void {
  const { target, currentTarget, key } = event;
  if (!(target instanceof HTMLElement) || !target.matches(":focus-visible") || event.ctrlKey || event.shiftKey) return;
  const lane = laneOf(target);
  const isSideways = key === "ArrowLeft" || key === "ArrowRight";
  if (!lane || !(isSideways || key === "ArrowUp" || key === "ArrowDown")) return;
  const stops = isSideways
    ? [...lane.querySelectorAll("button")]
    : [...currentTarget.querySelectorAll<HTMLElement>("[data-lane]")].map((one) => one.querySelector("button")!);
  const from = stops.indexOf(isSideways ? (target as HTMLButtonElement) : lane.querySelector("button")!);
  stops[from + (key === "ArrowUp" || key === "ArrowLeft" ? -1 : 1)]?.focus();
  event.preventDefault();
  event.stopPropagation();
}

function Ruler({ ref }: { ref: RefObject<HTMLDivElement | null> }) {
  const { store, playback } = useBench();
  useEffect(() => {
    const strip = ref.current;
    if (!strip) return;
    let startX: number | null = null;
    const xOf = (event: PointerEvent) => event.clientX - strip.getBoundingClientRect().left;
    const press = (event: PointerEvent) => {
      strip.setPointerCapture(event.pointerId);
      startX = xOf(event);
    };
    const drag = (event: PointerEvent) => {
      if (startX === null || Math.abs(xOf(event) - startX) < 5) return;
      const { viewport, maps, pattern } = store.getState();
      const [first, last] = [startX, xOf(event)].sort((a, b) => a - b) as [number, number];
      const loop = snapLoop(maps.meterMap, xToTick(viewport, first), xToTick(viewport, last), pattern.lengthTicks);
      store.setLoop(loop);
    };
    const release = (event: PointerEvent) => {
      if (startX === null) return;
      const isClick = Math.abs(xOf(event) - startX) < 5;
      startX = null;
      if (isClick) playback.seek(Math.round(xToTick(store.getState().viewport, xOf(event))));
    };
    strip.addEventListener("pointerdown", press);
    strip.addEventListener("pointermove", drag);
    strip.addEventListener("pointerup", release);
    return () => {
      strip.removeEventListener("pointerdown", press);
      strip.removeEventListener("pointermove", drag);
      strip.removeEventListener("pointerup", release);
    };
  }, [ref, store, playback]);
  return (
    <div className="flex shrink-0 border-b border-hairline" style={{ height: RULER_HEIGHT_PX + MARKER_ROW_PX }}>
      <div style={{ width: HEAD_WIDTH_PX }} className="flex items-center">
        <LanesMenu />
      </div>
      <div
        ref={ref}
        className="relative min-w-0 flex-1 cursor-pointer touch-none"
        role="img"
        aria-label="Bars and beats. Click to go there, drag to loop."
      />
    </div>
  );
}

/** A loop holds whole pulses of the meter. */
function snapLoop(meterMap: MeterMap, firstTick: number, lastTick: number, lengthTicks: number) {
  const startTick = pulseAt(meterMap, firstTick);
  const endTick = Math.max(pulseAfter(meterMap, lastTick), pulseAfter(meterMap, startTick));
  return { startTick, endTick: Math.min(lengthTicks, endTick) };
}

/** Runs over the lanes; when it leaves the view while playing, the view turns the page. */
function Playhead() {
  const { store } = useBench();
  const ref = useRef<HTMLDivElement>(null);
  usePlayFrames((tick, isPlaying) => {
    const line = ref.current;
    if (!line) return;
    const { viewport } = store.getState();
    const x = tickToX(viewport, tick);
    const isVisible = x >= -1 && x <= viewport.widthPx;
    line.style.opacity = isVisible ? "1" : "0";
    line.style.transform = `translateX(${HEAD_WIDTH_PX + x}px)`;
    if (isPlaying && !isVisible) store.setViewport({ ...viewport, startTick: tick - 14 * viewport.ticksPerPx });
  });
  return (
    <div
      ref={ref}
      data-testid="playhead"
      className="pointer-events-none absolute top-9 bottom-0 left-0 z-10 w-0 will-change-transform"
    >
      <div className="absolute top-0 -left-[6px] size-0 border-x-[6px] border-t-[8px] border-x-transparent border-t-amber" />
      <div className="absolute inset-y-0 -left-px w-[1.5px] bg-amber" />
    </div>
  );
}
