import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  addLane,
  changeTiming,
  changeVelocityBy,
  moveHitsBy,
  nameNote,
  pinHits,
  revoiceHits,
  toggleMuted,
  unpinHits,
} from "../commands/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import {
  advanceHistory,
  applyEdit,
  baseVelocity,
  compareHits,
  differencesBetween,
  type Edit,
  EMPTY_HISTORY,
  historyOfLog,
  invertEdit,
  isEmptyEdit,
  type LogEntry,
  mergeEdits,
  type Pattern,
  runAtEnd,
  runsOf,
  StaleEditError,
  type Step,
  touchedBy,
} from "./index.ts";
import { DEFAULT_TREATMENT } from "./treatment.ts";

const start = patternOf([
  hitAt(0),
  hitAt(120),
  hitAt(245),
  hitAt(480, { voiceId: "kick" }),
  hitAt(700, { voiceId: "kick" }),
]);
const placed = (pattern: Pattern, ids: ReadonlySet<number>) =>
  pattern.hits.flatMap((hit, index) =>
    ids.has(index) ? [{ hit, tick: hit.pinnedTick ?? hit.recordedTick ?? 0 }] : [],
  );

/** A command with chosen hits, as a person might give it, on whatever the pattern is by then. */
const action = fc.record({
  which: fc.constantFrom(
    "move",
    "pin",
    "unpin",
    "louder",
    "remove",
    "add",
    "timing",
    "stream",
    "revoice",
    "name",
    "map",
    "lane",
    "messages",
    "mute",
    "together",
  ),
  picks: fc.uniqueArray(fc.integer({ min: 0, max: 6 }), { maxLength: 4 }),
  amount: fc.integer({ min: -3000, max: 3000 }),
});

function editOf(
  { which, picks, amount }: { which: string; picks: number[]; amount: number },
  pattern: Pattern,
  turn: number,
): Edit {
  const chosen = placed(pattern, new Set(picks));
  switch (which) {
    case "move":
      return moveHitsBy(pattern, chosen, amount);
    case "pin":
      return pinHits(pattern, chosen);
    case "unpin":
      return unpinHits(chosen.map(({ hit }) => hit));
    case "louder":
      return changeVelocityBy(
        chosen.map(({ hit }) => hit),
        amount,
      );
    case "remove":
      return { kind: "removeHits", hits: chosen.map(({ hit }) => hit) };
    case "add": {
      const tick = Math.abs(amount);
      return {
        kind: "addHits",
        hits: [
          hitAt(tick, {
            id: `added ${turn}`,
            recordedTick: null,
            recordedVelocity: null,
            pinnedTick: tick,
            pinnedVelocity: 80,
          }),
        ],
      };
    }
    case "revoice": {
      const hits = chosen.map(({ hit }) => hit);
      return revoiceHits(pattern, hits, { voiceId: amount % 2 === 0 ? "hat" : "snare", articulationId: "centre" });
    }
    case "name":
      return nameNote(
        pattern,
        38,
        amount % 2 === 0
          ? { voiceId: "ride", articulationId: "bow" }
          : { voiceId: "note-38", articulationId: "unnamed" },
      );
    case "map":
      return { kind: "setOutgoingMap", from: pattern.outgoingMap, to: amount % 2 === 0 ? GENERAL_MIDI : null };
    case "mute":
      return toggleMuted(chosen.map(({ hit }) => hit));
    case "lane":
      return addLane(pattern, amount % 2 === 0 ? "kick" : "cowbell");
    case "messages": {
      const messageId = `0:${Math.abs(amount) % 3}`;
      const from = pattern.changedMessages[messageId];
      const to = amount % 2 === 0 ? null : { tick: Math.abs(amount), bytes: [0xb9, 4, 3] };
      const { meters, tempos } = pattern;
      const faster = { meters, tempos: [{ tick: 0, usPerQuarter: 400_000 + Math.abs(amount) }] };
      const times = amount % 3 === 0 ? { from: { meters, tempos }, to: faster } : null;
      return { kind: "changeMessages", changes: [{ messageId, ...(from === undefined ? {} : { from }), to }], times };
    }
    case "together": {
      const first = editOf({ which: "pin", picks, amount }, pattern, turn);
      return {
        kind: "together",
        edits: [first, editOf({ which: "louder", picks, amount }, applyEdit(pattern, first), turn)],
      };
    }
    case "stream": {
      const isDrums = pattern.streams[0]!.isDrums;
      const hits = pattern.hits.filter((hit) => hit.streamIndex === 0);
      const toLanes = isDrums ? [] : pattern.lanes.length > 0 ? pattern.lanes : [laneOf("snare")];
      return {
        kind: "setDrumStream",
        change: { streamIndex: 0, toIsDrums: !isDrums, hits: isDrums ? hits : [], fromLanes: pattern.lanes, toLanes },
      };
    }
    default:
      return changeTiming(pattern, new Set(["snare"]), (timing) => ({
        ...timing,
        strengthPercent: Math.abs(amount) % 101,
      }));
  }
}

