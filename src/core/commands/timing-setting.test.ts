import { describe, expect, it } from "vitest";
import { DEFAULT_TREATMENT } from "../document/index.ts";
import { withTiming } from "./timing-setting.ts";

const off = DEFAULT_TREATMENT.timing;

describe("a change of a timing that is off", () => {
  it("of the grid or the strength switches it on", () => {
    expect(withTiming(off, { grid: { family: "straight", denominator: 8 } })).toMatchObject({
      isOn: true,
      strengthPercent: 80,
    });
    expect(withTiming(off, { strengthPercent: 60 })).toMatchObject({ isOn: true, strengthPercent: 60 });
  });

  it("of push, humanize or latency does just that, and pulls nothing", () => {
    expect(withTiming(off, { pushMs: 6 })).toMatchObject({ isOn: true, strengthPercent: 0, pushMs: 6 });
    expect(withTiming(off, { humanizeMs: 3, humanizeSeed: 2 })).toMatchObject({ isOn: true, strengthPercent: 0 });
    expect(withTiming({ ...off, isOn: true }, { pushMs: 6 })).toMatchObject({ isOn: true, strengthPercent: 80 });
  });

  it("of how the grid is followed moves nothing", () => {
    expect(withTiming(off, { leaveWithinMs: 6 })).toMatchObject({ isOn: false, leaveWithinMs: 6 });
    expect(withTiming(off, { keepsGraceNotes: false }).isOn).toBe(false);
  });
});
