import { saveBlob } from "../../../components/save-text.ts";
import {
  barsIn,
  canChangeBars,
  insertBars,
  removeBarsOf,
  type TickRange,
  wholeBars,
  writeStrokes,
} from "../../../core/commands/index.ts";
import { applyEdit, arranging, copiedMarksOf, type Edit, LONGEST_TAKE_TICKS } from "../../../core/document/index.ts";
import { addPattern, barsOf, NO_ARRANGEMENT } from "../../../core/song/index.ts";
import { barAt } from "../../../core/time/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { heardBetween } from "../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { exportPath, fetchFile, ServerProblem } from "../../../store/server-api.ts";

// What is done with whole bars: those of the loop, or the one at the playhead.

/** The bars that are meant, and what they are called. */
export interface MeantBars extends TickRange {
  /** Counted from 0. */
  readonly firstBar: number;
  readonly count: number;
  /** `bar 3`, or `bars 3 to 4`. */
  readonly name: string;
}

export function meantBars({ loop, playheadTick, maps: { meterMap }, pattern }: BenchState): MeantBars {
  const place = Math.min(playheadTick, pattern.lengthTicks - 1);
  const range = wholeBars(meterMap, loop ?? { startTick: place, endTick: place + 1 });
  const count = barsIn(meterMap, range).length;
  const firstBar = barAt(meterMap, range.startTick).barIndex;
  const name = count === 1 ? `bar ${firstBar + 1}` : `bars ${firstBar + 1} to ${firstBar + count}`;
  return { ...range, firstBar, count, name };
}

const barCount = (count: number) => (count === 1 ? "a bar" : `${count} bars`);
const TOO_OFTEN =
  "This take has had its bars changed so often that no more can be kept. Export it, and go on with the file.";

/** Bars are those of the take, and not of one pattern of it. */
function commitBars({ store }: Bench, label: string, make: (state: BenchState) => Edit): void {
  store.setScope(null);
  store.commit(label, make(store.getState()));
}

/** As many silent bars as are meant, before them. They are the loop then: to be played in, or drawn on. */
export function insertSilentBars(bench: Bench): string {
  const { store } = bench;
  const bars = meantBars(store.getState());
  const { pattern } = store.getState();
  if (!canChangeBars(pattern)) return TOO_OFTEN;
  if (pattern.lengthTicks + bars.endTick - bars.startTick > LONGEST_TAKE_TICKS) return "The take cannot be longer.";
  commitBars(bench, `Insert ${barCount(bars.count)} before ${bars.name}`, (state) =>
    insertBars(state.pattern, bars.startTick, bars),
  );
  store.setLoop({ startTick: bars.startTick, endTick: bars.endTick });
  return `Inserted ${barCount(bars.count)} before ${bars.name}: silent, and the loop now. Everything after moved on.`;
}

/** The same bars once more, right behind them: with the drums as they are heard, while other tracks rest. */
export function duplicateBars(bench: Bench): string {
  const { store } = bench;
  const bars = meantBars(store.getState());
  const { pattern } = store.getState();
  if (!canChangeBars(pattern)) return TOO_OFTEN;
  const ticks = bars.endTick - bars.startTick;
  const ahead = pattern.ppq / 8;
  const heard = heardBetween(store.getState().lanes, bars.startTick - ahead, bars.endTick - ahead);
  const strokes = heard.map(({ hit, tick, velocity }) => {
    const { voiceId, articulationId } = hit;
    return { voiceId, articulationId, tick: tick + ticks, velocity, marks: copiedMarksOf(hit) };
  });
  commitBars(bench, `Duplicate ${bars.name}`, (state) => {
    const insertion = insertBars(state.pattern, bars.endTick, bars);
    const written = writeStrokes(applyEdit(state.pattern, insertion), strokes, store.newId);
    return {
      kind: "together",
      edits: [insertion, written].flatMap((edit) => (edit.kind === "together" ? edit.edits : [edit])),
    };
  });
  const others = pattern.streams.some(({ isDrums }) => !isDrums) ? " Other tracks rest in the copy." : "";
  return `Duplicated ${bars.name}, with ${strokes.length} hits.${others}`;
}

/** Takes bars out, on all tracks, and closes the gap. */
export function removeBars(bench: Bench): string {
  const { store } = bench;
  const bars = meantBars(store.getState());
  const { pattern } = store.getState();
  if (!canChangeBars(pattern)) return TOO_OFTEN;
  if (bars.startTick === 0 && bars.endTick >= pattern.lengthTicks) return "These are all the bars that the take has.";
  commitBars(bench, `Remove ${bars.name}`, (state) => removeBarsOf(state.pattern, bars));
  store.setLoop(null);
  store.setPlayhead(Math.min(bars.startTick, store.getState().pattern.lengthTicks - 1));
  return `Removed ${bars.name}, on every track. Undo brings ${bars.count === 1 ? "it" : "them"} back.`;
}

/** The bars as a pattern of the song, which goes on as it is. */
export function barsToPattern({ store }: Bench): string {
  const bars = meantBars(store.getState());
  const take = store.take();
  const { arrangement = NO_ARRANGEMENT } = take;
  const barTotal = barsOf(take, store.getState().maps).length;
  const name = `${bars.name[0]!.toUpperCase()}${bars.name.slice(1)}`;
  const own = Array.from({ length: bars.count }, (_, index) => bars.firstBar + index);
  const { arrangement: wanted, pattern } = addPattern(arrangement, barTotal, { name, bars: own }, store.newId);
  store.commit(`Save ${bars.name} as a pattern`, { kind: "arrange", ...arranging(arrangement, wanted) });
  return `“${pattern.name}” is a pattern of the song now: put it where you want it on Song.`;
}

/** The bars as a file, all tracks of them, cleaned. */
export async function barsToFile({ store }: Bench): Promise<string | null> {
  const bars = meantBars(store.getState());
  // It is written from what is saved.
  if (!(await store.saved())) return "Your last changes are not saved yet. Try again when it says “Saved”.";
  try {
    const path = exportPath(store.getState().project.id, "asRecorded", bars);
    const { name, blob } = await fetchFile(path, { ticket: store.newId(), signal: new AbortController().signal });
    saveBlob(name, blob);
    return `Saved ${bars.name} as a file.`;
  } catch (error) {
    if (!(error instanceof ServerProblem)) throw error;
    return `${error.problem.message} ${error.problem.remedy}`;
  }
}
