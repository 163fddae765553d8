import { type Arrangement, NO_ARRANGEMENT, type SongPattern } from "../document/arrangement.ts";
import type { BarChange, Edit, Hit, HitMove } from "../document/index.ts";
import { afterBarChange, applyEdit, arranging, frameOf } from "../document/index.ts";
import { MOST_BAR_CHANGES } from "../document/limits.ts";
import { baseTick, type Pattern } from "../document/pattern.ts";
import type { TimingTreatment, Treatment } from "../document/treatment.ts";
import { type Bar, barAt, buildMeterMap, type MeterChange, type MeterMap, type TempoChange } from "../time/index.ts";
import type { TickRange } from "./bake-in.ts";
import { changeTreatments } from "./commands.ts";

// Whole bars are put into a take, or taken out. The file stays as it is: where its places are is said by the timeline.

/** A hit nearer ahead of a bar line than this was played for it, and goes with its bar. */
export const AHEAD_QUARTERS = 1 / 8;

/** Whether bars of this take can be put in or taken out once more. */
export function canChangeBars({ timeline }: Pattern): boolean {
  return (timeline?.barChanges?.length ?? 0) < MOST_BAR_CHANGES;
}

/**
 * Puts silent bars into a take. What lies behind them moves; what is set for stretches and what patterns play goes along. A pattern that
 * plays right over the place plays the new bars, too.
 * @param atTick a bar line
 * @param like the bars whose meters and tempos the new ones have, as many as there are; whole bars of the take
 * @param times how often they are put in, one behind the other
 */
export function insertBars(pattern: Pattern, atTick: number, like: TickRange, times = 1): Edit {
  const ticks = times * (like.endTick - like.startTick);
  const meterMap = buildMeterMap(pattern.ppq, pattern.meters);
  const count = times * barsIn(meterMap, like).length;
  const shift = (tick: number) => (tick >= atTick ? tick + ticks : tick);
  const meters = spliced(pattern.meters, like, times, atTick, FOUR_FOUR);
  const tempos = spliced(pattern.tempos, like, times, atTick, HALF_A_SECOND);
  const at = barAt(meterMap, atTick).barIndex;
  const moved = (bar: number) => (bar >= at ? bar + count : bar);
  return withBars(
    pattern,
    { tick: atTick - AHEAD_QUARTERS * pattern.ppq, ticks },
    {
      meters: meaningful(meters, pattern.ppq),
      tempos: tempos.filter(({ usPerQuarter }, index) => usPerQuarter !== tempos[index - 1]?.usPerQuarter),
      removed: [],
      start: shift,
      end: (tick) => (tick > atTick ? tick + ticks : tick),
      bars: (bars) =>
        bars.flatMap((bar, index) => {
          const isOver = bar === at && bars[index - 1] === at - 1 && at > 0;
          const own = bar === null ? null : moved(bar);
          return isOver ? [...Array.from({ length: count }, (_, more) => at + more), own] : [own];
        }),
    },
  );
}

/**
 * Takes bars out of a take with all that is in them, on every track. Patterns lose them; one that is left without a bar goes.
 * @param range whole bars, not all that the take has
 */
export function removeBarsOf(pattern: Pattern, range: TickRange): Edit {
  const { startTick, endTick } = range;
  const ticks = endTick - startTick;
  const meterMap = buildMeterMap(pattern.ppq, pattern.meters);
  const first = barAt(meterMap, startTick).barIndex;
  const count = barsIn(meterMap, range).length;
  const ahead = AHEAD_QUARTERS * pattern.ppq;
  const shift = (tick: number) => (tick >= endTick ? tick - ticks : Math.min(tick, startTick));
  const closed = <Change extends { readonly tick: number }>(changes: readonly Change[]) => {
    const moved = changes.map((change) => ({ ...change, tick: shift(change.tick) }));
    // Of several at one place the last one holds.
    return moved.filter(({ tick }, index) => moved[index + 1]?.tick !== tick);
  };
  const isGone = (tick: number) => tick >= startTick - ahead && tick < endTick - ahead;
  const tempos = closed(pattern.tempos);
  return withBars(
    pattern,
    { tick: startTick - ahead, ticks: -ticks },
    {
      meters: meaningful(closed(pattern.meters), pattern.ppq),
      tempos: tempos.filter(({ usPerQuarter }, index) => usPerQuarter !== tempos[index - 1]?.usPerQuarter),
      removed: pattern.hits.filter((hit) => isGone(baseTick(hit))),
      start: shift,
      end: shift,
      bars: (bars) =>
        bars.flatMap((bar) => {
          if (bar === null || bar < first) return [bar];
          return bar < first + count ? [] : [bar - count];
        }),
    },
  );
}

