import { percent } from "../scoring.ts";
import { CAUSES, scoreWritten } from "../written/score-written.ts";
import { both, causeOf, faultRows, type ScoredTake, sum } from "../written/written-tables.ts";
import { DRAWN_HANDS, type DrawnHand, playDrawn } from "./play-drawn.ts";
import { STYLES } from "./styles.ts";

/** Every style so many times. */
const OF_EACH = 5;
/** Takes from this number on are set aside: they are scored, and not looked at while working. */
const FIRST_ASIDE = 100 * STYLES.length;

const HAND_NAMES: Readonly<Record<DrawnHand, string>> = {
  tight: "tight, ± 4 ms",
  normal: "normal, ± 9 ms",
  loose: "loose, ± 17 ms",
};

/** Draws, plays and scores takes of all styles by all hands. */
export function scoreAllDrawn(ofEach = OF_EACH): readonly ScoredTake[] {
  const count = ofEach * STYLES.length;
  const numbers = Array.from({ length: count }, (_, number) => number);
  return [...numbers, ...numbers.map((number) => FIRST_ASIDE + number)].flatMap((number) =>
    DRAWN_HANDS.map((hand) => ({ score: scoreWritten(playDrawn(number, hand)), isSetAside: number >= FIRST_ASIDE })),
  );
}

/** The same parts once of each style, picked up by pads that have faults. */
export function scoreFaultyPads(): readonly ScoredTake[] {
  return [...STYLES.keys()].flatMap((number) =>
    [number, FIRST_ASIDE + number].flatMap((one) =>
      DRAWN_HANDS.map((hand) => ({
        score: scoreWritten(playDrawn(one, hand, true)),
        isSetAside: one >= FIRST_ASIDE,
      })),
    ),
  );
}

/** What is said of faulty pads in docs/accuracy.md. */
export function faultyPadsTable(all: readonly ScoredTake[]): string {
  return `The parts of ${all.length} of them once more, picked up by cheap pads (\`bench/drawn/pad-faults.ts\`): some trigger twice, up to 60 % as loud
as the stroke; some hear their neighbours, up to 11 ms late and up to 30 % as loud.

| | looked at | set aside |
| --- | --- | --- |
${faultRows(all)}
| on the slot that was meant | ${both(all, "onSlot", "hits")} |

Real hits that were marked as faults: ${sum(all, "realLost")} of ${sum(all, "hits").toLocaleString("en")}.`;
}

/** What is said of the drawn parts in docs/accuracy.md. */
export function drawnTable(all: readonly ScoredTake[]): string {
  const row = (name: string, list: readonly ScoredTake[]) =>
    `| ${name} | ${list.length} | ${both(list, "onSlot", "hits")} | ${both(list, "gracesKept", "graces")} | ${both(list, "farFlagged", "far")} | ${both(list, "flagged", "hits")} |`;
  const worked = all.filter(({ isSetAside }) => !isSetAside);
  const causes = CAUSES.map((cause) => [cause, causeOf(worked, cause)] as const).filter(([, hits]) => hits > 0);
  const styles = STYLES.map(({ name }) => [name, all.filter(({ score }) => score.title === name)] as const);
  const wrongShare = (list: readonly ScoredTake[]) => 1 - sum(list, "onSlot") / Math.max(1, sum(list, "hits"));
  const worst = styles.toSorted(([, one], [, other]) => wrongShare(other) - wrongShare(one)).slice(0, 5);
  const half = all.length / 2;
  return `${all.length} takes of ${STYLES.length} styles, ${sum(all, "hits").toLocaleString("en")} hits: what is played is drawn by chance from what each
style does (\`bench/drawn/styles.ts\`), section by section, with fills, by a third player (\`bench/drawn/play-drawn.ts\`). Half of them came
in up to 130 ms late or early; files have 96 to 960 ticks a quarter. Of each figure the first is of ${half} takes that may be looked at, the
second of ${half} that are set aside.

| played | takes | on the slot that was meant | set aside | grace notes kept | set aside | far hits among the doubtful | set aside | doubtful | set aside |
| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |
${row("**all**", all)}
${DRAWN_HANDS.map((hand) =>
  row(
    HAND_NAMES[hand],
    all.filter(({ score }) => score.hand === hand),
  ),
).join("\n")}

Real hits that were marked as faults: ${sum(all, "realLost")}. The styles in which most are wrong: ${worst
    .map(([name, list]) => `${name} (${percent(sum(list, "onSlot"), sum(list, "hits"))} right)`)
    .join(", ")}. What the wrong ones are to
blame on, of those that may be looked at: ${causes
    .toSorted(([, a], [, b]) => b - a)
    .map(([cause, hits]) => `${cause} ${hits}`)
    .join(", ")}.`;
}
