import { baseTick, columnsOf, hitsByVoice, type Pattern } from "../src/core/document/index.ts";
import type { Treatment } from "../src/core/document/treatment.ts";
import { importTake } from "../src/core/file/index.ts";
import { GENERAL_MIDI } from "../src/core/notemap/index.ts";
import { writeMidiFile } from "../src/core/smf/index.ts";
import { studyVoices } from "../src/core/study/index.ts";
import { barAt, buildTimeMaps, GRID_CHOICES, type Grid, tickToMs } from "../src/core/time/index.ts";
import { hitFinders } from "../src/core/timing/index.ts";
import { treat } from "../src/core/treat.ts";
import { perform, type TrueHit } from "../src/standin/perform.ts";
import { createRandom } from "../src/standin/random.ts";
import type { Study, Tightness } from "../src/standin/studies.ts";

/** Counts of one take, or of several together. */
export interface Score {
  readonly hits: number;
  /** Real hits whose slot is the one that was meant. */
  readonly onSlot: number;
  /** The same if every voice were snapped to straight sixteenths, and to the best one grid for it. */
  readonly sixteenths: number;
  readonly bestSingle: number;
  readonly graces: number;
  /** Grace notes whose distance to their main hit has changed by at most 5 ms. */
  readonly graceKept: number;
  readonly voiceBars: number;
  /** Double triggers and cross-talk: how many there are, were found, and were rightly found; and hits that were wrongly. */
  readonly doubles: number;
  readonly doublesFound: number;
  readonly doublesRight: number;
  readonly talks: number;
  readonly talksFound: number;
  readonly talksRight: number;
  readonly realLost: number;
  /** Bars of a voice in which every meant place is a slot of the grid. */
  readonly planRight: number;
}

export interface StudyScore extends Score {
  readonly style: string;
  readonly tightness: Tightness;
}

const SAME_SLOT_MS = 5;

const NONE: Score = {
  hits: 0,
  onSlot: 0,
  sixteenths: 0,
  bestSingle: 0,
  graces: 0,
  graceKept: 0,
  voiceBars: 0,
  planRight: 0,
  doubles: 0,
  doublesFound: 0,
  doublesRight: 0,
  talks: 0,
  talksFound: 0,
  talksRight: 0,
  realLost: 0,
};

export function sumScores(scores: readonly Score[]): Score {
  return scores.reduce(
    (sum, score) =>
      Object.fromEntries(
        Object.entries(NONE).map(([key]) => [key, sum[key as keyof Score] + score[key as keyof Score]]),
      ) as unknown as Score,
    NONE,
  );
}

export function percent(part: number, whole: number): string {
  return whole === 0 ? "–" : `${((100 * part) / whole).toFixed(1)} %`;
}

export function scoreStudies(studies: readonly { study: Study; seed: number }[]): readonly StudyScore[] {
  return studies.map(({ study, seed }) => {
    const { file, truth } = perform(study.part, study.habits, createRandom(seed));
    const { pattern } = importTake(writeMidiFile(file), GENERAL_MIDI);
    return { style: study.style, tightness: study.tightness, ...scoreTake(pattern, truth) };
  });
}

/** Cleans every voice as it is proposed, at full strength, and compares with what was meant. */
function scoreTake(pattern: Pattern, truth: readonly TrueHit[]): Score {
  const maps = buildTimeMaps(pattern);
  const trueById = new Map(truth.map((hit) => [hit.id, hit]));
  const byVoice = hitsByVoice(pattern.hits);
  // A swing that is found a percent off is still the same slot.
  const isOn = (tick: number, wanted: number) =>
    Math.abs(tickToMs(maps.tempoMap, tick) - tickToMs(maps.tempoMap, wanted)) <= SAME_SLOT_MS;
  let score = NONE;
  for (const { voiceId, treatment } of pattern.lanes) {
    const hits = byVoice.get(voiceId) ?? [];
    const cleanWith = (timing: Partial<Treatment["timing"]>) => {
      const full: Treatment = {
        ...treatment,
        timing: { ...treatment.timing, isOn: true, strengthPercent: 100, ...timing },
      };
      return treat(hits, full, maps, pattern.lengthTicks);
    };
    const cleaned = cleanWith({});
    const count = (ticks: Float64Array) =>
      hits.reduce((sum, hit, row) => {
        const meant = trueById.get(hit.id);
        return sum + (meant?.kind === "hit" && isOn(ticks[row]!, meant.tick) ? 1 : 0);
      }, 0);
    const single = (grid: Grid, pocketMs: number) =>
      count(cleanWith({ grid, ghostGrid: grid, stretches: [], pocketMs }).ticks);
    const finderOf = hitFinders(columnsOf(hits), treatment.timing, maps.meterMap);
    const bars = new Map<number, boolean>();
    let graces = 0;
    let graceKept = 0;
    for (const [row, hit] of hits.entries()) {
      const meant = trueById.get(hit.id);
      if (meant?.kind === "hit") {
        const { barIndex } = barAt(maps.meterMap, meant.tick);
        const { slotTick } = finderOf(row).find(meant.tick);
        bars.set(barIndex, (bars.get(barIndex) ?? true) && isOn(slotTick, meant.tick));
      }
      if (meant?.kind !== "grace") continue;
      const mainRow = hits.findIndex((other, at) => at > row && trueById.get(other.id)?.kind === "hit");
      if (mainRow === -1) continue;
      graces++;
      const apart = (ticks: (row: number) => number) =>
        tickToMs(maps.tempoMap, ticks(mainRow)) - tickToMs(maps.tempoMap, ticks(row));
      const before = apart((at) => baseTick(hits[at]!));
      if (Math.abs(apart((at) => cleaned.ticks[at]!) - before) <= 5) graceKept++;
    }
    score = sumScores([
      score,
      {
        ...NONE,
        hits: hits.filter((hit) => trueById.get(hit.id)?.kind === "hit").length,
        onSlot: count(cleaned.ticks),
        sixteenths: single({ family: "straight", denominator: 16 }, 0),
        bestSingle: Math.max(...GRID_CHOICES.map((grid) => single(grid, treatment.timing.pocketMs))),
        graces,
        graceKept,
        voiceBars: bars.size,
        planRight: [...bars.values()].filter(Boolean).length,
      },
    ]);
  }
  return sumScores([score, scoreFaults(pattern, truth)]);
}

function scoreFaults(pattern: Pattern, truth: readonly TrueHit[]): Score {
  const kindOf = new Map(truth.map(({ id, kind }) => [id, kind]));
  const { faults } = studyVoices(hitsByVoice(pattern.hits), pattern.noteMap, buildTimeMaps(pattern));
  const doubles = faults.filter(({ kind }) => kind === "double");
  const talks = faults.filter(({ kind }) => kind === "crossTalk");
  const isTruly = (wanted: TrueHit["kind"]) => (fault: { hitId: string }) => kindOf.get(fault.hitId) === wanted;
  return {
    ...NONE,
    doubles: truth.filter(({ kind }) => kind === "double").length,
    doublesFound: doubles.length,
    doublesRight: doubles.filter(isTruly("double")).length,
    talks: truth.filter(({ kind }) => kind === "crossTalk").length,
    talksFound: talks.length,
    talksRight: talks.filter(isTruly("crossTalk")).length,
    realLost: faults.filter((fault) => isTruly("hit")(fault) || isTruly("grace")(fault)).length,
  };
}
