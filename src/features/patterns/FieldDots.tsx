import { useEffect, useRef } from "react";
import { useTheme } from "../../components/page/Frame.tsx";
import { useMedia } from "../../components/page/use-media.ts";

/** A dot of the field, in units of its picture. */
export interface Dot {
  readonly cx: number;
  readonly cy: number;
  /** How strong its ink is, 0 to 1. */
  readonly strength: number;
  readonly isLarge: boolean;
  /** Others are swept over: it stands back. */
  readonly isOut: boolean;
}

interface FieldDotsProps {
  readonly dots: readonly Dot[];
  /** The size of the picture, in its own units. */
  readonly width: number;
  readonly height: number;
}

const FAINTEST_FILL = 0.05;
const OUTLINE = 0.55;
const OUTLINE_BACK = 0.25;

/** The dots of the field, on a canvas: ten thousand elements would hold the page for seconds whenever one more comes. */
export function FieldDots({ dots, width, height }: FieldDotsProps) {
  const ref = useRef<HTMLCanvasElement>(null);
  const { theme } = useTheme();
  const isForced = useMedia("(forced-colors: active)");
  useEffect(() => {
    const canvas = ref.current;
    const context = canvas?.getContext("2d");
    if (!canvas || !context) return;
    const draw = () => {
      const scale = (canvas.clientWidth / width) * devicePixelRatio;
      canvas.width = Math.round(width * scale);
      canvas.height = Math.round(height * scale);
      context.setTransform(scale, 0, 0, scale, 0, 0);
      const ink = getComputedStyle(canvas).color;
      context.fillStyle = ink;
      context.strokeStyle = ink;
      for (const { cx, cy, strength, isLarge, isOut } of dots) {
        context.beginPath();
        context.arc(cx, cy, isLarge ? 6 : 4, 0, 2 * Math.PI);
        if (strength > FAINTEST_FILL && !isOut) {
          context.globalAlpha = strength ** 2;
          context.fill();
        }
        context.globalAlpha = isOut ? OUTLINE_BACK : OUTLINE;
        context.stroke();
      }
      context.globalAlpha = 1;
    };
    const resized = new ResizeObserver(draw);
    resized.observe(canvas);
    return () => resized.disconnect();
    // Another theme has other inks.
  }, [dots, width, height, theme, isForced]);
  return <canvas ref={ref} className="pointer-events-none absolute inset-0 size-full text-spruce" />;
}
