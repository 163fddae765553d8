import { findVoice, type NoteMap, strokeName } from "../document/index.ts";
import { type SiftNames, siftSentence } from "../sift/index.ts";
import type { ChoreAct, ChoreStep } from "./chore.ts";

/** Names as a map has them. */
export function namesOf(map: NoteMap): SiftNames {
  return {
    voice: (voiceId) => findVoice(map, voiceId).name,
    stroke: (voiceId, articulationId) => strokeName(map, { voiceId, articulationId }),
  };
}

/** The steps of a chore as sentences. */
export function choreSentence(steps: readonly ChoreStep[], map: NoteMap): string {
  return steps
    .map(({ sift, acts }) => {
      const done = acts.map((act) => actWords(act, map)).join(", ");
      return `${siftSentence(sift, namesOf(map))}${done ? `: ${done}` : ""}.`;
    })
    .join(" ");
}

/** An act in words: `at 70 %`, `6 ms ahead`. */
export function actWords(act: ChoreAct, map: NoteMap): string {
  switch (act.kind) {
    case "scale":
      return `make them ${act.percent} % as loud`;
    case "add":
      return `make them ${Math.abs(act.velocity)} ${act.velocity < 0 ? "softer" : "louder"}`;
    case "set":
      return `make all as loud as ${act.velocity}`;
    case "evenOut":
      return `even them out by ${act.percent} %`;
    case "range":
      return `make them ${act.percent} % as dynamic`;
    case "contour":
      return `lead them from ${act.from} to ${act.to}, ${act.contour}, ${act.span}`;
    case "fitIn":
      return "fit them in between 1 and 127, with their shape";
    case "shiftMs":
      return `put them ${Math.abs(act.ms)} ms ${act.ms < 0 ? "ahead" : "behind"}`;
    case "shiftTicks":
      return `put them ${Math.abs(act.ticks)} ticks ${act.ticks < 0 ? "ahead" : "behind"}`;
    case "humanize":
      return `leave ± ${act.ms} ms and ± ${act.velocity} of loudness to chance`;
    case "revoice":
      return `let ${strokeName(map, act).toLowerCase()} play them`;
    case "mute":
      return "mute them";
    case "remove":
      return "remove them";
    case "stretchTime":
      return act.factor === 2 ? "play them half as fast" : "play them twice as fast";
    case "takeOut":
      return "take their voice out to a pattern of its own";
    default:
      return act satisfies never;
  }
}
