import fc from "fast-check";
import { expect, test } from "vitest";
import { anyState } from "../testing/documents.ts";
import { hitAt } from "../testing/patterns.ts";
import { packHits, packPattern, unpackHits, unpackPattern } from "./packed-hits.ts";

test("nothing of a hit is lost in columns, through JSON too", () => {
  fc.assert(
    fc.property(anyState, (pattern) => {
      const packed = JSON.parse(JSON.stringify(packPattern(pattern)));
      expect(unpackPattern(packed)).toStrictEqual(JSON.parse(JSON.stringify(pattern)));
    }),
  );
});

test("what is the same in all hits is written once, and what few say only for these", () => {
  const hits = [
    hitAt(0),
    hitAt(480, { isMuted: true, inFile: { tick: 12, shutTicks: null, chokedTicks: 40 } }),
    hitAt(960),
  ];
  const { columns, more } = packHits(hits);
  expect(columns.note).toEqual({ all: hits[0]!.note });
  expect(columns.pinnedTick).toEqual({ all: null });
  expect(columns.recordedTick).toEqual({ each: [0, 480, 960] });
  expect(more).toEqual([[1, { isMuted: true, inFile: { tick: 12, shutTicks: null, chokedTicks: 40 } }]]);
  expect(packHits([]).count).toBe(0);
  expect(unpackHits(packHits([]))).toEqual([]);
});

test("hits that were stored one by one are read as they are", () => {
  const hits = [hitAt(0), hitAt(480)];
  expect(unpackHits(hits)).toBe(hits);
});

test("columns that do not belong together are refused", () => {
  const { columns, ...rest } = packHits([hitAt(0), hitAt(480)]);
  const cut = { ...rest, columns: { ...columns, recordedTick: { each: [0] } } };
  expect(() => unpackHits(cut)).toThrow(new SyntaxError("2 hits have a column of 1."));
});