describe("edits", () => {
  it("give back the pattern when any sequence of them is undone", () => {
    fc.assert(
      fc.property(fc.array(action, { maxLength: 14 }), (actions) => {
        let pattern = start;
        const edits = actions.map((one, turn) => {
          const edit = editOf(one, pattern, turn);
          pattern = applyEdit(pattern, edit);
          expect(pattern.hits).toEqual([...pattern.hits].sort(compareHits));
          return edit;
        });
        for (const edit of edits.toReversed()) pattern = applyEdit(pattern, invertEdit(edit));
        expect(pattern).toEqual(start);
      }),
      { numRuns: 300 },
    );
  });

  it("never lose or double a hit unless they remove or add one", () => {
    fc.assert(
      fc.property(
        action.filter(({ which }) => !["remove", "add", "stream"].includes(which)),
        (one) => {
          const after = applyEdit(start, editOf(one, start, 0));
          expect(after.hits.map((hit) => hit.id)).toEqual(start.hits.map((hit) => hit.id));
          expect(after.hits.map((hit) => [hit.recordedTick, hit.recordedVelocity])).toEqual(
            start.hits.map((hit) => [hit.recordedTick, hit.recordedVelocity]),
          );
        },
      ),
    );
  });

  it("say what differs, hit by hit and voice by voice", () => {
    const [first, second, third] = start.hits;
    const later = [
      moveHitsBy(start, placed(start, new Set([0])), 30),
      changeVelocityBy([first!], 5),
      toggleMuted([second!]),
      { kind: "removeHits", hits: [third!] } as const,
      changeTiming(start, new Set(["kick"]), (timing) => ({ ...timing, isOn: true })),
    ].reduce(applyEdit, start);
    const { hits, treatedVoiceIds } = differencesBetween(start, later);
    expect(hits.map(({ hit, how }) => [hit.id, how])).toEqual([
      [first!.id, ["moved", "loudness"]],
      [second!.id, ["muted"]],
      [third!.id, ["removed"]],
    ]);
    expect(treatedVoiceIds).toEqual(["kick"]);
  });

  it("mute all of several hits first, and let them sound again when all are muted", () => {
    const [first, second] = start.hits;
    const one = applyEdit(start, toggleMuted([first!]));
    const both = applyEdit(one, toggleMuted(one.hits.slice(0, 2)));
    expect(both.hits.map((hit) => hit.isMuted)).toEqual([true, true, undefined, undefined, undefined]);
    expect(applyEdit(both, toggleMuted(both.hits.slice(0, 2)))).toEqual(start);
    expect(() => applyEdit(both, { kind: "muteHits", hitIds: [second!.id], toIsMuted: true })).toThrow(StaleEditError);
  });

  it("are refused on a pattern that has changed since", () => {
    const move = moveHitsBy(start, placed(start, new Set([1])), 10);
    const moved = applyEdit(start, move);
    expect(() => applyEdit(moved, move)).toThrow(StaleEditError);
    const removal: Edit = { kind: "removeHits", hits: [start.hits[1]!] };
    expect(() => applyEdit(moved, removal)).toThrow("has changed since");
    expect(() => applyEdit(applyEdit(start, removal), move)).toThrow("no longer there");
    expect(() => applyEdit(start, { kind: "addHits", hits: [start.hits[0]!] })).toThrow("there already");
    const loud = changeTiming(start, new Set(["snare"]), (timing) => ({ ...timing, strengthPercent: 10 }));
    expect(() => applyEdit(applyEdit(start, loud), loud)).toThrow(StaleEditError);
  });

  it("of one drag fold into one step", () => {
    const first = moveHitsBy(start, placed(start, new Set([0, 1])), 10);
    const between = applyEdit(start, first);
    const second = moveHitsBy(between, placed(between, new Set([1, 2])), 5);
    const merged = mergeEdits(first, second)!;
    expect(applyEdit(start, merged)).toEqual(applyEdit(between, second));
    expect(applyEdit(applyEdit(start, merged), invertEdit(merged))).toEqual(start);
    expect(mergeEdits(first, { kind: "addHits", hits: [] })).toBeNull();
  });

  it("say which hits they touch, and whether they change anything", () => {
    expect(touchedBy(moveHitsBy(start, placed(start, new Set([0, 3])), 1)).hitIds).toEqual(["0:0", "0:480"]);
    const nothing = changeTiming(start, new Set(["kick"]), (timing) => ({ ...timing }));
    expect(isEmptyEdit(nothing)).toBe(true);
    expect(isEmptyEdit(changeTiming(start, new Set(["kick"]), (timing) => ({ ...timing, isOn: true })))).toBe(false);
  });
});

