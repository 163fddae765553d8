import { type PointerEvent, useRef } from "react";
import { useBench } from "../../../store/bench/bench-context.ts";
import { sizeLane, unsizeLane } from "./lane-sizes.ts";

/** The lower edge of a lane's head: drag it to make the lane taller or lower, double-click for the height of the others. */
export function LaneEdge({ voiceId, name, heightPx }: { voiceId: string; name: string; heightPx: number }) {
  const { store } = useBench();
  const from = useRef<{ readonly y: number; readonly heightPx: number } | null>(null);
  const press = (event: PointerEvent<HTMLDivElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    from.current = { y: event.clientY, heightPx };
  };
  const move = (event: PointerEvent<HTMLDivElement>) => {
    if (from.current) sizeLane(store, voiceId, from.current.heightPx + event.clientY - from.current.y);
  };
  return (
    // Keys make all lanes taller and lower; what one has of its own is for the pointer and for fingers.
    <div
      aria-hidden="true"
      data-testid={`edge-of-${name}`}
      className="absolute inset-x-0 -bottom-[4px] z-10 h-[8px] cursor-row-resize touch-none hover:bg-spruce/25"
      onPointerDown={press}
      onPointerMove={move}
      onPointerUp={() => {
        from.current = null;
      }}
      onPointerCancel={() => {
        from.current = null;
      }}
      onDoubleClick={() => unsizeLane(store, voiceId)}
    />
  );
}
