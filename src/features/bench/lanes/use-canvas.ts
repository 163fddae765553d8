import { type RefObject, useEffect, useRef, useState } from "react";
import { useTheme } from "../../../components/page/Frame.tsx";
import { useMedia } from "../../../components/page/use-media.ts";
import { type Inks, readInks } from "./paint/inks.ts";
import type { PaintContext } from "./paint/paint-fins.ts";

/** What colours and sizes of words follow: a canvas is painted anew with another one. */
export function useLook(): string {
  const { theme } = useTheme();
  return useMedia("(forced-colors: active)") ? `${theme}, forced` : theme;
}

type Subscribe = (listener: () => void) => () => void;

/**
 * A canvas that paints itself from a store, sharp on any screen: at most once a frame, and without drawing React again.
 * @param subscribe called with what to do when something may have changed
 * @param paint gets the size in CSS px; nothing of it may read the DOM
 */
export function useCanvas(
  subscribe: Subscribe,
  paint: (context: PaintContext, widthPx: number, heightPx: number, inks: Inks) => void,
): RefObject<HTMLCanvasElement | null> {
  const ref = useRef<HTMLCanvasElement>(null);
  const latest = useRef(paint);
  latest.current = paint;
  const look = useLook();
  const request = useRef(() => {});
  useEffect(() => request.current());
  useEffect(() => {
    const canvas = ref.current;
    const context = canvas?.getContext("2d");
    if (!canvas || !context) return;
    const inks = readInks();
    let frame = 0;
    // Kept by the observer: asking the canvas for it on every frame would lay out the page for nothing.
    let clientWidth = 0;
    let clientHeight = 0;
    const draw = () => {
      frame = 0;
      if (clientWidth === 0 || clientHeight === 0) return;
      const scale = devicePixelRatio;
      const width = Math.round(clientWidth * scale);
      const height = Math.round(clientHeight * scale);
      if (canvas.width !== width || canvas.height !== height) {
        canvas.width = width;
        canvas.height = height;
      }
      context.setTransform(scale, 0, 0, scale, 0, 0);
      context.clearRect(0, 0, clientWidth, clientHeight);
      latest.current(context, clientWidth, clientHeight, inks);
    };
    request.current = () => {
      if (frame === 0) frame = requestAnimationFrame(draw);
    };
    const resized = new ResizeObserver(() => {
      ({ clientWidth, clientHeight } = canvas);
      // At once, before the page is shown: a frame later, the old picture would have been seen stretched.
      cancelAnimationFrame(frame);
      draw();
    });
    resized.observe(canvas);
    const unsubscribe = subscribe(() => request.current());
    // The first words may be painted before the font is there.
    void document.fonts.ready.then(() => request.current());
    return () => {
      cancelAnimationFrame(frame);
      resized.disconnect();
      unsubscribe();
      request.current = () => {};
    };
  }, [subscribe, look]);
  return ref;
}

/** The size of an element, kept up to date. */
export function useSize(onSize: (widthPx: number, heightPx: number) => void): (element: HTMLElement | null) => void {
  const [element, setElement] = useState<HTMLElement | null>(null);
  const latest = useRef(onSize);
  latest.current = onSize;
  useEffect(() => {
    if (!element) return;
    const observer = new ResizeObserver(() => latest.current(element.clientWidth, element.clientHeight));
    observer.observe(element);
    latest.current(element.clientWidth, element.clientHeight);
    return () => observer.disconnect();
  }, [element]);
  return setElement;
}
