import { useEffect, useMemo, useRef } from "react";
import { counted } from "../../../core/ordinal.ts";
import { barCountOf } from "../../../core/overview/index.ts";
import { runsOf } from "../../../core/song/index.ts";
import { barByIndex } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { usePlayFrames } from "../../../store/playback/use-play-frames.ts";
import { HEAD_WIDTH_PX } from "./lane-layout.ts";
import { paintOverviewFrame, paintOverviewHits, type Section } from "./paint/paint-overview.ts";
import { useCanvas } from "./use-canvas.ts";

/** All of the pattern in one strip: a click or a drag travels, the edges of the frame zoom. */
export function Overview() {
  const { store } = useBench();
  const bars = useBenchState((state) => barCountOf(state.pattern.lengthTicks, state.maps));
  const hits = useBenchState((state) => state.pattern.hits.length);
  const voices = useBenchState((state) => state.lanes.length);
  // The hits change seldom and are many; the frame changes with every scroll. So they are two layers.
  // While a drag only shows what it would do, the small picture waits.
  const onLanes = useMemo(() => subscribeTo(store, (state) => [state.pattern, state.side]), [store]);
  const hitsRef = useCanvas(onLanes, (context, widthPx, heightPx, inks) => {
    paintOverviewHits(context, sceneOf(store.getState(), widthPx, heightPx, inks));
  });
  const onView = useMemo(
    () =>
      subscribeTo(store, (state) => [
        state.viewport,
        state.loop,
        state.markers,
        state.pattern.arrangement,
        state.scopeId,
      ]),
    [store],
  );
  const frameRef = useCanvas(onView, (context, widthPx, heightPx, inks) => {
    paintOverviewFrame(context, sceneOf(store.getState(), widthPx, heightPx, inks));
  });
  useTravel(frameRef);
  return (
    <section aria-label="Overview" className="isolate flex h-[50px] shrink-0 items-center short:h-6">
      <p className="shrink-0 pl-[18px] text-fine leading-tight text-muted" style={{ width: HEAD_WIDTH_PX }}>
        <strong className="text-small text-ink">
          {bars.toLocaleString("en")} {bars === 1 ? "bar" : "bars"}
        </strong>
        <span className="block short:hidden">
          {counted(hits, "hit")}, {counted(voices, "voice")}
        </span>
      </p>
      <div className="relative h-full flex-1 pr-5">
        <div className="relative size-full">
          <canvas ref={hitsRef} className="absolute inset-0 size-full" />
          <canvas ref={frameRef} className="absolute inset-0 size-full cursor-pointer touch-none" />
          <PlayMark />
        </div>
      </div>
    </section>
  );
}

type Store = ReturnType<typeof useBench>["store"];
type State = ReturnType<Store["getState"]>;

/** Calls back only when one of a few values has changed. */
export function subscribeTo(store: Store, select: (state: State) => readonly unknown[]) {
  return (listener: () => void) => {
    let before = select(store.getState());
    return store.subscribe((state) => {
      const after = select(state);
      if (after.every((value, index) => value === before[index])) return;
      before = after;
      listener();
    });
  };
}

function sceneOf(
  { lanes, side, pattern, viewport, loop, markers, maps, scopeId }: State,
  widthPx: number,
  heightPx: number,
  inks: Parameters<typeof paintOverviewHits>[1]["inks"],
) {
  const sections = sectionsOf(pattern, maps, scopeId);
  return { lanes, side, lengthTicks: pattern.lengthTicks, viewport, loop, markers, sections, widthPx, heightPx, inks };
}

/** The stretches of the take that its patterns play, one for each run of bars. */
function sectionsOf({ arrangement }: State["pattern"], { meterMap }: State["maps"], scopeId: string | null) {
  return (arrangement?.patterns ?? []).flatMap(({ id, colour, bars }) =>
    runsOf(bars).map(([from, to]): Section => {
      const { startTick } = barByIndex(meterMap, from);
      return { startTick, endTick: barByIndex(meterMap, to - 1).endTick, colour, isScope: id === scopeId };
    }),
  );
}

const EDGE_PX = 6;

/** Drags the frame, its edges, or jumps to where the pointer is. */
function useTravel(ref: ReturnType<typeof useCanvas>): void {
  const { store } = useBench();
  useEffect(() => {
    const canvas = ref.current;
    if (!canvas) return;
    let drag: { readonly kind: "frame" | "left" | "right"; readonly offsetTicks: number } | null = null;
    const tickOf = (event: PointerEvent) => {
      const { left, width } = canvas.getBoundingClientRect();
      return ((event.clientX - left) / width) * store.getState().pattern.lengthTicks;
    };
    const press = (event: PointerEvent) => {
      canvas.setPointerCapture(event.pointerId);
      const { viewport, pattern } = store.getState();
      const tick = tickOf(event);
      const endTick = viewport.startTick + viewport.widthPx * viewport.ticksPerPx;
      const edgeTicks = (EDGE_PX / canvas.clientWidth) * pattern.lengthTicks;
      if (Math.abs(tick - endTick) < edgeTicks) drag = { kind: "right", offsetTicks: 0 };
      else if (Math.abs(tick - viewport.startTick) < edgeTicks && viewport.startTick > edgeTicks)
        drag = { kind: "left", offsetTicks: 0 };
      else {
        const isInside = tick > viewport.startTick && tick < endTick;
        drag = {
          kind: "frame",
          offsetTicks: isInside ? tick - viewport.startTick : (endTick - viewport.startTick) / 2,
        };
      }
      move(event);
    };
    const move = (event: PointerEvent) => {
      if (!drag) return;
      const { viewport } = store.getState();
      const tick = tickOf(event);
      const endTick = viewport.startTick + viewport.widthPx * viewport.ticksPerPx;
      if (drag.kind === "frame") store.setViewport({ ...viewport, startTick: tick - drag.offsetTicks });
      else if (drag.kind === "right") {
        store.setViewport({ ...viewport, ticksPerPx: Math.max(1, tick - viewport.startTick) / viewport.widthPx });
      } else {
        store.setViewport({ ...viewport, startTick: tick, ticksPerPx: Math.max(1, endTick - tick) / viewport.widthPx });
      }
    };
    const release = () => {
      drag = null;
    };
    canvas.addEventListener("pointerdown", press);
    canvas.addEventListener("pointermove", move);
    canvas.addEventListener("pointerup", release);
    canvas.addEventListener("pointercancel", release);
    return () => {
      canvas.removeEventListener("pointerdown", press);
      canvas.removeEventListener("pointermove", move);
      canvas.removeEventListener("pointerup", release);
      canvas.removeEventListener("pointercancel", release);
    };
  }, [store, ref]);
}

/** A line where it plays. */
function PlayMark() {
  const { store } = useBench();
  const ref = useRef<HTMLDivElement>(null);
  usePlayFrames((tick) => {
    const mark = ref.current;
    if (!mark?.parentElement) return;
    const x = (tick / store.getState().pattern.lengthTicks) * mark.parentElement.clientWidth;
    mark.style.transform = `translateX(${x}px)`;
  });
  return (
    <div ref={ref} className="pointer-events-none absolute inset-y-1 left-0 w-[1.5px] bg-amber will-change-transform" />
  );
}
