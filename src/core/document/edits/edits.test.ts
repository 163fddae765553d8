import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { ALL_KINDS, anyEdits, anyState } from "../../testing/documents.ts";
import type { Pattern } from "../pattern.ts";
import { isSameValue, StaleEditError } from "../stale.ts";
import { applyEdit, type Edit, editBetween, invertEdit, isEmptyEdit, mergeEdits, touchedBy } from "./index.ts";

// Laws that hold for every kind of edit. Kinds are drawn from their record: one that is added is tested without being named here.

/** Holds a law for each edit that is drawn, and fails if some kind never was. */
function forEveryKind(law: (before: Pattern, edit: Edit) => void): void {
  const seen = new Set<string>();
  fc.assert(
    fc.property(anyEdits, (edits) => {
      for (const { before, edit } of edits) {
        seen.add(edit.kind);
        law(before, edit);
      }
    }),
    { numRuns: 200 },
  );
  expect([...seen].sort()).toEqual([...ALL_KINDS].sort());
}

const throughJson = <Value>(value: Value): Value => JSON.parse(JSON.stringify(value));
const keysOf = (pattern: Pattern) => Object.keys(pattern) as (keyof Pattern)[];

/** What differs between two states: the ids of hits, and the other parts. */
function changedParts(before: Pattern, after: Pattern) {
  const parts = [...new Set([...keysOf(before), ...keysOf(after)])].filter(
    (key) => key !== "hits" && !isSameValue(before[key], after[key]),
  );
  const [was, is] = [before, after].map(({ hits }) => new Map(hits.map((hit) => [hit.id, hit])));
  const ids = [...new Set([...was!.keys(), ...is!.keys()])];
  return { parts, hitIds: ids.filter((id) => !isSameValue(was!.get(id), is!.get(id))) };
}

/** As `toEqual`, which takes its time over patterns that are the same. */
function expectSame<Value>(value: Value, wanted: Value): void {
  if (!isSameValue(value, wanted)) expect(value).toEqual(wanted);
}

describe("every kind of edit", () => {
  it("is taken back by its inverse, also through JSON", () => {
    forEveryKind((before, edit) => {
      const after = applyEdit(before, edit);
      expectSame(applyEdit(after, invertEdit(edit)), before);
      const copy = throughJson(edit);
      expect(copy).toEqual(edit);
      expectSame(applyEdit(throughJson(before), copy), after);
      expectSame(applyEdit(throughJson(after), throughJson(invertEdit(copy))), before);
    });
  });

  it("names all that it changes", () => {
    forEveryKind((before, edit) => {
      const { hitIds, parts, areAllMoved } = touchedBy(edit);
      const after = applyEdit(before, edit);
      const changed = changedParts(before, after);
      expect(parts).toEqual(expect.arrayContaining(changed.parts));
      // Where all are moved, those that come and go are named all the same: whoever stores hits would miss them otherwise.
      const stay = new Set(before.hits.map(({ id }) => id).filter((id) => after.hits.some((hit) => hit.id === id)));
      const named = areAllMoved ? changed.hitIds.filter((id) => !stay.has(id)) : changed.hitIds;
      expect(hitIds).toEqual(expect.arrayContaining(named));
    });
  });

  it("is empty where it leaves a pattern as it is, and only there", () => {
    forEveryKind((before, edit) => {
      expect(isEmptyEdit(edit)).toBe(isSameValue(applyEdit(before, edit), before));
    });
  });

  it("on another state of the take is refused, or done so that it can be taken back: it is never bent to fit", () => {
    const refused = new Set<string>();
    fc.assert(
      fc.property(anyEdits, anyState, (edits, other) => {
        for (const { edit } of edits) {
          try {
            expect(applyEdit(applyEdit(other, edit), invertEdit(edit))).toEqual(other);
          } catch (error) {
            if (!(error instanceof StaleEditError)) throw error;
            refused.add(edit.kind);
          }
        }
      }),
      { numRuns: 200 },
    );
    expect([...refused].sort()).toEqual([...ALL_KINDS].sort());
  });

  it("folds with another one of its kind into what both do, or not at all", () => {
    fc.assert(
      fc.property(anyState, anyState, anyState, (first, second, third) => {
        const simple = (from: Pattern, to: Pattern) => {
          const edit = editBetween(from, to);
          return edit.kind === "together" ? edit.edits : [];
        };
        for (const one of simple(first, second)) {
          const before = first;
          let after: Pattern;
          try {
            after = applyEdit(before, one);
          } catch (error) {
            if (!(error instanceof StaleEditError)) throw error;
            continue;
          }
          const next = simple(after, third).find(({ kind }) => kind === one.kind);
          if (!next) continue;
          const merged = tryMerge(after, one, next);
          if (merged) expect(applyEdit(before, merged.edit)).toEqual(merged.after);
        }
      }),
    );
  });
});

/** Two edits as one, with what both lead to; null if they stay two, or the second does not go by itself. */
function tryMerge(after: Pattern, first: Edit, second: Edit): { readonly edit: Edit; readonly after: Pattern } | null {
  const edit = mergeEdits(first, second);
  if (!edit) return null;
  try {
    return { edit, after: applyEdit(after, second) };
  } catch (error) {
    if (!(error instanceof StaleEditError)) throw error;
    return null;
  }
}

describe("an edit between two states", () => {
  it("leads from one to the other, and back", () => {
    fc.assert(
      fc.property(anyState, anyState, (from, to) => {
        const edit = throughJson(editBetween(from, to));
        const after = applyEdit(from, edit);
        expect(after).toEqual(to);
        expect(applyEdit(after, invertEdit(edit))).toEqual(from);
        expect(isEmptyEdit(editBetween(after, to))).toBe(true);
      }),
      { numRuns: 200 },
    );
  });
});
