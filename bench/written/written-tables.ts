import { percent } from "../scoring.ts";
import { HANDS, type Hand } from "./player.ts";
import { type GuessScore, scoreGuesses } from "./score-guesses.ts";
import { CAUSES, playWritten, scoreWritten, type WrittenScore } from "./score-written.ts";

const SEEDS = [1, 2, 3];
/** All of their takes are set aside: of a third of the others there are too few for one part that is misread not to show in the percents. */
const ASIDE_SEEDS = [901, 902, 903];

const HAND_NAMES: Readonly<Record<Hand, string>> = {
  tight: "tight, ± 3 ms and more (target 99.9 %)",
  normal: "normal, ± 8 ms (target 99.4 %)",
  loose: "loose, ± 17 ms (target 98.5 %)",
  fingers: "two fingers on pads, ± 18 ms",
  sequenced: "typed in, some ahead as a whole",
};

/** A take as it was scored. */
export interface ScoredTake {
  readonly score: WrittenScore;
  readonly isSetAside: boolean;
}

interface Scored extends ScoredTake {
  readonly guesses: GuessScore;
}

/**
 * Plays and scores the takes of all written parts.
 * @param asideSeeds of takes that are set aside whole
 */
export function scoreAllWritten(
  seeds: readonly number[] = SEEDS,
  asideSeeds: readonly number[] = ASIDE_SEEDS,
): readonly Scored[] {
  return [...seeds, ...asideSeeds].flatMap((seed) =>
    playWritten(seed).map(({ take, isSetAside }, index) => ({
      score: scoreWritten(take),
      guesses: scoreGuesses(take, seed * 1000 + index),
      isSetAside: isSetAside || asideSeeds.includes(seed),
    })),
  );
}

type Counts = { [Key in keyof WrittenScore]: WrittenScore[Key] extends number ? Key : never }[keyof WrittenScore];

export const sum = (list: readonly ScoredTake[], part: Counts) =>
  list.reduce((total, { score }) => total + score[part], 0);

/** How many of one thing are another: a cell for those that were looked at, and one for those set aside. */
export const both = (list: readonly ScoredTake[], part: Counts, of: Counts) =>
  [false, true]
    .map((isSetAside) => list.filter((one) => one.isSetAside === isSetAside))
    .map((share) => percent(sum(share, part), sum(share, of)))
    .join(" | ");

/** How many hits of some takes are wrong for a cause. */
export const causeOf = (list: readonly ScoredTake[], cause: (typeof CAUSES)[number]) =>
  list.reduce((total, { score }) => total + (score.causes[cause] ?? 0), 0);

