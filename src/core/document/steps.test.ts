import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { anyState } from "../testing/documents.ts";
import { buildTimeMaps } from "../time/index.ts";
import { treat } from "../treat.ts";
import { baseTick, baseVelocity, hitsByVoice } from "./pattern.ts";
import { isDecided, isTreated, STEP_IDS, STEPS, withoutSteps } from "./steps.ts";

describe("the steps of a treatment", () => {
  it("are switched off one by one, and leave the others as they are", () => {
    fc.assert(
      fc.property(anyState, ({ lanes }) => {
        for (const { treatment } of lanes) {
          for (const id of STEP_IDS) {
            const off = STEPS[id].off(treatment);
            expect(STEPS[id].isOn(off)).toBe(false);
            for (const other of STEP_IDS)
              if (other !== id) expect(STEPS[other].isOn(off)).toBe(STEPS[other].isOn(treatment));
          }
          expect(isTreated(withoutSteps(treatment))).toBe(false);
        }
      }),
    );
  });

  it("decide of hits what they say they do: without them a hit is where and as loud as it was", () => {
    fc.assert(
      fc.property(anyState, (pattern) => {
        const maps = buildTimeMaps(pattern);
        const byVoice = hitsByVoice(pattern.hits);
        for (const { voiceId, treatment } of pattern.lanes) {
          const hits = (byVoice.get(voiceId) ?? []).filter(({ pinnedTick }) => pinnedTick === null);
          const plain = hits.map(({ offsetMs: _, ...hit }) => hit);
          const { ticks, velocities, isLeftOut } = treat(plain, treatment, maps, pattern.lengthTicks);
          const stays = (row: number) => baseTick(plain[row]!) < pattern.lengthTicks;
          if (!isDecided(treatment, "where"))
            for (const [row, hit] of plain.entries()) if (stays(row)) expect(ticks[row]).toBe(baseTick(hit));
          if (!isDecided(treatment, "howLoud")) expect([...velocities]).toEqual(plain.map(baseVelocity));
          if (!isDecided(treatment, "whether")) expect(isLeftOut.every((one) => one === 0)).toBe(true);
        }
      }),
    );
  });
});