/** The whole bars that a stretch is in, from bar line to bar line. */
export function wholeBars(meterMap: MeterMap, { startTick, endTick }: TickRange): TickRange {
  return {
    startTick: barAt(meterMap, startTick).startTick,
    endTick: barAt(meterMap, Math.max(startTick, endTick - 1)).endTick,
  };
}

/** The bars of a stretch of whole bars. */
export function barsIn(meterMap: MeterMap, { startTick, endTick }: TickRange): readonly Bar[] {
  const bars: Bar[] = [];
  for (let tick = startTick; tick < endTick; ) {
    const bar = barAt(meterMap, tick);
    bars.push(bar);
    tick = bar.endTick;
  }
  return bars;
}

/** What a change of bars makes of all that is at places of the take. */
interface BarsMoved {
  readonly meters: readonly MeterChange[];
  readonly tempos: readonly TempoChange[];
  readonly removed: readonly Hit[];
  /** Where the start of a stretch goes, and where its end. */
  readonly start: (tick: number) => number;
  readonly end: (tick: number) => number;
  readonly bars: (bars: SongPattern["bars"]) => SongPattern["bars"];
}

function withBars(pattern: Pattern, change: BarChange, moved: BarsMoved): Edit {
  const { tempos, meters, timeline, arrangement, hits } = pattern;
  const edits: Edit[] = [];
  let now = pattern;
  const add = (edit: Edit) => {
    edits.push(edit);
    now = applyEdit(now, edit);
  };
  if (moved.removed.length > 0) add({ kind: "removeHits", hits: moved.removed });
  const whole = { ...change, tick: Math.max(0, Math.round(change.tick)) };
  // Without a time of its own, the take is on the time of its file up to here.
  const base = timeline ?? { fileTempos: tempos, fileMeters: meters, playedTempos: tempos, startMs: 0 };
  const gone = new Set(moved.removed);
  const moves = hits.flatMap((hit): HitMove[] => {
    const { id, pinnedTick } = hit;
    if (pinnedTick === null || gone.has(hit)) return [];
    return [{ hitId: id, fromTick: pinnedTick, toTick: afterBarChange(whole, pinnedTick) }];
  });
  const to = {
    timeline: { ...base, barChanges: [...(base.barChanges ?? []), whole] },
    meters: moved.meters,
    tempos: moved.tempos,
    lengthTicks: pattern.lengthTicks + change.ticks,
  };
  add({ kind: "retime", from: frameOf(now), to, moves });
  const changes = Object.entries(pattern.changedMessages).flatMap(([messageId, from]) =>
    from === null ? [] : [{ messageId, from, to: { ...from, tick: afterBarChange(whole, from.tick) } }],
  );
  if (changes.length > 0) add({ kind: "changeMessages", changes, times: null });
  const voiceIds = new Set(now.lanes.map(({ voiceId }) => voiceId));
  add(changeTreatments(now, voiceIds, (treatment) => treatmentMoved(treatment, moved)));
  if (arrangement) {
    const wanted = arrangementMoved(now.arrangement ?? NO_ARRANGEMENT, moved);
    add({ kind: "arrange", ...arranging(now.arrangement ?? NO_ARRANGEMENT, wanted) });
  }
  const { otherSide } = now;
  if (otherSide) {
    const treatments = mapped(otherSide.treatments, (treatment) => treatmentMoved(treatment, moved));
    const cells = mapped(otherSide.cells, (own) => cellsMoved(own, moved));
    add({ kind: "keepSide", from: otherSide, to: { ...otherSide, treatments, cells } });
  }
  return { kind: "together", edits };
}

const mapped = <Value>(values: Readonly<Record<string, Value>>, change: (value: Value) => Value) =>
  Object.fromEntries(Object.entries(values).map(([key, value]) => [key, change(value)]));

interface Stretch {
  readonly startTick: number;
  readonly endTick: number;
}

function stretchesMoved<One extends Stretch>(stretches: readonly One[], { start, end }: BarsMoved): readonly One[] {
  return stretches
    .map((one) => ({ ...one, startTick: start(one.startTick), endTick: end(one.endTick) }))
    .filter(({ startTick, endTick }) => endTick > startTick);
}

