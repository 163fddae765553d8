import type { Family, NoteMap } from "../../../core/document/index.ts";
import { outgoingStroke } from "../../../core/notemap/index.ts";

/** A pad on the screen, and the key that strikes it. */
export interface Pad {
  readonly note: number;
  readonly channel: number;
  /** The drum; and the way it is struck, if that is not the usual one. */
  readonly name: string;
  readonly stroke: string;
  readonly family: Family;
  /** Where the key is on a keyboard of any language. */
  readonly code: string;
}

/** What most parts are played on, and where a hand finds it: by the places of keys, whatever is printed on them. */
const WANTED = [
  { voiceId: "kick", articulationIds: ["main"], code: "KeyA" },
  { voiceId: "snare", articulationIds: ["centre"], code: "KeyS" },
  { voiceId: "snare", articulationIds: ["rim-shot", "cross-stick"], code: "KeyW" },
  { voiceId: "hat", articulationIds: ["closed"], code: "KeyD" },
  { voiceId: "hat", articulationIds: ["open"], code: "KeyE" },
  { voiceId: "hat", articulationIds: ["foot"], code: "KeyR" },
  { voiceId: "tom-2", articulationIds: ["centre"], code: "KeyF" },
  { voiceId: "tom-5", articulationIds: ["centre"], code: "KeyG" },
  { voiceId: "crash", articulationIds: ["crash"], code: "KeyT" },
  { voiceId: "ride", articulationIds: ["bow"], code: "KeyH" },
  { voiceId: "ride", articulationIds: ["bell"], code: "KeyY" },
  { voiceId: "clap", articulationIds: ["clap"], code: "KeyJ" },
] as const;

const DRUM_CHANNEL = 9;

/** The pads that a map has notes for. */
export function padsOf(wholeMap: NoteMap): readonly Pad[] {
  // What is struck comes from no track of a file.
  const map = { ...wholeMap, entries: wholeMap.entries.filter(({ track }) => track === undefined) };
  return WANTED.flatMap(({ voiceId, articulationIds, code }): Pad[] => {
    const voice = map.voices.find(({ id }) => id === voiceId);
    if (!voice) return [];
    const articulation =
      voice.articulations.find(({ id }) => articulationIds.some((wanted) => wanted === id)) ?? voice.articulations[0];
    if (!articulation) return [];
    const meaning = { voiceId, articulationId: articulation.id };
    const out = outgoingStroke(map, meaning);
    if (!out) return [];
    const { family } = voice;
    const index = voice.articulations.indexOf(articulation);
    return [
      {
        note: out.note,
        channel: out.channel ?? DRUM_CHANNEL,
        name: voice.name,
        stroke: index === 0 ? "" : articulation.name.toLowerCase(),
        family,
        code,
      },
    ];
  }).filter((pad, index, pads) => pads.findIndex(({ note }) => note === pad.note) === index);
}

const SOFTEST = 24;
const LOUDEST = 124;
/** Near its edges a pad is as soft and as loud as it gets. */
const EDGE_SHARE = 0.1;

/** How loud a pad is struck: the higher up, the louder. @param share from its lower edge, 0, to its upper one, 1 */
export function velocityAt(share: number): number {
  const within = Math.max(0, Math.min(1, (share - EDGE_SHARE) / (1 - 2 * EDGE_SHARE)));
  return Math.round(SOFTEST + within * (LOUDEST - SOFTEST));
}

/** How loud a key strikes: keys know no force, so Shift makes an accent and Alt a ghost. */
export function velocityOfKey({ shiftKey, altKey }: Pick<KeyboardEvent, "shiftKey" | "altKey">): number {
  if (shiftKey) return 118;
  return altKey ? 36 : 88;
}
