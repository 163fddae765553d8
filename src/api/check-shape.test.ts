import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { changeTiming, moveHitsBy, nameNote } from "../core/commands/index.ts";
import { type Edit, sideOfNow } from "../core/document/index.ts";
import { treatment } from "../core/document/shapes/treatment-shape.ts";
import { importTake } from "../core/file/index.ts";
import { GENERAL_MIDI } from "../core/notemap/index.ts";
import { ALL_KINDS, anyEdits } from "../core/testing/documents.ts";
import { checkOf } from "./check-shape.ts";
import { logDefs, logEntry } from "./edit-schemas.ts";
import { isLogEntry } from "./schemas.ts";

const { pattern } = importTake(new Uint8Array(readFileSync("demo/kettle-row.mid")), GENERAL_MIDI);
const check = checkOf({ ...logDefs, ...logEntry });
const first = pattern.hits[0]!;

const EDITS: readonly Edit[] = [
  moveHitsBy(pattern, [{ hit: first, tick: first.recordedTick! }], 9),
  { kind: "setVelocity", changes: [{ hitId: "1:2", fromVelocity: null, toVelocity: 90 }] },
  { kind: "removeHits", hits: pattern.hits.slice(0, 3) },
  changeTiming(pattern, new Set(["snare", "kick"]), (timing) => ({ ...timing, isOn: true, pushTicks: 4 })),
  nameNote(pattern, 38, { voiceId: "cowbell", articulationId: "strike" }),
  { kind: "keepSide", from: null, to: sideOfNow(pattern, "A") },
  { kind: "together", edits: [{ kind: "turnSide" }, { kind: "muteHits", hitIds: ["1:2"], toIsMuted: true }] },
];
const entryOf = (edit: unknown) => ({ id: "one", kind: "do", label: "Something", edit });

/** Puts something else at one place of a value, somewhere inside. */
function harm(value: unknown, path: readonly number[], other: unknown): unknown {
  const [at, ...rest] = path;
  if (at === undefined || typeof value !== "object" || value === null) return other;
  const keys = Object.keys(value);
  if (keys.length === 0) return other;
  const key = keys[at % keys.length]!;
  const next = harm((value as Record<string, unknown>)[key], rest, other);
  if (Array.isArray(value)) return value.map((one, index) => (String(index) === key ? next : one));
  return { ...value, [key]: next, ...(at % 7 === 0 ? { extra: 1 } : {}) };
}

describe("a check of a shape", () => {
  it("takes what the core makes, and says where something is wrong", () => {
    for (const edit of EDITS) expect(check(entryOf(edit))).toBeNull();
    const far = { kind: "moveHits", moves: [{ hitId: "a", fromTick: null, toTick: -1 }] };
    expect(check(entryOf(far))).toEqual({ where: "/edit/moves/0/toTick", message: "is -1, and must be 0 or more" });
    expect(check(entryOf({ kind: "dropTables" }))?.where).toBe("/edit/kind");
    expect(check({ ...entryOf(EDITS[0]), label: "x".repeat(201) })?.where).toBe("/label");
  });

  it("takes edits of every kind, as the server does", () => {
    const seen = new Set<string>();
    fc.assert(
      fc.property(anyEdits, (edits) => {
        for (const { edit } of edits) {
          seen.add(edit.kind);
          expect(check(entryOf(edit))).toBeNull();
          expect(isLogEntry(entryOf(edit))).toBe(true);
        }
      }),
    );
    expect([...seen].sort()).toEqual([...ALL_KINDS].sort());
  });

  it("says of any value what Ajv says by the same schema", () => {
    const other = fc.oneof(
      fc.constantFrom<unknown>(
        null,
        undefined,
        -1,
        0,
        1,
        127,
        128,
        1e12,
        0.5,
        Number.NaN,
        "",
        "x",
        "do",
        "A",
        [],
        {},
        true,
      ),
      fc.string({ maxLength: 210, unit: "binary" }),
      fc.integer(),
    );
    const path = fc.array(fc.nat({ max: 50 }), { maxLength: 8 });
    fc.assert(
      fc.property(fc.constantFrom(...EDITS), path, other, (edit, places, value) => {
        // As it is sent: JSON knows no undefined and no NaN.
        const sent = JSON.parse(JSON.stringify(harm(entryOf(edit), places, value)) ?? "null");
        expect(check(sent) === null).toBe(isLogEntry(sent));
      }),
      { numRuns: 1500 },
    );
  });

  it("refuses a schema that it does not understand as a whole", () => {
    expect(() => checkOf({ type: "string", format: "email" })).toThrow("format");
    expect(() => checkOf(treatment)).not.toThrow();
  });

  it("looks at the names of fields", () => {
    const named = checkOf({
      type: "object",
      propertyNames: { maxLength: 3 },
      additionalProperties: { type: "integer" },
    });
    expect(named({ abc: 1 })).toBeNull();
    expect(named({ abcd: 1 })).toEqual({ where: "", message: "must be at most 3 signs long" });
  });

  it("counts signs and not halves of them", () => {
    const short = checkOf({ type: "string", maxLength: 2 });
    expect(short("🥁🥁")).toBeNull();
    expect(short("🥁🥁🥁")).not.toBeNull();
  });
});