function timingMoved(timing: TimingTreatment, moved: BarsMoved): TimingTreatment {
  const { exceptions, stretches, ...rest } = timing;
  if (!exceptions && !stretches) return timing;
  const others = stretchesMoved(exceptions ?? [], moved);
  const grids = stretchesMoved(stretches ?? [], moved);
  return {
    ...rest,
    ...(others.length > 0 ? { exceptions: others } : {}),
    ...(grids.length > 0 ? { stretches: grids } : {}),
  };
}

function dynamicsMoved(
  dynamics: NonNullable<Treatment["dynamics"]>,
  moved: BarsMoved,
): NonNullable<Treatment["dynamics"]> {
  const { exceptions, ...rest } = dynamics;
  const others = stretchesMoved(exceptions ?? [], moved);
  return others.length > 0 ? { ...rest, exceptions: others } : rest;
}

function treatmentMoved(treatment: Treatment, moved: BarsMoved): Treatment {
  const { timing, dynamics } = treatment;
  return {
    ...treatment,
    timing: timingMoved(timing, moved),
    ...(dynamics ? { dynamics: dynamicsMoved(dynamics, moved) } : {}),
  };
}

type Cells = NonNullable<SongPattern["cells"]>;

function cellsMoved(cells: Cells, moved: BarsMoved): Cells {
  return mapped(cells, (cell) => ({
    ...cell,
    ...(cell.timing ? { timing: timingMoved(cell.timing, moved) } : {}),
    ...(cell.dynamics ? { dynamics: dynamicsMoved(cell.dynamics, moved) } : {}),
  }));
}

function arrangementMoved(arrangement: Arrangement, moved: BarsMoved): Arrangement {
  const patterns = arrangement.patterns.flatMap((pattern): SongPattern[] => {
    const bars = moved.bars(pattern.bars);
    const cells = pattern.cells && cellsMoved(pattern.cells, moved);
    return bars.length > 0 ? [{ ...pattern, bars, ...(cells ? { cells } : {}) }] : [];
  });
  const ids = new Set(patterns.map(({ id }) => id));
  const followed = patterns.map(({ followsId, ...own }) =>
    followsId !== undefined && ids.has(followsId) ? { ...own, followsId } : own,
  );
  return { ...arrangement, patterns: followed, song: arrangement.song.filter(({ patternId }) => ids.has(patternId)) };
}

const FOUR_FOUR: MeterChange = { tick: 0, numerator: 4, denominator: 4 };
const HALF_A_SECOND: TempoChange = { tick: 0, usPerQuarter: 500_000 };

/** What holds at a tick: the last change up to there. */
function heldAt<Change extends { readonly tick: number }>(
  changes: readonly Change[],
  tick: number,
  usual: Change,
): Change {
  return changes.findLast((change) => change.tick <= tick) ?? usual;
}

/** Changes with those of a stretch put in once more at another place, and all as before behind it. */
function spliced<Change extends { readonly tick: number }>(
  changes: readonly Change[],
  like: TickRange,
  times: number,
  atTick: number,
  usual: Change,
): readonly Change[] {
  const once = like.endTick - like.startTick;
  const ticks = times * once;
  const within = changes.filter(({ tick }) => tick > like.startTick && tick < like.endTick);
  const held = heldAt(changes, like.startTick, usual);
  return [
    ...changes.filter(({ tick }) => tick < atTick),
    ...Array.from({ length: times }, (_, turn) =>
      [{ ...held, tick: like.startTick }, ...within].map((change) => ({
        ...change,
        tick: change.tick - like.startTick + atTick + turn * once,
      })),
    ).flat(),
    { ...heldAt(changes, atTick, usual), tick: atTick + ticks },
    ...changes.filter(({ tick }) => tick > atTick).map((change) => ({ ...change, tick: change.tick + ticks })),
  ];
}

/** Meters without those that change nothing: the same as before, on a bar line. */
function meaningful(meters: readonly MeterChange[], ppq: number): readonly MeterChange[] {
  const kept: MeterChange[] = [];
  for (const meter of meters) {
    const before = kept.at(-1);
    const barTicks = before ? (before.numerator * 4 * ppq) / before.denominator : 1;
    const isSame = before?.numerator === meter.numerator && before.denominator === meter.denominator;
    if (!isSame || (meter.tick - before.tick) % barTicks !== 0) kept.push(meter);
  }
  return kept;
}
