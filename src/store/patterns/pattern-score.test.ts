import { describe, expect, it } from "vitest";
import { rhythmOf } from "../../core/pattern/index.ts";
import { hitAt, patternOf } from "../../core/testing/patterns.ts";
import { PatternScore } from "./pattern-score.ts";

// At 120 bpm a bar of 4/4 lasts two seconds.
const oneBar = (voiceId: string, velocity = 90) =>
  rhythmOf(
    patternOf(
      [hitAt(0, { voiceId, recordedVelocity: velocity }), hitAt(960, { id: "b", voiceId, recordedVelocity: velocity })],
      { lengthTicks: 1920 },
    ),
  );
const heard = (score: PatternScore, fromMs: number, toMs: number) =>
  score
    .score()
    .eventsBetween(fromMs, toMs, 0)
    .map(({ voiceId, ms }) => `${voiceId} ${ms}`);

describe("patterns that are heard", () => {
  it("go round, each stroke at its time, in whatever pieces they are asked for", () => {
    const score = new PatternScore(120);
    const kick = oneBar("kick");
    score.choose("a", kick, kick.strokes, null);
    expect(heard(score, 0, 4000)).toEqual(["kick 0", "kick 1000", "kick 2000", "kick 3000"]);
    const pieces = Array.from({ length: 40 }, (_, index) => heard(score, index * 100, (index + 1) * 100)).flat();
    expect(pieces).toEqual(heard(score, 0, 4000));
  });

  it("give way to the next one on a bar line that is far enough ahead", () => {
    const score = new PatternScore(120);
    const [kick, snare] = [oneBar("kick"), oneBar("snare")];
    score.choose("a", kick, kick.strokes, null);
    score.choose("b", snare, snare.strokes, 700);
    expect(heard(score, 0, 4000)).toEqual(["kick 0", "kick 1000", "snare 2000", "snare 3000"]);
    // Chosen right before the line, it waits for the one after.
    score.choose("a", kick, kick.strokes, 3900);
    expect(heard(score, 4000, 8000)).toEqual(["snare 4000", "snare 5000", "kick 6000", "kick 7000"]);
  });

  it("change without a gap while they are made fuller, and are equally loud", () => {
    const score = new PatternScore(120);
    const [soft, loud] = [oneBar("kick", 42), oneBar("kick", 120)];
    score.choose("a", soft, soft.strokes, null);
    const [quiet] = score.score().eventsBetween(0, 10, 0);
    score.choose("a", soft, soft.strokes.slice(0, 1), 500);
    expect(heard(score, 0, 2500)).toEqual(["kick 0", "kick 2000"]);
    score.choose("b", loud, loud.strokes, null);
    const [strong] = score.score().eventsBetween(0, 10, 0);
    expect(quiet!.gain! * 42).toBeCloseTo(strong!.gain! * 120, 5);
  });
});
