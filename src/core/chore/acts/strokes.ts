import { revoiceHits } from "../../commands/reassign.ts";
import type { Hit, NoteMap, NoteMeaning } from "../../document/index.ts";
import { id } from "../../json-shape.ts";
import type { ActKind, Handled } from "./act-kind.ts";

const muted = (hits: readonly Hit[]): Handled => {
  const hitIds = hits.filter(({ isMuted }) => !isMuted).map((hit) => hit.id);
  return hitIds.length > 0 ? { edit: { kind: "muteHits", hitIds, toIsMuted: true } } : {};
};

/** Another drum or stroke plays them. */
export interface RevoiceAct {
  readonly kind: "revoice";
  readonly voiceId: string;
  readonly articulationId: string;
}

function hasStroke(map: NoteMap, { voiceId, articulationId }: NoteMeaning): boolean {
  const voice = map.voices.find((one) => one.id === voiceId);
  return voice?.articulations.some((one) => one.id === articulationId) ?? false;
}

export const revoice: ActKind<RevoiceAct> = {
  offers: [
    {
      name: "reassign to another drum or stroke",
      act: { kind: "revoice", voiceId: "clap", articulationId: "clap" },
    },
  ],
  fields: { voiceId: id, articulationId: id },
  phrase: (act) => ["reassign to ", { kind: "stroke", meaning: act, set: (meaning) => ({ ...act, ...meaning }) }],
  strike(pattern, hits, act) {
    if (!hasStroke(pattern.noteMap, act))
      return { refusal: `The note map of this take has no ${act.voiceId}, ${act.articulationId}.` };
    return hits.length > 0 ? { edit: revoiceHits(pattern, hits, act) } : {};
  },
};

export interface MuteAct {
  readonly kind: "mute";
}

export const mute: ActKind<MuteAct> = {
  offers: [{ name: "mute", act: { kind: "mute" } }],
  fields: {},
  phrase: () => ["mute"],
  strike: (_pattern, hits) => muted(hits),
};

export interface RemoveAct {
  readonly kind: "remove";
}

export const remove: ActKind<RemoveAct> = {
  offers: [{ name: "remove", act: { kind: "remove" } }],
  fields: {},
  phrase: () => ["remove"],
  strike: (_pattern, hits) => (hits.length > 0 ? { edit: { kind: "removeHits", hits } } : {}),
};

/** Their voices go to a pattern of their own, and stay here muted. */
export interface TakeOutAct {
  readonly kind: "takeOut";
}

export const takeOut: ActKind<TakeOutAct> = {
  offers: [{ name: "extract to a pattern", act: { kind: "takeOut" } }],
  fields: {},
  phrase: () => ["extract to a pattern of its own, and mute here"],
  strike: (_pattern, hits) => muted(hits),
  extracts: true,
};
