import type { Edit, Pattern } from "../../core/document/index.ts";
import { arranging, findVoice, OWN_LENGTH_LIMIT, type Voice } from "../../core/document/index.ts";
import type { Marker } from "../../core/file/index.ts";
import { sayLimited } from "../../core/limit.ts";
import { remembering } from "../../core/remember.ts";
import {
  type Arrangement,
  barsOf,
  type CellPlace,
  type Cells,
  type CellTreatment,
  cellOf,
  changeCells,
  feelOfCell,
  type NamedBar,
  NO_ARRANGEMENT,
  type SongPattern,
} from "../../core/song/index.ts";
import { type Bar, barAt, type MeterMap } from "../../core/time/index.ts";
import type { Bench } from "../../store/bench/bench-context.ts";
import type { BenchState } from "../../store/bench/bench-state.ts";

// What the song screen does and says, for its buttons, keys and menus alike.

export const arrangementOf = ({ arrangement }: Pick<Pattern, "arrangement">): Arrangement =>
  arrangement ?? NO_ARRANGEMENT;

type Change = (arrangement: Arrangement) => Arrangement;

function editOf({ pattern }: BenchState, change: Change): Edit {
  const before = arrangementOf(pattern);
  return { kind: "arrange", ...arranging(before, change(before)) };
}

/** Changes the song, as one step that can be undone. */
export function arrangeBy({ store }: Bench, label: string, change: Change): void {
  store.commit(label, editOf(store.getState(), change));
}

/** Plays, or stops. @returns why there is nothing to play */
export function togglePlaying({ store, playback }: Bench): string | null {
  if (arrangementOf(store.getState().pattern).patterns.length === 0)
    return "There is no song to play yet: split the take into patterns first.";
  void playback.toggle();
  return null;
}

/** Shows and plays what a change would do, for the time of a drag. */
export function previewArrange({ store }: Bench, change: Change): void {
  store.preview(editOf(store.getState(), change));
}

const rememberBars = remembering<BenchState["maps"], readonly Bar[]>();

/** The bars of the open take. */
export function takeBars({ pattern, maps }: Pick<BenchState, "pattern" | "maps">): readonly Bar[] {
  return rememberBars(maps, [pattern.lengthTicks], () => barsOf(pattern, maps));
}

/** How the longest of the bars that patterns play is counted: its beats and its length, in quarters. */
export function countOf(
  bars: readonly Bar[],
  patterns: readonly Pick<SongPattern, "bars">[],
  ppq: number,
): { readonly beats: readonly number[]; readonly lengthQuarters: number } {
  const lengthOf = ({ startTick, endTick }: Bar) => endTick - startTick;
  const played = patterns.flatMap((pattern) => pattern.bars.flatMap((bar) => (bar === null ? [] : (bars[bar] ?? []))));
  const [first = bars[0]!] = played;
  const longest = played.reduce((best, bar) => (lengthOf(bar) > lengthOf(best) ? bar : best), first);
  return { beats: longest.pulseTicks.map((tick) => tick / ppq), lengthQuarters: lengthOf(longest) / ppq };
}

/** The bars that markers name: each the one whose line is nearest. */
export function namedBars(markers: readonly Marker[], meterMap: MeterMap): readonly NamedBar[] {
  return markers.map(({ tick, text }) => {
    const { barIndex, startTick, endTick } = barAt(meterMap, tick);
    return { bar: tick - startTick < endTick - tick ? barIndex : barIndex + 1, name: text };
  });
}

/** What is chosen in the matrix: a corner and the opposite one. */
export interface CellRange {
  readonly from: CellPlace;
  readonly to: CellPlace;
}

/** The rows, columns and cells of a choice; none if it names what is no longer there. */
export function cellsIn(
  range: CellRange | null,
  patterns: readonly SongPattern[],
  voiceIds: readonly string[],
): {
  readonly patternIds: readonly string[];
  readonly voiceIds: readonly string[];
  readonly places: readonly CellPlace[];
} {
  const none = { patternIds: [], voiceIds: [], places: [] };
  if (!range) return none;
  const rowOf = ({ patternId }: CellPlace) => patterns.findIndex(({ id }) => id === patternId);
  const columnOf = ({ voiceId }: CellPlace) => voiceIds.indexOf(voiceId);
  const rows = [rowOf(range.from), rowOf(range.to)];
  const columns = [columnOf(range.from), columnOf(range.to)];
  if (Math.min(...rows, ...columns) < 0) return none;
  const chosen = patterns.slice(Math.min(...rows), Math.max(...rows) + 1).map(({ id }) => id);
  const voices = voiceIds.slice(Math.min(...columns), Math.max(...columns) + 1);
  return {
    patternIds: chosen,
    voiceIds: voices,
    places: chosen.flatMap((patternId) => voices.map((voiceId) => ({ patternId, voiceId }))),
  };
}

/** What is chosen, in words. */
export function choiceWords(
  { patternIds, voiceIds, places }: ReturnType<typeof cellsIn>,
  patterns: readonly SongPattern[],
  pattern: Pattern,
): string {
  if (places.length === 0) return "Nothing is selected.";
  const patternName = patterns.find(({ id }) => id === patternIds[0])?.name ?? "";
  const voiceName = findVoice(pattern.noteMap, voiceIds[0] ?? "").name;
  const allVoices = voiceIds.length === pattern.lanes.length;
  const allPatterns = patternIds.length === patterns.length;
  const voices = voiceIds.length === 1 ? voiceName : allVoices ? "All voices" : `${voiceIds.length} voices`;
  const where = patternIds.length === 1 ? patternName : allPatterns ? "all patterns" : `${patternIds.length} patterns`;
  return `${voices} in ${where}`;
}

