/** Something that can be found by typing. */
export interface Findable {
  /** What it says in the list; its words count most. */
  readonly name: string;
  /** Other words for it. */
  readonly kin: string;
  /** How well it fits what is going on, 0 to 1: between things that fit the words alike, it decides. */
  readonly fits?: number;
}

/** Words that say nothing of what is wanted. */
const EMPTY_WORDS = new Set(
  "a an the to of my this that it its is in on for with make how do i can and or please some hit hits note notes".split(
    " ",
  ),
);

/** A word without its usual endings, and as it is spelt elsewhere: `quantising` is `quantiz`. */
function stemOf(word: string): string {
  const spelt = word.replace(/is(e|ed|ing|ation|er)$/, "iz$1").replace(/our$/, "or");
  if (spelt.length <= 3) return spelt;
  return spelt.replace(/(ations?|ing|ers?|ed|es|s|e)$/, "") || spelt;
}

function stemsOf(text: string): readonly string[] {
  return text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
    .map(stemOf);
}

/** The words of what was typed that mean something; all of them where none does. */
function wordsOf(query: string): readonly string[] {
  const all = query
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);
  const telling = all.filter((word) => !EMPTY_WORDS.has(word));
  return (telling.length > 0 ? telling : all).map(stemOf);
}

/** How near a typed word is to one of some words, 0 to 1. */
function nearness(typed: string, words: readonly string[]): number {
  let best = 0;
  for (const word of words) {
    if (word === typed) return 1;
    if (word.startsWith(typed)) best = Math.max(best, typed.length >= 2 ? 0.8 : 0.5);
    else if (typed.length >= 4 && typed.startsWith(word) && word.length >= 4) best = Math.max(best, 0.6);
    else if (typed.length >= 4 && isOneOff(typed, word)) best = Math.max(best, 0.55);
    else if (typed.length >= 4 && word.includes(typed)) best = Math.max(best, 0.4);
  }
  return best;
}

/** Whether two words differ by one letter: typed wrong, left out, or added. */
function isOneOff(a: string, b: string): boolean {
  if (Math.abs(a.length - b.length) > 1) return false;
  let at = 0;
  while (at < a.length && at < b.length && a[at] === b[at]) at++;
  const rest = (text: string, from: number) => text.slice(from);
  return (
    rest(a, at + 1) === rest(b, at + 1) ||
    rest(a, at) === rest(b, at + 1) ||
    rest(a, at + 1) === rest(b, at) ||
    (a[at] === b[at + 1] && a[at + 1] === b[at] && rest(a, at + 2) === rest(b, at + 2))
  );
}

const KIN_SHARE = 0.85;
/** The first of other words are the likeliest; so much less each of those behind counts, down to so much in all. */
const KIN_STEP = 0.02;
const KIN_MOST = 0.2;

function kinNearness(typed: string, kin: readonly string[]): number {
  return kin.reduce(
    (best, word, index) => Math.max(best, (KIN_SHARE - Math.min(KIN_MOST, KIN_STEP * index)) * nearness(typed, [word])),
    0,
  );
}

/** A word that means nothing here does not hide what the other words mean. */
const LEAST_SHARE = 0.4;

/**
 * What was typed, found: by name first, then by other words for the same, then by what is typed nearly right.
 * @returns the best first; empty where nothing is like it
 */
export function ranked<Entry extends Findable>(entries: readonly Entry[], query: string): readonly Entry[] {
  const typed = wordsOf(query);
  if (typed.length === 0) return entries;
  const scored = entries.flatMap((entry) => {
    const name = stemsOf(entry.name);
    const kin = stemsOf(entry.kin);
    let sum = 0;
    for (const word of typed) sum += Math.max(nearness(word, name), kinNearness(word, kin));
    const share = sum / typed.length;
    if (share < LEAST_SHARE) return [];
    // A short name that is all about the word comes before a long one that has it, too.
    const focus = name.filter((word) => typed.some((one) => word.startsWith(one))).length / Math.max(1, name.length);
    return [{ entry, score: share + 0.12 * focus + 0.1 * (entry.fits ?? 0) }];
  });
  return scored.sort((a, b) => b.score - a.score).map(({ entry }) => entry);
}
