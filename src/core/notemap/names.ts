import type { Family, NoteMeaning } from "../document/note-map.ts";

type Rule = readonly [pattern: RegExp, voiceId: string, articulationId: string];

/** What names of notes in documents of all makes say, the more particular first. */
const RULES: readonly Rule[] = [
  [/\b(side|cross)[\s-]?stick|\bx-?stick|\brim ?click/, "snare", "cross-stick"],
  [/\brim ?shot|snare.*\brim\b|\brim\b.*snare/, "snare", "rim-shot"],
  [/\b(kick|bass drum|bd)\b.*\b(2|second|soft)\b/, "kick", "second"],
  [/\b(kick|bass drum|bd)\b/, "kick", "main"],
  [/\b(hi-? ?hat|hats?|hh|chh|ohh|phh)\b.*\b(foot|pedal|chick)|\bfoot hat|\bpedal hi-?hat|\bphh\b/, "hat", "foot"],
  [/\b(hi-? ?hat|hats?|hh)\b.*\bhalf|\bhalf[\s-]open\b/, "hat", "half-open"],
  [/\b(hi-? ?hat|hats?|hh)\b.*\bopen|\bopen (hi-? ?hat|hat|hh)\b|\bohh\b/, "hat", "open"],
  [/\b(hi-? ?hat|hats?|hh|chh)\b/, "hat", "closed"],
  [/\bsnare|\bsd\b/, "snare", "centre"],
  [/\bride\b.*\b(bell|cup)|\b(bell|cup)\b.*\bride/, "ride", "bell"],
  [/\bride\b.*\b(2|second)\b/, "ride-2", "bow"],
  [/\bride\b/, "ride", "bow"],
  [/\b(china|chinese)\b/, "china", "crash"],
  [/\bsplash\b/, "splash", "crash"],
  [/\bcrash\b.*\b(2|second|right)\b/, "crash-2", "crash"],
  [/\bcrash\b/, "crash", "crash"],
  [/\blow floor tom|\bfloor tom low/, "tom-6", "centre"],
  [/\b(floor tom|tom.*floor|high floor tom)/, "tom-5", "centre"],
  [/\bhigh tom\b|\bhi tom\b|\btom 1\b/, "tom-1", "centre"],
  [/\b(rack tom|hi-? ?mid tom|tom 2)\b/, "tom-2", "centre"],
  [/\b(mid tom|low-? ?mid tom|tom 3)\b/, "tom-3", "centre"],
  [/\b(low tom|tom 4)\b/, "tom-4", "centre"],
  [/\bhand ?clap|\bclaps?\b/, "clap", "clap"],
  [/\btambourine\b/, "tambourine", "shake"],
  [/\bcowbell\b/, "cowbell", "strike"],
  [/\bshaker\b/, "shaker", "shake"],
  [/\bmaracas\b/, "maracas", "shake"],
  [/\bcabasa\b/, "cabasa", "scrape"],
  [/\bclaves\b/, "claves", "strike"],
  [/\bcastanets\b/, "castanets", "strike"],
  [/\bvibra-?slap\b/, "vibraslap", "strike"],
];

const FAMILY_WORDS: readonly (readonly [RegExp, Family])[] = [
  [/\b(cymbal|crash|ride|china|splash|gong|bell)/, "cymbals"],
  [/\b(hi-? ?hat|hats?)\b/, "hats"],
  [/\bsnare|\brim\b|\bstick\b/, "snare"],
  [/\btoms?\b/, "toms"],
  [/\b(kick|bass drum|bd)\b/, "kick"],
];

/** The drum and stroke that a name says, in the ids of General MIDI; null if its words say none. */
export function meaningOfName(name: string): NoteMeaning | null {
  const words = name.toLowerCase();
  const rule = RULES.find(([pattern]) => pattern.test(words));
  return rule ? { voiceId: rule[1], articulationId: rule[2] } : null;
}

/** The family that a name belongs to; what no word tells is percussion. */
export function familyOfName(name: string): Family {
  const words = name.toLowerCase();
  return FAMILY_WORDS.find(([pattern]) => pattern.test(words))?.[1] ?? "percussion";
}