describe("commands", () => {
  it("move hits together, and stop all where the first would leave the pattern", () => {
    const edit = moveHitsBy(start, placed(start, new Set([1, 2])), -500);
    expect(edit).toMatchObject({ moves: [{ toTick: 0 }, { toTick: 125 }] });
    const late = moveHitsBy(start, placed(start, new Set([0, 4])), 1e9);
    expect(late).toMatchObject({ moves: [{ toTick: 6979 }, { toTick: 7679 }] });
  });

  it("keep velocities within 1 to 127", () => {
    fc.assert(
      fc.property(fc.integer({ min: -300, max: 300 }), (delta) => {
        for (const hit of applyEdit(start, changeVelocityBy(start.hits, delta)).hits) {
          expect(baseVelocity(hit)).toBeGreaterThanOrEqual(1);
          expect(baseVelocity(hit)).toBeLessThanOrEqual(127);
        }
      }),
    );
  });

  it("leave a hit that was added by hand where it is when unpinned", () => {
    const added = hitAt(50, { recordedTick: null, recordedVelocity: null, pinnedTick: 50, pinnedVelocity: 80 });
    expect(unpinHits([added])).toEqual({ kind: "moveHits", moves: [] });
  });
});

describe("saying which drum plays", () => {
  const take = patternOf([
    hitAt(0, { id: "a", note: 22, voiceId: "note-22", articulationId: "unnamed" }),
    hitAt(480, { id: "b", note: 22, voiceId: "note-22", articulationId: "unnamed" }),
    hitAt(960, { id: "c" }),
  ]);
  const bell = { voiceId: "ride", articulationId: "bell" };

  it("names a note: its hits follow, a lane comes, and the empty one goes", () => {
    const named = applyEdit(take, nameNote(take, 22, bell));
    expect(named.hits.map((hit) => hit.voiceId)).toEqual(["ride", "ride", "snare"]);
    expect(named.lanes.map((lane) => lane.voiceId)).toEqual(["ride", "snare"]);
    expect(named.noteMap.entries).toContainEqual({ note: 22, channel: null, pedal: null, ...bell });
    expect(take.noteMap.entries.some((entry) => entry.note === 22)).toBe(false);
  });

  it("leaves hits alone that a hand has moved to another drum", () => {
    const moved = applyEdit(take, revoiceHits(take, [take.hits[0]!], { voiceId: "kick", articulationId: "main" }));
    expect(moved.lanes.map((lane) => lane.voiceId)).toEqual(["snare", "kick", "note-22"]);
    const named = applyEdit(moved, nameNote(moved, 22, bell));
    expect(named.hits.map((hit) => hit.voiceId)).toEqual(["kick", "ride", "snare"]);
    expect(named.hits.map((hit) => hit.note)).toEqual([22, 22, 38]);
  });

  it("takes a name back: the note has a lane of its own again", () => {
    const named = applyEdit(take, nameNote(take, 22, bell));
    const back = applyEdit(named, nameNote(named, 22, { voiceId: "note-22", articulationId: "unnamed" }));
    expect([back.hits, back.noteMap]).toEqual([take.hits, take.noteMap]);
  });

  it("keeps the treatments of the lanes that stay", () => {
    const treated = { ...take, lanes: [laneOf("snare", { strengthPercent: 33 }), laneOf("note-22")] };
    const named = applyEdit(treated, nameNote(treated, 22, { voiceId: "snare", articulationId: "rim-shot" }));
    expect(named.lanes).toEqual([laneOf("snare", { strengthPercent: 33 })]);
  });
});

