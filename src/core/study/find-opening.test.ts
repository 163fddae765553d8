import { describe, expect, it } from "vitest";
import { hitsByVoice } from "../document/index.ts";
import { importTake } from "../file/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { writeMidiFile } from "../smf/index.ts";
import { withFreeOpening } from "../testing/free-opening.ts";
import { putOnSlots, wobble } from "../testing/put-on-slots.ts";
import { buildTimeMaps } from "../time/index.ts";
import { studyVoices } from "./index.ts";

const BAR = 1920;
const { pattern } = importTake(writeMidiFile(withFreeOpening()), GENERAL_MIDI);
const maps = buildTimeMaps(pattern);

/** What is found when only some bars are played. */
function openingOf(firstBar: number, endBar: number) {
  const hits = pattern.hits.filter(
    ({ recordedTick }) => recordedTick! >= firstBar * BAR - 60 && recordedTick! < endBar * BAR,
  );
  const byVoice = hitsByVoice(hits);
  return studyVoices(byVoice, GENERAL_MIDI, maps).opening;
}

describe("a free opening", () => {
  it("is found where bars at the start are in no time, and those that follow are", () => {
    expect(openingOf(0, 14)).toEqual({ bars: 3, endTick: 3 * BAR });
    // And no voice follows other grids there.
    const { found } = studyVoices(hitsByVoice(pattern.hits), GENERAL_MIDI, maps);
    for (const { stretches } of found.values())
      expect(stretches.filter(({ startTick }) => startTick < 3 * BAR)).toEqual([]);
  });

  it("is none where a take is in time from its start, nor where too little follows to know", () => {
    expect(openingOf(3, 14)).toBeNull();
    expect(openingOf(0, 5)).toBeNull();
    expect(openingOf(2, 14)).toBeNull();
    expect(studyVoices(new Map(), GENERAL_MIDI, maps).opening).toBeNull();
  });

  it("is none where the hands first play between the eighths, and later on them", () => {
    const eighths = Array.from({ length: 8 }, (_, step) => step * 240);
    const meant = Array.from({ length: 24 }, (_, bar) =>
      eighths.flatMap((step) => [
        ...["hat", "kick"].map((voiceId) => ({ tick: bar * BAR + step, voiceId })),
        { tick: bar * BAR + step + (bar < 6 ? 120 : 0), voiceId: "snare" },
      ]),
    ).flat();
    const { wrong, opening } = putOnSlots(meant, 0, wobble(6));
    expect(opening).toBeNull();
    expect(wrong).toEqual([]);
  });
});
