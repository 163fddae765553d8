import { barAt, formatBarBeat, type MeterMap } from "../../../core/time/index.ts";

/** `bars 3 – 4`, or `8:3 – 8:4` for less than whole bars. */
export function stretchWords(
  { startTick, endTick }: { readonly startTick: number; readonly endTick: number },
  map: MeterMap,
): string {
  const first = barAt(map, startTick);
  const last = barAt(map, endTick - 1);
  if (first.startTick === startTick && last.endTick === endTick) {
    return first.barIndex === last.barIndex
      ? `bar ${first.barIndex + 1}`
      : `bars ${first.barIndex + 1} – ${last.barIndex + 1}`;
  }
  const short = (tick: number) => formatBarBeat(map, tick).replace(/:\d+$/, "");
  return `${short(startTick)} – ${short(endTick)}`;
}
