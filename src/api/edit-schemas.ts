import { ROLES, SIDE_LETTERS } from "../core/document/index.ts";
import { MOST_HITS } from "../core/file/index.ts";
import { MOST_PATTERN_BARS, MOST_REPEATS, PATTERN_COLOURS } from "../core/song/index.ts";
import { LONGEST_LABEL } from "./limits.ts";
import { noteMap } from "./note-map-file.ts";
import { id, orNull, record, sevenBits, tick, velocity, withOptional } from "./shapes.ts";
import { dynamics, feelPercent, grooveId, laidGroove, pushMs, timing, treatment } from "./treatment-schemas.ts";

// The edits of the core as they cross the wire. The server checks them with Ajv, and a page before it does them, by the same schema.

/** What occurs often in edits is compiled once, and referred to. */
export const shared = (name: string) => ({ $ref: `#/$defs/${name}` });

const marks = { role: { enum: ROLES }, swingSharePercent: { type: "number", minimum: 0, maximum: 100 } };

const hit = withOptional(
  record({
    id,
    streamIndex: { type: "integer", minimum: 0, maximum: 65535 },
    note: sevenBits,
    voiceId: id,
    articulationId: id,
    pedal: orNull(sevenBits),
    shutTicks: orNull(tick),
    chokedTicks: orNull(tick),
    recordedTick: orNull(tick),
    recordedVelocity: orNull(velocity),
    pinnedTick: orNull(tick),
    pinnedVelocity: orNull(velocity),
  }),
  {
    ...marks,
    isMuted: { const: true },
    lengthTicks: { type: "integer", minimum: 1, maximum: 1_000_000_000 },
    inFile: record({ tick, shutTicks: orNull(tick), chokedTicks: orNull(tick) }),
  },
);

const lane = record({ voiceId: id, treatment: shared("treatment") });
export const list = (items: object) => ({ type: "array", maxItems: MOST_HITS, items });

const meaning = record({ voiceId: id, articulationId: id });
export const pastMessage = orNull(
  record({ tick, bytes: { type: "array", maxItems: 1_000_000, items: { type: "integer" } } }),
);
const messageChange = {
  type: "object",
  properties: { messageId: { type: "string", pattern: "^\\d{1,5}:\\d{1,9}$" }, from: pastMessage, to: pastMessage },
  required: ["messageId"],
  additionalProperties: false,
};
export const meters = list(record({ tick, numerator: { type: "integer" }, denominator: { type: "integer" } }));
export const tempos = list(record({ tick, usPerQuarter: { type: "integer", minimum: 1 } }));
const fileTimes = record({ meters, tempos });

export const timeline = record({
  fileTempos: tempos,
  fileMeters: meters,
  playedTempos: tempos,
  startMs: { type: "number" },
});
const timeFrame = record({ timeline: orNull(timeline), meters, tempos, lengthTicks: tick });

const bar = { type: "integer", minimum: 0, maximum: 1_000_000 };
const cell = withOptional(record({}), {
  timing,
  dynamics,
  feel: orNull(record({ grooveId: grooveId, timingPercent: feelPercent, accentPercent: feelPercent })),
  pushMs,
});
export const songPattern = withOptional(
  record({
    id,
    name: { type: "string", minLength: 1, maxLength: 200 },
    colour: { enum: PATTERN_COLOURS },
    bars: { type: "array", minItems: 1, maxItems: MOST_PATTERN_BARS, items: orNull(bar) },
  }),
  {
    turnedTicks: tick,
    followsId: id,
    cells: { type: "object", maxProperties: 500, additionalProperties: shared("cell") },
  },
);
export const songEntries = list(
  withOptional(record({ id, patternId: id, repeats: { type: "integer", minimum: 1, maximum: MOST_REPEATS } }), {
    isMuted: { const: true },
    mutedVoiceIds: { type: "array", maxItems: 500, items: id },
  }),
);
/** Before and after; null is not there. */
const changes = (value: object) => list(record({ id: grooveId, from: orNull(value), to: orNull(value) }));
const fromTo = (value: object) => orNull(record({ from: value, to: value }));
const arranging = {
  patterns: changes(songPattern),
  grooves: changes(shared("groove")),
  order: fromTo(list(id)),
  song: fromTo(songEntries),
};

export const byId = (value: object) => ({ type: "object", maxProperties: 10_000, additionalProperties: value });
const otherSide = record({
  letter: { enum: SIDE_LETTERS },
  treatments: byId(shared("treatment")),
  cells: byId(byId(shared("cell"))),
  grooves: byId(shared("groove")),
});

const editKinds: Record<string, object> = {
  moveHits: { moves: list(record({ hitId: id, fromTick: orNull(tick), toTick: orNull(tick) })) },
  setVelocity: { changes: list(record({ hitId: id, fromVelocity: orNull(velocity), toVelocity: orNull(velocity) })) },
  muteHits: { hitIds: list(id), toIsMuted: { type: "boolean" } },
  retime: {
    from: timeFrame,
    to: timeFrame,
    moves: list(record({ hitId: id, fromTick: orNull(tick), toTick: orNull(tick) })),
  },
  setLengths: { changes: list(record({ hitId: id, from: orNull(tick), to: orNull(tick) })) },
  markHits: {
    changes: list(record({ hitId: id, from: withOptional(record({}), marks), to: withOptional(record({}), marks) })),
  },
  addHits: { hits: list(shared("hit")) },
  removeHits: { hits: list(shared("hit")) },
  setTreatments: {
    changes: list(record({ voiceId: id, from: shared("treatment"), to: shared("treatment") })),
  },
  reassignHits: {
    changes: list(record({ hitId: id, from: meaning, to: meaning })),
    noteMaps: orNull(record({ from: shared("noteMap"), to: shared("noteMap") })),
    fromLanes: list(shared("lane")),
    toLanes: list(shared("lane")),
  },
  arrange: arranging,
  keepSide: { from: orNull(shared("otherSide")), to: orNull(shared("otherSide")) },
  turnSide: {},
  setOutgoingMap: { from: orNull(shared("noteMap")), to: orNull(shared("noteMap")) },
  changeMessages: { changes: list(messageChange), times: orNull(record({ from: fileTimes, to: fileTimes })) },
  setDrumStream: {
    change: record({
      streamIndex: { type: "integer", minimum: 0 },
      toIsDrums: { type: "boolean" },
      hits: list(shared("hit")),
      fromLanes: list(shared("lane")),
      toLanes: list(shared("lane")),
    }),
  },
};

const oneOfKinds = (kinds: readonly string[]) => ({
  type: "object",
  discriminator: { propertyName: "kind" },
  required: ["kind"],
  oneOf: kinds.map(shared),
});

/** Edits that are one step together hold simple ones only, so that a request cannot nest without end. */
const together = { edits: { type: "array", maxItems: 100, items: oneOfKinds(Object.keys(editKinds)) } };
const allKinds = { ...editKinds, together };
const edit = oneOfKinds(Object.keys(allKinds));

/** One entry of the log; what it refers to is in `logDefs`. */
export const logEntry = record({
  id,
  kind: { enum: ["do", "undo", "redo"] },
  label: { type: "string", maxLength: LONGEST_LABEL },
  edit: shared("edit"),
});

/** What requests and files with log entries refer to. */
export const logDefs = {
  $defs: {
    ...Object.fromEntries(
      Object.entries(allKinds).map(([kind, fields]) => [kind, record({ kind: { const: kind }, ...fields })]),
    ),
    hit,
    treatment,
    lane,
    noteMap,
    groove: laidGroove,
    cell,
    otherSide,
    edit,
    logEntry,
  },
};
