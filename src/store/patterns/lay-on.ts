import type { Stroke } from "../../core/commands/index.ts";
import type { NoteMap, Pattern } from "../../core/document/index.ts";
import { barOf, type Rhythm, type RhythmStroke } from "../../core/pattern/index.ts";
import { type Bar, barAt, buildMeterMap } from "../../core/time/index.ts";

/** Strokes of a pattern on bars of a take, and what did not fit, in words. */
export interface Laid {
  readonly strokes: readonly Stroke[];
  readonly endTick: number;
  readonly problems: readonly string[];
}

/** The bars of a take that the bars of a pattern fall on, from a bar line on. They go on behind its end. */
export function placesOf(take: Pick<Pattern, "ppq" | "meters">, startTick: number, count: number): readonly Bar[] {
  const meterMap = buildMeterMap(take.ppq, take.meters);
  const places: Bar[] = [];
  for (let tick = startTick; places.length < count; tick = places.at(-1)!.endTick) places.push(barAt(meterMap, tick));
  return places;
}

/** Each bar of the pattern goes on a bar of the take, from a bar line on. What is longer than the take's bar is cut off, and said. */
export function layOn(
  take: Pattern,
  startTick: number,
  { bars }: Pick<Rhythm, "bars">,
  strokes: readonly RhythmStroke[],
): Laid {
  const places = placesOf(take, startTick, bars.length);
  const unknown = new Set<string>();
  let cut = 0;
  const laid = strokes.flatMap(({ quarters, velocity, hit }): Stroke[] => {
    const index = barOf(bars, quarters);
    const place = places[index]!;
    const at = place.startTick + (quarters - bars[index]!.startQuarters) * take.ppq;
    const meaning = inMap(take.noteMap, hit);
    if (!meaning) unknown.add(hit.voiceId);
    if (at >= place.endTick) cut++;
    return meaning && at < place.endTick ? [{ ...meaning, tick: Math.max(0, Math.round(at)), velocity }] : [];
  });
  const problems = [
    ...(cut > 0 ? [`${cut} strokes lie past the end of the take's bars and were left out`] : []),
    ...(unknown.size > 0 ? [`the take's map has no ${[...unknown].join(" and no ")}`] : []),
  ];
  return { strokes: laid, endTick: places.at(-1)?.endTick ?? startTick, problems };
}

/** The same drum in another map, or one of its family. */
export function inMap({ voices }: NoteMap, { voiceId, articulationId }: { voiceId: string; articulationId: string }) {
  const voice = voices.find(({ id }) => id === voiceId);
  if (!voice) return null;
  const stroke = voice.articulations.find(({ id }) => id === articulationId) ?? voice.articulations[0];
  return stroke ? { voiceId, articulationId: stroke.id } : null;
}
