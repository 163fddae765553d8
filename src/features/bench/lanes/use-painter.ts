import { type RefObject, useEffect, useRef, useState } from "react";
import { readInks } from "./paint/inks.ts";
import { Painter, type PicturedStore } from "./paint/painter.ts";
import { useLook } from "./use-canvas.ts";

const RETRY_MS = 1000;

/** Paints the lanes and the ruler into two elements, as long as they are there. */
export function usePainter(
  store: PicturedStore,
  lanesRef: RefObject<HTMLElement | null>,
  rulerRef: RefObject<HTMLElement | null>,
): void {
  const look = useLook();
  const painter = useRef<Painter | null>(null);
  const [turn, setTurn] = useState(0);
  // Another turn is another try.
  useEffect(() => {
    const [lanes, ruler] = [lanesRef.current, rulerRef.current];
    if (!lanes || !ruler) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    painter.current = new Painter({ lanes, ruler }, store, readInks(), () => {
      timer = setTimeout(() => setTurn((last) => last + 1), RETRY_MS);
    });
    return () => {
      clearTimeout(timer);
      painter.current?.end();
      painter.current = null;
    };
  }, [store, lanesRef, rulerRef, turn]);
  // Another look has other colours.
  useEffect(() => painter.current?.setInks(readInks()), [look]);
}