describe("history", () => {
  const entry = (kind: LogEntry["kind"], amount: number): LogEntry => {
    const edit = changeTiming(patternOf([hitAt(0)]), new Set(["snare"]), () => ({
      ...DEFAULT_TREATMENT.timing,
      strengthPercent: amount,
    }));
    return {
      id: `${kind} ${amount}`,
      kind,
      label: `Strength ${amount}`,
      edit: kind === "undo" ? invertEdit(edit) : edit,
    };
  };

  it("is the same from a log as step by step", () => {
    const log = [
      entry("do", 1),
      entry("do", 2),
      entry("undo", 2),
      entry("redo", 2),
      entry("undo", 2),
      entry("undo", 1),
    ];
    const history = historyOfLog(log);
    expect(history).toEqual(log.reduce(advanceHistory, EMPTY_HISTORY));
    expect(history.done).toEqual([]);
    expect(history.undone.map((step) => step.label)).toEqual(["Strength 2", "Strength 1"]);
    expect(history.undone[1]!.edit).toEqual(log[0]!.edit);
  });

  it("forgets what could be redone when something new is done", () => {
    expect(historyOfLog([entry("do", 1), entry("undo", 1), entry("do", 3)])).toMatchObject({
      done: [{ label: "Strength 3" }],
      undone: [],
    });
  });

  describe("takes equal steps in a row as one", () => {
    const louder = (label: string, hitId: string, from: number | null, to: number): Step => ({
      id: `${label} ${from}`,
      label,
      edit: { kind: "setVelocity", changes: [{ hitId, fromVelocity: from, toVelocity: to }] },
    });
    const three = [
      louder("Velocity of 1 hit +4", "a", null, 84),
      louder("Velocity of 1 hit +4", "a", 84, 88),
      louder("Velocity of 1 hit −12", "a", 88, 76),
    ];

    it("and names them by their sum", () => {
      expect(runAtEnd(three)).toMatchObject({ count: 3, label: "Velocity of 1 hit −4" });
    });

    it("but not those of other hits, of another kind, or without an amount", () => {
      const other = louder("Velocity of 1 hit +4", "b", null, 84);
      expect(runAtEnd([...three, other])).toMatchObject({ count: 1, label: "Velocity of 1 hit +4" });
      const unnamed = louder("Louder", "a", 76, 80);
      expect(runAtEnd([unnamed, unnamed])).toMatchObject({ count: 1, label: "Louder" });
      expect(runAtEnd([])).toBeNull();
    });

    it("wherever they are in the list", () => {
      const other = louder("Velocity of 1 hit +4", "b", null, 84);
      expect(runsOf([...three, other, ...three]).map(({ count }) => count)).toEqual([3, 1, 3]);
    });

    it("in a pattern of the song as in the take, each apart", () => {
      const steps = ["", ", in Verse 1", ", in Verse 1"].map((where) =>
        louder(`Velocity of 1 hit +4${where}`, "a", null, 84),
      );
      expect(runAtEnd(steps)).toMatchObject({ count: 2, label: "Velocity of 1 hit +8, in Verse 1" });
    });

    it("with one and several of a unit", () => {
      const steps = ["Nudge 1 hit +1 tick", "Nudge 1 hit +2 ticks"].map((label) => louder(label, "a", null, 84));
      expect(runAtEnd(steps)).toMatchObject({ count: 2, label: "Nudge 1 hit +3 ticks" });
    });
  });
});
