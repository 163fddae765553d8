import { hitsByVoice } from "../../src/core/document/index.ts";
import { importTake } from "../../src/core/file/index.ts";
import { GENERAL_MIDI } from "../../src/core/notemap/index.ts";
import { type MidiFile, writeMidiFile } from "../../src/core/smf/index.ts";
import { studyVoices } from "../../src/core/study/index.ts";
import { type Bar, barAt, buildTimeMaps } from "../../src/core/time/index.ts";
import { createRandom } from "../../src/standin/random.ts";
import { HANDS, type Hand, type PlayedTake } from "./player.ts";
import { playWritten } from "./score-written.ts";

const FREE_BARS = 3;
const FEWEST_BARS = 8;
/** Each quarter of an opening lasts so much more or less than it is written. */
const MOST_SHARE = 0.35;

interface OpeningScore {
  readonly hand: Hand;
  readonly isSetAside: boolean;
  /** Whether the take, in time from its start, was told to have one. */
  readonly isToldFalsely: boolean;
  /** Whether it was told of the one that it was given, to a bar; null for a take that is too short for one. */
  readonly isTold: boolean | null;
}

/** Looks for free openings in takes that have none, and in the same with three bars that breathe. */
export function scoreOpenings(seed: number): readonly OpeningScore[] {
  return playWritten(seed).map(({ take, isSetAside }, index) => {
    const { found, firstBar, playedBars } = look(take.file);
    const given = playedBars > FEWEST_BARS ? look(withOpening(take, firstBar, seed * 1000 + index)).found : undefined;
    return {
      hand: take.manner.hand,
      isSetAside,
      isToldFalsely: found !== null,
      isTold: given === undefined ? null : given !== null && Math.abs(given.bars - firstBar - FREE_BARS) <= 1,
    };
  });
}

function look(file: MidiFile) {
  const { pattern } = importTake(writeMidiFile(file), GENERAL_MIDI);
  const maps = buildTimeMaps(pattern);
  const byVoice = hitsByVoice(pattern.hits);
  const { opening } = studyVoices(byVoice, pattern.noteMap, maps);
  const bars = pattern.hits.map(({ recordedTick }) => barAt(maps.meterMap, recordedTick ?? 0).barIndex);
  const firstBar = Math.min(...bars);
  return { found: opening, firstBar, playedBars: Math.max(...bars) - firstBar };
}

/** The same take, whose first bars are played freely between the same two bar lines. */
function withOpening({ file, manner }: PlayedTake, firstBar: number, seed: number): MidiFile {
  const { pattern } = importTake(writeMidiFile(file), GENERAL_MIDI);
  const { meterMap } = buildTimeMaps(pattern);
  let bar: Bar = barAt(meterMap, 0);
  while (bar.barIndex < firstBar) bar = barAt(meterMap, bar.endTick);
  const scale = manner.ppq / pattern.ppq;
  const startTick = bar.startTick * scale;
  for (let count = 1; count < FREE_BARS; count++) bar = barAt(meterMap, bar.endTick);
  const endTick = bar.endTick * scale;
  const random = createRandom(seed);
  const quarters = Math.max(1, Math.round((endTick - startTick) / manner.ppq));
  const lengths = Array.from({ length: quarters }, () => 1 + MOST_SHARE * (2 * random.uniform() - 1));
  const whole = lengths.reduce((sum, length) => sum + length, 0);
  const placed = (tick: number) => {
    if (tick < startTick || tick >= endTick) return tick;
    const quarter = ((tick - startTick) / (endTick - startTick)) * quarters;
    const own = Math.min(quarters - 1, Math.floor(quarter));
    const before = lengths.slice(0, own).reduce((sum, length) => sum + length, 0);
    return Math.round(startTick + ((endTick - startTick) * (before + lengths[own]! * (quarter - own))) / whole);
  };
  const tracks = file.tracks.map(({ messages }) => ({
    messages: messages
      .map((message) => (message.kind === "channel" ? { ...message, tick: placed(message.tick) } : message))
      .toSorted((a, b) => a.tick - b.tick),
  }));
  return { ...file, tracks };
}

/** What is said of it in docs/accuracy.md. */
export function openingTable(all: readonly OpeningScore[]): string {
  const given = all.filter(({ isTold }) => isTold !== null);
  const row = (hand: Hand) => {
    const cells = [false, true].map((isSetAside) => {
      const third = given.filter((score) => score.hand === hand && score.isSetAside === isSetAside);
      return third.length === 0 ? "–" : `${third.filter(({ isTold }) => isTold).length} of ${third.length}`;
    });
    return `| ${hand} | ${cells.join(" | ")} |`;
  };
  return `Openings that are played freely, of three bars: told where there is none in ${all.filter(({ isToldFalsely }) => isToldFalsely).length} of ${all.length} takes; where there is one, told to a bar:

| hand | looked at | set aside |
| --- | --- | --- |
${HANDS.map(row).join("\n")}`;
}
