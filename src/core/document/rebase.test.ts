import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { changeTiming, changeVelocityBy, toggleMuted } from "../commands/commands.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import type { Edit } from "./edits/index.ts";
import { applyEdit, invertEdit } from "./edits/index.ts";
import { historyOfLog, type LogEntry } from "./history.ts";
import type { Pattern } from "./pattern.ts";
import { rebase } from "./rebase.ts";

const start = patternOf(
  [0, 480, 960, 1440].map((tick, row) => hitAt(tick, { id: `${row}` })),
  { lanes: [laneOf("snare")] },
);

type Command = (pattern: Pattern) => Edit;
const commands: fc.Arbitrary<Command> = fc.oneof(
  fc.tuple(fc.nat(3), fc.integer({ min: -3, max: 3 })).map(
    ([row, by]): Command =>
      (pattern) =>
        changeVelocityBy([pattern.hits[row]!], by),
  ),
  fc.integer({ min: 50, max: 53 }).map(
    (percent): Command =>
      (pattern) =>
        changeTiming(pattern, new Set(["snare"]), (timing) => ({ ...timing, strengthPercent: percent })),
  ),
  fc.nat(3).map(
    (row): Command =>
      (pattern) =>
        toggleMuted([pattern.hits[row]!]),
  ),
);

/** What somebody does from a pattern on, with some of it undone again. */
function logOf(pattern: Pattern, made: readonly Command[], undone: number, who: string): readonly LogEntry[] {
  const entries: LogEntry[] = [];
  let at = pattern;
  const add = (kind: LogEntry["kind"], edit: Edit) => {
    at = applyEdit(at, edit);
    entries.push({ id: `${who} ${entries.length}`, kind, label: `${who} ${entries.length}`, edit });
  };
  for (const command of made) add("do", command(at));
  for (const { edit } of entries.slice(entries.length - Math.min(undone, entries.length)).toReversed()) {
    add("undo", invertEdit(edit));
  }
  return entries;
}

const applied = (pattern: Pattern, entries: readonly LogEntry[]) =>
  entries.reduce((at, { edit }) => applyEdit(at, edit), pattern);
const logs = fc.tuple(fc.array(commands, { maxLength: 6 }), fc.nat(3));

describe("edits put on another base", () => {
  it("lose nothing: each goes on top, is there already, or is named as unfit; and what is shown is what they lead to", () => {
    fc.assert(
      fc.property(logs, logs, ([theirs, theirUndone], [ours, ourUndone]) => {
        const base = applied(start, logOf(start, theirs, theirUndone, "theirs"));
        const own = logOf(start, ours, ourUndone, "ours");
        const { pattern, kept, done, unfit } = rebase(base, own);
        expect([...kept, ...done, ...unfit].map(({ id }) => id).sort()).toEqual(own.map(({ id }) => id).sort());
        expect(applied(base, kept)).toEqual(pattern);
      }),
    );
  });

  it("are all kept on the base that they were made on, as they were", () => {
    fc.assert(
      fc.property(logs, ([ours, undone]) => {
        const own = logOf(start, ours, undone, "ours");
        expect(rebase(start, own)).toMatchObject({ kept: own, done: [], unfit: [], pattern: applied(start, own) });
      }),
    );
  });

  it("undo no step of others: an undo without its own step is a step by itself", () => {
    fc.assert(
      fc.property(logs, logs, ([theirs, theirUndone], [ours, ourUndone]) => {
        const other = logOf(start, theirs, theirUndone, "theirs");
        const own = logOf(start, ours, ourUndone, "ours");
        const { kept, pattern } = rebase(applied(start, other), own);
        // Undoing all that the log says was done leads back to the start.
        const { done } = historyOfLog([...other, ...kept]);
        const back = done.toReversed().reduce((at, { edit }) => applyEdit(at, invertEdit(edit)), pattern);
        expect(back.hits.map((hit) => hit.isMuted ?? false)).toEqual(start.hits.map((hit) => hit.isMuted ?? false));
      }),
    );
  });

  it("count as done where others have done the same", () => {
    const edit = changeTiming(start, new Set(["snare"]), (timing) => ({ ...timing, strengthPercent: 51 }));
    const entry: LogEntry = { id: "ours", kind: "do", label: "Strength", edit };
    expect(rebase(applyEdit(start, edit), [entry])).toMatchObject({ kept: [], done: [entry], unfit: [] });
  });
});