/** What is said of the written parts in docs/accuracy.md. */
export function writtenTables(all: readonly Scored[]): string {
  const handRow = (name: string, list: readonly Scored[]) =>
    `| ${name} | ${list.length} | ${both(list, "onSlot", "hits")} | ${both(list, "rollsOnSlot", "rolls")} | ${both(list, "gracesKept", "graces")} |`;
  const worked = all.filter(({ isSetAside }) => !isSetAside);
  const late = all.filter(({ score }) => score.hand !== "sequenced" && score.latencyMs !== 0);
  const onTime = all.filter(({ score }) => score.hand !== "sequenced" && score.latencyMs === 0);
  const isToldWithin = ({ score }: Scored, ms: number) =>
    score.latencyFoundMs !== null && Math.abs(score.latencyFoundMs - score.latencyMs) <= ms;
  const isAsPlayedWithin = ({ score }: Scored, ms: number) =>
    score.latencyFoundMs !== null && Math.abs(score.latencyFoundMs - score.lateAsPlayedMs) <= ms;
  const wrongSign = late.filter(
    ({ score }) => score.latencyFoundMs !== null && score.latencyFoundMs * score.latencyMs < 0,
  );
  const ahead = all.filter(({ score }) => score.hand === "sequenced" && score.latencyMs !== 0);
  const isNamed = (one: Scored) => one.score.isConstantFound && isToldWithin(one, 2);
  const played = all.filter(({ score }) => score.hand !== "sequenced");
  const guessed = (isSetAside: boolean, part: (score: GuessScore) => number) => {
    const third = all.filter((one) => one.isSetAside === isSetAside).map(({ guesses }) => guesses);
    const total = (of: (score: GuessScore) => number) => third.reduce((count, one) => count + of(one), 0);
    return percent(
      total(part),
      total(({ drums }) => drums),
    );
  };
  const guessRow = (name: string, part: (score: GuessScore) => number) =>
    `| ${name} | ${guessed(false, part)} | ${guessed(true, part)} |`;
  const f1 = (list: readonly Scored[], role: keyof WrittenScore["roles"]) => {
    const of = (part: "real" | "found" | "right") =>
      list.reduce((total, { score }) => total + score.roles[role][part], 0);
    return ((2 * of("right")) / Math.max(1, of("real") + of("found"))).toFixed(3);
  };
  const roleRow = (name: string, list: readonly Scored[]) =>
    `| ${name} | ${(["ghost", "normal", "accent"] as const).map((role) => f1(list, role)).join(" | ")} |`;
  return `${all.length} takes of ${new Set(all.map(({ score }) => score.title)).size} parts that were written out by hand (\`bench/written/parts\`), ${sum(all, "hits").toLocaleString("en")} hits, by a player of
their own (\`bench/written/player.ts\`): its time wanders, each limb wanders within it and has a habit, fills hurry, arms tire. Two
takes of five came in 15 to 150 ms late or early as a whole; pads trigger twice and hear each other; a bass plays in the same track.
They are cleaned as proposed, at full strength, with repair and without any hint. Of each figure the first is of ${worked.length} takes that
were looked at while this was built, the second of ${all.length - worked.length} that were set aside: a third of those of three seeds, and all of three more.

| played | takes | on the slot that was meant | set aside | rolls | set aside | grace notes kept | set aside |
| --- | --- | --- | --- | --- | --- | --- | --- |
${handRow("**all** (target 99.3 %)", all)}
${HANDS.map((hand) =>
  handRow(
    HAND_NAMES[hand],
    all.filter(({ score }) => score.hand === hand),
  ),
).join("\n")}

What the wrong ones are to blame on, of those that were looked at:

| cause | hits |
| --- | --- |
${CAUSES.map((cause) => [cause, causeOf(worked, cause)] as const)
  .sort(([, a], [, b]) => b - a)
  .map(([cause, hits]) => `| ${cause} | ${hits} |`)
  .join("\n")}

| | looked at | set aside |
| --- | --- | --- |
${faultRows(all)}
| hits over 10 ms off that are among the doubtful | ${both(all, "farFlagged", "far")} |
| hits that are among the doubtful | ${both(all, "flagged", "hits")} |

Real hits that were marked as faults: ${sum(all, "realLost")} of ${(sum(all, "hits") + sum(all, "graces")).toLocaleString("en")}.

Of ${late.length} takes that came in late or early, ${late.filter((one) => isToldWithin(one, 5)).length} were told so within 5 ms of what the whole was moved by and ${late.filter((one) => isToldWithin(one, 10)).length} within 10 ms;
${wrongSign.length} with the wrong sign. Nobody can tell that from the habits of the limbs where these are not even on average: of what their drums
are late by on average, ${late.filter((one) => isAsPlayedWithin(one, 5)).length} were told within 5 ms. Of
${onTime.length} that did not, ${onTime.filter(({ score }) => score.latencyFoundMs !== null).length} were told of some: their limbs have habits that happen to agree.
Of ${ahead.length} typed-in takes that are ahead as a whole, ${ahead.filter(isNamed).length} are told so within 2 ms, and that it is a constant; of the played ones ${played.filter(({ score }) => score.isConstantFound).length} are.

The same takes with every drum on a note that means nothing; of kick, snare, hats, ride and crash:

| guessed from how they are played | looked at | set aside |
| --- | --- | --- |
${guessRow("right", ({ right }) => right)}
${guessRow("right, or a question (less than 60 % sure; target 95 %)", ({ right, asked }) => right + asked)}
${guessRow("wrong, and over 80 % sure (target 1 %)", ({ wrongAndSure }) => wrongAndSure)}

| roles, F1 | ghosts | normal | accents |
| --- | --- | --- | --- |
${roleRow(
  "usual range",
  all.filter(({ score }) => !score.isNarrow),
)}
${roleRow(
  "narrow range",
  all.filter(({ score }) => score.isNarrow),
)}`;
}

/** How much of what nobody played is marked, and how much of what is marked nobody played. */
export function faultRows(all: readonly ScoredTake[]): string {
  return `| double triggers: of those marked, right | ${both(all, "doublesRight", "doublesFound")} |
| double triggers: of those there, marked | ${both(all, "doublesRight", "doubles")} |
| cross-talk: of those marked, right | ${both(all, "talksRight", "talksFound")} |
| cross-talk: of those there, marked | ${both(all, "talksRight", "talks")} |`;
}
