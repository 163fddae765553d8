import { useEffect, useRef } from "react";
import { useBench } from "./bench-context.ts";

/**
 * Draws something that follows the playhead, without React: on every frame while it plays, and otherwise only when the
 * state changes, so that a page at rest does nothing.
 * @param draw gets the tick that sounds, and whether it plays
 */
export function usePlayFrames(draw: (tick: number, isPlaying: boolean) => void): void {
  const { store, playback } = useBench();
  const latest = useRef(draw);
  latest.current = draw;
  useEffect(() => {
    let frame = 0;
    const paint = () => {
      frame = 0;
      const playing = playback.placeTick();
      latest.current(playing ?? store.getState().playheadTick, playing !== null);
      if (store.getState().isPlaying) request();
    };
    const request = () => {
      if (frame === 0) frame = requestAnimationFrame(paint);
    };
    const unsubscribe = store.subscribe(request);
    request();
    return () => {
      cancelAnimationFrame(frame);
      unsubscribe();
    };
  }, [store, playback]);
}
