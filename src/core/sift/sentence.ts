import type { NoteMap } from "../document/index.ts";
import { ordinal } from "../ordinal.ts";
import { listed, phraseText } from "../phrase.ts";
import type { Sift, SiftClause } from "./rule.ts";
import { kindOfTest, type SiftTest } from "./tests/index.ts";

/**
 * A rule as a sentence: `Every 2nd hat in the bar, from the 2nd, except hi-hat, open`. First which hits, then when and how they are
 * played, then what is left out.
 */
export function siftSentence({ clauses, nth }: Sift, map: NoteMap): string {
  const only = clauses.filter(({ not }) => !not);
  const at = (place: "noun" | "role" | "condition") =>
    only.filter((clause) => placeOf(clause) === place).map((clause) => clauseWords(clause, map));
  const nouns = [...at("noun"), ...at("role")];
  const who = nouns.length > 0 ? nouns.join(" ") : nth ? "hit" : "all hits";
  const which = nth ? `every ${ordinal(nth.every)} ${who}${nth.perBar ? " in the bar" : ""}` : who;
  const from = nth && nth.from > 1 ? [`from the ${ordinal(nth.from)}`] : [];
  const excepted = clauses.filter(({ not }) => not).map((clause) => clauseWords(clause, map, "and"));
  const parts = [
    [which, ...at("condition")].join(" "),
    ...from,
    ...(excepted.length > 0 ? [`except ${excepted.join(" and ")}`] : []),
  ];
  const sentence = parts.join(", ");
  return `${sentence[0]!.toUpperCase()}${sentence.slice(1)}`;
}

/** Tests that are joined by “or” stand where all of them can. */
function placeOf({ anyOf }: SiftClause): "noun" | "role" | "condition" {
  const places = new Set(anyOf.map((test) => kindOfTest(test).place));
  const [only] = places;
  return places.size === 1 && only ? only : "condition";
}

function clauseWords({ anyOf }: SiftClause, map: NoteMap, join = "or"): string {
  return listed(
    anyOf.map((test) => testWords(test, map)),
    join,
  );
}

/** A test in words: `on the off-beats`. */
export function testWords(test: SiftTest, map: NoteMap): string {
  return phraseText(kindOfTest(test).phrase(test), map);
}