/** What a cell does, in words. */
export function cellWords(
  arrangement: Arrangement,
  pattern: SongPattern,
  { voiceId, treatment }: Pattern["lanes"][number],
  ppq: number,
) {
  const cell = cellOf(arrangement, pattern, voiceId);
  const laid =
    cell.feel === undefined
      ? treatment.feel?.isOn
        ? treatment.feel
        : null
      : cell.feel && feelOfCell(arrangement, cell.feel);
  const pushMs = cell.pushMs ?? treatment.timing.pushMs;
  const words = [
    laid ? `${laid.groove.name}, timing ${laid.timingPercent} %, loudness ${laid.accentPercent} %` : "no groove",
    ...(pushMs === 0 ? [] : [`${Math.abs(pushMs)} ms ${pushMs < 0 ? "ahead" : "behind"}`]),
    ...(cell.timing ? [`quantized ${cell.timing.strengthPercent} %`] : []),
    ...(cell.ownLengthTicks
      ? [`over and over in ${sayLimited(OWN_LENGTH_LIMIT, sixteenthsOf(cell.ownLengthTicks, ppq))}`]
      : []),
    ...(cell.dynamics?.isOn ? [`velocity ${cell.dynamics.loudnessPercent} %`] : []),
  ];
  const isOwn = Object.keys(cell).length > 0;
  return `${words.join(", ")}${isOwn ? "" : ", as the take"}`;
}

/** A length in sixteenths, as it is set. */
export const sixteenthsOf = (ticks: number | undefined, ppq: number) => Math.round((4 * (ticks ?? 0)) / ppq);

export interface CellMarks {
  readonly groove: string | null;
  readonly isOwn: boolean;
  readonly pushMs: number;
}

/** What is set in a cell itself, or in a pattern that it follows. */
export function marksOfCell(arrangement: Arrangement, pattern: SongPattern, voiceId: string): CellMarks {
  const cell = cellOf(arrangement, pattern, voiceId);
  const groove = cell.feel ? (arrangement.grooves[cell.feel.grooveId]?.name ?? null) : null;
  return { groove, isOwn: Object.keys(cell).length > 0, pushMs: cell.pushMs ?? 0 };
}

/** The value that all chosen cells have; undefined if they differ. */
export function sharedBy<Value>(
  arrangement: Arrangement,
  places: readonly CellPlace[],
  read: (cell: CellTreatment, voiceId: string) => Value,
): Value | undefined {
  const values = places.flatMap(({ patternId, voiceId }) => {
    const pattern = arrangement.patterns.find(({ id }) => id === patternId);
    return pattern ? [read(cellOf(arrangement, pattern, voiceId), voiceId)] : [];
  });
  const [first] = values;
  return values.every((value) => value === first) ? first : undefined;
}

/** Gives cells back to what they follow. */
export function clearCells(arrangement: Arrangement, places: readonly CellPlace[]): Arrangement {
  return changeCells(arrangement, places, () => ({
    timing: undefined,
    dynamics: undefined,
    feel: undefined,
    pushMs: undefined,
    ownLengthTicks: undefined,
  }));
}

export function hasCells({ cells = {} }: { readonly cells?: Cells }): boolean {
  return Object.keys(cells).length > 0;
}

export const voicesOf = ({ lanes, noteMap }: Pick<Pattern, "lanes" | "noteMap">): readonly Voice[] =>
  lanes.map(({ voiceId }) => findVoice(noteMap, voiceId));

/** A stretch of a pattern: bars of the take in their order, or silence. */
interface BarRun {
  readonly isSilent: boolean;
  readonly count: number;
  readonly words: string;
}

function runsOfBars(bars: SongPattern["bars"]): readonly BarRun[] {
  const runs: BarRun[] = [];
  for (let at = 0; at < bars.length; ) {
    const first = bars[at]!;
    let end = at + 1;
    while (end < bars.length && bars[end] === (first === null ? null : first + end - at)) end++;
    const count = end - at;
    const silence = count === 1 ? "a silent bar" : `${count} silent bars`;
    const played = first === null ? "" : count === 1 ? `${first + 1}` : `${first + 1} to ${first + count}`;
    runs.push({ isSilent: first === null, count, words: first === null ? silence : played });
    at = end;
  }
  return runs;
}

const MOST_RUNS = 4;

/** `Bars 1 to 8 of the take`, `2 silent bars, then bars 1 to 8 of the take`, or as much of it as can be said shortly. */
export function barWords({ bars, turnedTicks }: SongPattern, ppq: number): string {
  const runs = runsOfBars(bars);
  const shown = runs.slice(0, runs.length > MOST_RUNS ? MOST_RUNS - 1 : MOST_RUNS);
  const parts: string[] = [];
  for (let at = 0; at < shown.length; ) {
    let end = at + 1;
    while (end < shown.length && !shown[at]!.isSilent && !shown[end]!.isSilent) end++;
    const group = shown.slice(at, end);
    const isOne = group.length === 1 && group[0]!.count === 1;
    const list = group.map(({ words }) => words).join(", ");
    parts.push(group[0]!.isSilent ? list : `${isOne ? "bar" : "bars"} ${list} of the take`);
    at = end;
  }
  const left = runs.length - shown.length;
  const quarters = Math.round(((turnedTicks ?? 0) / ppq) * 100) / 100;
  const turned = turnedTicks ? `, rotated by ${quarters} ${quarters === 1 ? "quarter" : "quarters"}` : "";
  const words = `${parts.join(", then ")}${left > 0 ? ` and ${left} more` : ""}${turned}`;
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}`;
}
