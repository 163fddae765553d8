import { useEffect, useRef } from "react";
import { useBench } from "../bench/bench-context.ts";

/**
 * Draws something that follows the playhead, without React: on every frame while it plays, and otherwise only when the place
 * or what is shown has changed, so that a page at rest does nothing.
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
    let before = store.getState();
    const unsubscribe = store.subscribe((state) => {
      const { playheadTick, isPlaying, viewport, maps } = before;
      before = state;
      const isSame =
        state.playheadTick === playheadTick &&
        state.isPlaying === isPlaying &&
        state.viewport === viewport &&
        state.maps === maps;
      if (!isSame) request();
    });
    request();
    return () => {
      cancelAnimationFrame(frame);
      unsubscribe();
    };
  }, [store, playback]);
}
