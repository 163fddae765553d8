import { orNull, record, sevenBits, withOptional } from "../../json-shape.ts";
import { ARTICULATION_MARKS, FAMILIES } from "../note-map.ts";

/** Longer names are refused by the core, with a word on it; the shape only keeps them within reason. */
const LONGEST_NAME = 1200;

const id = { type: "string", minLength: 1, maxLength: 80 } as const;
const name = { type: "string", minLength: 1, maxLength: LONGEST_NAME } as const;
const channel = orNull({ type: "integer", minimum: 0, maximum: 15 });
const family = { enum: FAMILIES };

/** All of a note map but its id. */
export const noteMapParts = {
  name,
  voices: {
    type: "array",
    description: "The drums, in the order of their lanes.",
    items: record({
      id,
      name,
      family,
      ink: { ...family, description: "Whose colour it is drawn in." },
      articulations: {
        type: "array",
        description: "The ways it can be struck.",
        items: record({ id, name, mark: { enum: ARTICULATION_MARKS } }),
      },
    }),
  },
  entries: {
    type: "array",
    description:
      "Which incoming note plays what. Channels count from 0; null is any. The pedal is controller 4, 0 open.",
    items: withOptional(
      record({
        note: sevenBits,
        channel,
        pedal: orNull(record({ from: sevenBits, to: sevenBits })),
        voiceId: id,
        articulationId: id,
      }),
      { track: { ...name, description: "What the track is called that it is on. Left out for any track." } },
    ),
  },
  outgoing: {
    type: "array",
    description: "Strokes that go out on another note than the one that plays them.",
    items: record({ voiceId: id, articulationId: id, note: sevenBits, channel }),
  },
};

/** A map within our own data: it has an id, which a file has not. */
export const noteMap = record({ id: { ...id, minLength: 0 }, ...noteMapParts });
