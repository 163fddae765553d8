import { GENERAL_MIDI } from "../src/core/notemap/index.ts";
import { hitsByVoice, importTake } from "../src/core/part/index.ts";
import { buildTimeMaps, gridName, GRID_CHOICES } from "../src/core/time/index.ts";
import { fitGrid, onRightSide } from "../src/core/timing/grid-model.ts";
import { collectOnsets } from "../src/core/timing/onsets.ts";
import { findStretches } from "../src/core/timing/find-stretches.ts";
import { writeMidiFile } from "../src/core/smf/index.ts";
import { perform } from "../src/standin/perform.ts";
import { createRandom } from "../src/standin/random.ts";
import { makeStudies } from "../src/standin/studies.ts";
const s = makeStudies(4, 2).filter(({ study }) => study.style === "shuffle" && study.tightness === "normal")[1]!;
const { pattern } = importTake(writeMidiFile(perform(s.study.part, s.study.habits, createRandom(s.seed)).file), GENERAL_MIDI);
const maps = buildTimeMaps(pattern);
const on = collectOnsets(hitsByVoice(pattern.hits).get("ride")!, maps);
console.log(on.ticks.length, [...on.ticks.slice(0, 12)]);
for (const g of GRID_CHOICES) { const m = onRightSide(fitGrid(g, on, pattern.ppq, 48), on, pattern.ppq, 48); const st = findStretches(m, on, maps); console.log(gridName(g), m.score.toFixed(1), m.meanDriftMs.toFixed(1), m.spreadMs.toFixed(1), [...m.densityOfLevel].map(x => x.toFixed(3)).join(" "), [...m.levels.slotsOfLevel].join(" "), st.gain.toFixed(1), st.stretches.length); }
