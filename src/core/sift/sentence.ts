import type { Family } from "../document/index.ts";
import { gridName } from "../time/index.ts";
import type { Company, Place, Sift, SiftTest } from "./rule.ts";

/** Names of voices and strokes, as the take has them. */
export interface SiftNames {
  voice(voiceId: string): string;
  stroke(voiceId: string, articulationId: string): string;
}

export const PLACE_WORDS: Readonly<Record<Place, string>> = {
  downBeats: "on the first beat of a bar",
  beats: "on beats",
  backBeats: "on back-beats",
  offBeats: "on off-beats",
  betweens: "between beats and off-beats",
  triplets: "on triplets of the beat",
};

export const COMPANY_WORDS: Readonly<Record<Company, string>> = {
  alone: "struck alone",
  together: "struck with another drum",
  flam: "part of a flam or drag",
};

const FAMILY_WORDS: Readonly<Record<Family, string>> = {
  cymbals: "cymbals",
  hats: "hats",
  snare: "snares",
  toms: "toms",
  kick: "kicks",
  percussion: "percussion",
};

/** A rule as a sentence: `Every second hit of hats, on off-beats, not ghosts.` */
export function siftSentence({ clauses, nth }: Sift, names: SiftNames): string {
  const which = nth
    ? `${nthWords(nth.every)} hit${nth.from > 1 ? ` from the ${ordinalWord(nth.from)} on` : ""}${nth.perBar ? " of each bar" : ""}`
    : "every hit";
  const parts = clauses.map(({ not, anyOf }) => {
    const words = anyOf.map((test) => testWords(test, names)).join(" or ");
    return not ? `not ${words}` : words;
  });
  const sentence = [which, ...parts].join(", ");
  return `${sentence[0]!.toUpperCase()}${sentence.slice(1)}`;
}

export function testWords(test: SiftTest, names: SiftNames): string {
  switch (test.kind) {
    case "voices":
      return listed(test.voiceIds.map((id) => names.voice(id).toLowerCase()));
    case "families":
      return listed(test.families.map((family) => FAMILY_WORDS[family]));
    case "stroke":
      return names.stroke(test.voiceId, test.articulationId).toLowerCase();
    case "velocity":
      if (test.from <= 1) return `velocity up to ${test.to}`;
      return test.to >= 127 ? `velocity from ${test.from}` : `velocity ${test.from} to ${test.to}`;
    case "roles":
      return listed(test.roles.map((role) => `${role}s`));
    case "places":
      return listed(test.places.map((place) => PLACE_WORDS[place]));
    case "steps":
      return `${gridName(test.grid)} ${listed(test.steps.map(String))} of the bar`;
    case "drift":
      return driftRange(test.fromMs, test.toMs);
    case "bars":
      return test.from === test.to ? `in bar ${test.from}` : `in bars ${test.from} to ${test.to}`;
    case "company":
      return COMPANY_WORDS[test.company];
    case "pinned":
      return test.what === "time" ? "pinned" : "with a loudness set by hand";
    default:
      return test satisfies never;
  }
}

function driftRange(fromMs: number, toMs: number): string {
  const place = (ms: number) => (ms === 0 ? "on the slot" : `${Math.abs(ms)} ms ${ms < 0 ? "early" : "late"}`);
  return `from ${place(fromMs)} to ${place(toMs)}`;
}

function listed(words: readonly string[]): string {
  if (words.length <= 1) return words[0] ?? "nothing";
  return `${words.slice(0, -1).join(", ")} or ${words.at(-1)}`;
}

function nthWords(every: number): string {
  return every === 2 ? "every second" : every === 3 ? "every third" : every === 4 ? "every fourth" : `every ${every}th`;
}

const ORDINALS = ["", "first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth"];

function ordinalWord(count: number): string {
  return ORDINALS[count] ?? `${count}th`;
}
