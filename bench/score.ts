// `npm run score`: cleans takes whose truth is known, without any hint, and writes docs/accuracy.md.
import { writeFileSync } from "node:fs";
import { makeStudies, TIGHTNESSES, type Tightness } from "../src/standin/studies.ts";
import { percent, type Score, scoreStudies, sumScores } from "./scoring.ts";

const seed = Number(process.argv[2] ?? 1);
const scores = scoreStudies(makeStudies(seed, 2));

const row = (name: string, score: Score) =>
  `| ${name} | ${percent(score.onSlot, score.hits)} | ${percent(score.sixteenths, score.hits)} | ${percent(score.bestSingle, score.hits)} | ${percent(score.planRight, score.voiceBars)} | ${percent(score.graceKept, score.graces)} |`;
const head = (
  first: string,
) => `| ${first} | on the intended slot | all to sixteenths | best single grid | grid right | grace notes kept |
| --- | --- | --- | --- | --- | --- |`;

const styles = [...new Set(scores.map(({ style }) => style))];
const byTightness = (Object.keys(TIGHTNESSES) as Tightness[]).map((tightness) =>
  row(`${tightness}, ${TIGHTNESSES[tightness]} ms`, sumScores(scores.filter((one) => one.tightness === tightness))),
);
const byStyle = styles.flatMap((style) =>
  (Object.keys(TIGHTNESSES) as Tightness[]).map((tightness) =>
    row(
      `${style}, ${tightness}`,
      sumScores(scores.filter((one) => one.style === style && one.tightness === tightness)),
    ),
  ),
);
const all = sumScores(scores);
const faults = [
  `| double triggers | ${all.doubles} | ${percent(all.doublesRight, all.doublesFound)} | ${percent(all.doublesRight, all.doubles)} |`,
  `| cross-talk | ${all.talks} | ${percent(all.talksRight, all.talksFound)} | ${percent(all.talksRight, all.talks)} |`,
  `real hits taken for faults: ${all.realLost} of ${all.hits + all.graces}`,
];
console.log([...faults, head("played"), ...byTightness, "", head("style"), ...byStyle].join("\n"));
