import { growTo, type Stroke, writeStrokes } from "../../core/commands/index.ts";
import { applyEdit, arranging, type Edit, type NoteMap, type Pattern } from "../../core/document/index.ts";
import { barOf, type Rhythm, type RhythmStroke } from "../../core/pattern/index.ts";
import { addPattern, addToSong, NO_ARRANGEMENT } from "../../core/song/index.ts";
import { type Bar, barAt, buildMeterMap } from "../../core/time/index.ts";
import type { Bench } from "../../store/bench-context.ts";

// What is done with a pattern of the shelf: it is laid on bars of the take, drum by drum.

/** Strokes of a pattern on bars of a take, and what did not fit, in words. */
interface Laid {
  readonly strokes: readonly Stroke[];
  readonly endTick: number;
  readonly problems: readonly string[];
}

/** Each bar of the pattern goes on a bar of the take, from a bar line on. What is longer than the take's bar is cut off, and said. */
function layOn(take: Pattern, startTick: number, { bars }: Rhythm, strokes: readonly RhythmStroke[]): Laid {
  const meterMap = buildMeterMap(take.ppq, take.meters);
  const places: Bar[] = [];
  let tick = startTick;
  for (const _bar of bars) {
    const bar = barAt(meterMap, tick);
    places.push(bar);
    tick = bar.endTick;
  }
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
  return { strokes: laid, endTick: tick, problems };
}

/** The same drum in another map, or one of its family. */
function inMap({ voices }: NoteMap, { voiceId, articulationId }: { voiceId: string; articulationId: string }) {
  const voice = voices.find(({ id }) => id === voiceId);
  if (!voice) return null;
  const stroke = voice.articulations.find(({ id }) => id === articulationId) ?? voice.articulations[0];
  return stroke ? { voiceId, articulationId: stroke.id } : null;
}

const said = (words: string, problems: readonly string[]) =>
  problems.length === 0 ? `${words}.` : `${words}; ${problems.join("; ")}.`;

/** Puts a pattern at the end of the song: it gets bars of its own after the take's, which the song plays. @returns what was done */
export function putIntoSong({ store }: Bench, name: string, rhythm: Rhythm, strokes: readonly RhythmStroke[]): string {
  const take = store.take();
  const startTick = take.lengthTicks;
  const firstBar = barAt(buildMeterMap(take.ppq, take.meters), startTick).barIndex;
  const { strokes: laid, endTick, problems } = layOn(take, startTick, rhythm, strokes);
  const edits: Edit[] = [];
  let next = take;
  const add = (edit: Edit) => {
    edits.push(...(edit.kind === "together" ? edit.edits : [edit]));
    next = applyEdit(next, edit);
  };
  for (const edit of growTo(take, endTick - 1)) add(edit);
  add(writeStrokes(next, laid, store.newId));
  const { arrangement = NO_ARRANGEMENT } = take;
  const bars = rhythm.bars.map((_, bar) => firstBar + bar);
  const { arrangement: grown, pattern } = addPattern(arrangement, firstBar, { name, bars }, store.newId);
  add({ kind: "arrange", ...arranging(arrangement, addToSong(grown, pattern.id, store.newId)) });
  store.commit(`Put “${pattern.name}” into the song`, { kind: "together", edits });
  return said(
    `“${pattern.name}” is at the end of the song, in bars ${firstBar + 1} to ${firstBar + rhythm.bars.length}`,
    problems,
  );
}

/** Writes a pattern onto the take, from the bar of its playhead. What is there stays. @returns what was done */
export function layOnTake(
  { store }: Bench,
  name: string,
  rhythm: Rhythm,
  strokes: readonly RhythmStroke[],
  atTick: number,
): string {
  const take = store.take();
  const bar = barAt(buildMeterMap(take.ppq, take.meters), Math.min(atTick, take.lengthTicks - 1));
  const { strokes: laid, problems } = layOn(take, bar.startTick, rhythm, strokes);
  store.commit(`Lay “${name}” on bar ${bar.barIndex + 1}`, writeStrokes(take, laid, store.newId));
  return said(`${laid.length} hits of “${name}” were added from bar ${bar.barIndex + 1} on`, problems);
}
