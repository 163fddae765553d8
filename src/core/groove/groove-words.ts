import type { Groove, GrooveLayer } from "../document/groove.ts";
import { gridName } from "../time/index.ts";

/** What is plain to hear of a layer. */
export interface LayerFeel {
  /** Where the second hits of pairs sit; 50 is straight. */
  readonly swingPercent: number;
  /** How far all of it is behind, in ms; minus is ahead. */
  readonly pushMs: number;
}

const SWUNG_FROM = 51.5;
const PUSHED_FROM_MS = 2;

/**
 * Swing and push of a layer: the first places of pairs say how far all is behind, the second ones how much later they are.
 * @param stepMs how long a step is at the tempo that it is heard at
 */
export function feelOf({ slots }: GrooveLayer, stepMs: number): LayerFeel {
  const mean = (parity: number) => {
    const own = slots.filter((_, slot) => slot % 2 === parity);
    const played = own.some(({ hitCount }) => hitCount > 0) ? own.filter(({ hitCount }) => hitCount > 0) : own;
    const weight = (hitCount: number) => Math.max(1, hitCount);
    const total = played.reduce((sum, { hitCount }) => sum + weight(hitCount), 0);
    return played.length === 0
      ? null
      : played.reduce((sum, { offset, hitCount }) => sum + offset * weight(hitCount), 0) / total;
  };
  const [first, second] = [mean(0), mean(1)];
  const push = first ?? second ?? 0;
  const late = first !== null && second !== null ? second - first : 0;
  return { swingPercent: 50 * (1 + late), pushMs: push * stepMs };
}

/** A groove as a drummer says it: `swung sixteenths, 57 %; snare 9 ms behind`. */
export function grooveWords({ grid, lengthQuarters, layers }: Groove, bpm: number): string {
  const stepMs = (60_000 / bpm) * (lengthQuarters / Math.max(1, layers[0]?.slots.length ?? 1));
  const feels = layers.map((layer) => ({ family: layer.family, ...feelOf(layer, stepMs) }));
  const loosest = Math.max(...feels.map(({ swingPercent }) => swingPercent), 50);
  const how =
    loosest >= SWUNG_FROM ? `swung ${gridName(grid)}, ${Math.round(loosest)} %` : `straight ${gridName(grid)}`;
  const pushes = feels.flatMap(({ family, pushMs }) => {
    if (Math.abs(pushMs) < PUSHED_FROM_MS) return [];
    return [`${family ?? "all"} ${Math.abs(Math.round(pushMs))} ms ${pushMs > 0 ? "behind" : "ahead"}`];
  });
  return [how, ...pushes].join("; ");
}
