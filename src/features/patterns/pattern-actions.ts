import { growTo, writeStrokes } from "../../core/commands/index.ts";
import { applyEdit, arranging, type Edit } from "../../core/document/index.ts";
import type { Rhythm, RhythmStroke } from "../../core/pattern/index.ts";
import { addPattern, addToSong, NO_ARRANGEMENT } from "../../core/song/index.ts";
import { barAt, buildMeterMap } from "../../core/time/index.ts";
import type { Bench } from "../../store/bench/bench-context.ts";
import { layOn } from "../../store/patterns/lay-on.ts";

/** A pattern as it is put somewhere. */
interface Played {
  readonly bars: Rhythm["bars"];
  readonly strokes: readonly RhythmStroke[];
}

// What is done with a pattern of the shelf: it is laid on bars of the take, drum by drum.

const said = (words: string, problems: readonly string[]) =>
  problems.length === 0 ? `${words}.` : `${words}; ${problems.join("; ")}.`;

/**
 * Puts a pattern into the song: it gets bars of its own after the take's, which the song plays.
 * @param beforeId the place of the song that it goes before; null for its end
 * @returns what was done
 */
export function putIntoSong({ store }: Bench, name: string, played: Played, beforeId: string | null): string {
  const take = store.take();
  const startTick = take.lengthTicks;
  const firstBar = barAt(buildMeterMap(take.ppq, take.meters), startTick).barIndex;
  const { strokes: laid, endTick, problems } = layOn(take, startTick, played, played.strokes);
  const edits: Edit[] = [];
  let next = take;
  const add = (edit: Edit) => {
    edits.push(...(edit.kind === "together" ? edit.edits : [edit]));
    next = applyEdit(next, edit);
  };
  for (const edit of growTo(take, endTick - 1)) add(edit);
  add(writeStrokes(next, laid, store.newId));
  const { arrangement = NO_ARRANGEMENT } = take;
  const bars = played.bars.map((_, bar) => firstBar + bar);
  const { arrangement: grown, pattern } = addPattern(arrangement, firstBar, { name, bars }, store.newId);
  const before = grown.song.findIndex(({ id }) => id === beforeId);
  const at = before < 0 ? grown.song.length : before;
  add({ kind: "arrange", ...arranging(arrangement, addToSong(grown, pattern.id, store.newId, at)) });
  store.commit(`Put “${pattern.name}” into the song`, { kind: "together", edits });
  const follower = grown.patterns.find(({ id }) => id === grown.song[before]?.patternId);
  const where = follower ? `before “${follower.name}” in the song` : "at the end of the song";
  return said(`“${pattern.name}” is ${where}, in bars ${firstBar + 1} to ${firstBar + played.bars.length}`, problems);
}

/** Writes a pattern onto the take, from the bar of a place on. What is there stays. @returns what was done */
export function layOnTake({ store }: Bench, name: string, played: Played, atTick: number): string {
  const take = store.take();
  const bar = barAt(buildMeterMap(take.ppq, take.meters), Math.min(atTick, take.lengthTicks - 1));
  const { strokes: laid, problems } = layOn(take, bar.startTick, played, played.strokes);
  store.commit(`Lay “${name}” on bar ${bar.barIndex + 1}`, writeStrokes(take, laid, store.newId));
  return said(`${laid.length} hits of “${name}” were added from bar ${bar.barIndex + 1} on`, problems);
}
