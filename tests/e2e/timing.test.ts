import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import {
  exportBytes,
  importBytes,
  openMore,
  openStep,
  painted,
  paintedFins,
  restingBox,
  setNumber,
} from "./browser-tools.ts";
import { fileOf, type Struck } from "./small-take.ts";

const pages = usePages();
const moth = new Uint8Array(readFileSync("demo/moth-parade.mid"));
const card = (page: Page) => page.getByRole("complementary", { name: "Lane card" });
const ticksOf = (bytes: Uint8Array, key: number) =>
  readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status >> 4 === 9 && one.data2 > 0 && one.data1 === key ? [one.tick] : [],
    ),
  );

describe("the timing of a voice", () => {
  it("has a grid of their own for its ghosts, which swing while the strokes are straight", async () => {
    const page = await pages.open();
    await importBytes(page, "Ghosts.mid", new Uint8Array(readFileSync("demo/ferry-lights.mid")));
    await setNumber(page, "Strength", "100");
    await card(page)
      .getByRole("radio", { name: /^sixteenths/ })
      .click();
    await openMore(page);
    const snare = async () => ticksOf((await exportBytes(page)).bytes, 38);
    const straight = await snare();
    await card(page)
      .getByRole("button", { name: /^Grid of ghosts/ })
      .click();
    await page.getByRole("menuitemradio", { name: "sixteenths", exact: true }).click();
    await setNumber(page, "Swing of ghosts", "60");
    await card(page).getByRole("button", { name: "Swing of ghosts: 60 %" }).waitFor();
    const swung = await snare();
    // Back-beats are where they were, and second sixteenths are a tenth of an eighth later.
    const moved = swung.filter((tick, index) => tick !== straight[index]);
    expect(moved.length).toBeGreaterThan(40);
    expect(moved.filter((tick) => tick % 240 === 144).length / moved.length).toBeGreaterThan(0.7);
    expect(swung.filter((tick) => tick % 480 === 0).length).toBe(straight.filter((tick) => tick % 480 === 0).length);
    await card(page)
      .getByRole("button", { name: /^Grid of ghosts/ })
      .click();
    await page.getByRole("menuitemradio", { name: "the same" }).click();
    await expect.poll(snare).toEqual(straight);
  });

  it("shows what a drag of a setting does while it goes on, and takes it back when it is given up", async () => {
    const page = await pages.open();
    await importBytes(page, "Drag.mid", moth);
    await card(page)
      .getByRole("radio", { name: /, best$/ })
      .waitFor();
    const before = await paintedFins(page);
    const drag = async () => {
      await card(page)
        .getByRole("button", { name: /^Strength:/ })
        .click();
      const rail = await restingBox(page.getByRole("dialog").getByRole("slider", { name: "Strength" }));
      const y = rail.y + rail.height / 2;
      await page.mouse.move(rail.x + rail.width / 2, y);
      await page.mouse.down();
      await page.mouse.move(rail.x + rail.width + 4, y, { steps: 12 });
      // Where the hand has stopped: what is painted then is painted with this strength.
      const strength = async () => (await painted(page))?.dragged?.map(({ to }) => to.timing.strengthPercent);
      await expect.poll(strength).toEqual([100]);
      return (await painted(page))!.fins;
    };
    const fins = async () => (await painted(page))?.fins;
    const dragged = await drag();
    expect(dragged).not.toBe(before);
    await page.keyboard.press("Escape");
    await page.mouse.up();
    // Off the grids, which show what they would do while they are pointed at.
    await page.mouse.move(640, 20);
    await expect.poll(fins).toBe(before);
    await card(page).getByRole("button", { name: "Strength: 80 %" }).waitFor();

    expect(await drag()).toBe(dragged);
    await page.mouse.up();
    await page.keyboard.press("Escape");
    await page.mouse.move(640, 20);
    await card(page).getByRole("button", { name: "Strength: 100 %" }).waitFor();
    await expect.poll(fins).toBe(dragged);
    await page.getByText("Saved", { exact: true }).waitFor();
    await page.reload();
    await card(page)
      .getByRole("radio", { name: /, best$/ })
      .waitFor();
    await card(page).getByRole("button", { name: "Strength: 100 %" }).waitFor();
    await expect.poll(fins).toBe(dragged);
  });

  it("swings, is pushed, and is left to chance by sentence, in one chain that is exported as it is shown", async () => {
    const page = await pages.open();
    await importBytes(page, "Chain.mid", moth);
    await page.getByRole("button", { name: /^Ride/ }).first().click();
    await card(page).getByRole("radio", { name: "eighths, fits 100 %, best" }).waitFor();
    await setNumber(page, "Strength", "100");
    await setNumber(page, "Swing", "60");
    await card(page).getByRole("button", { name: "Swing: 60 %" }).waitFor();
    const swung = ticksOf((await exportBytes(page)).bytes, 51);
    expect(new Set(swung.map((tick) => tick % 480))).toEqual(new Set([0, 288]));

    await setNumber(page, "Push", "10");
    await card(page).getByRole("button", { name: "Push: 10 ms behind" }).waitFor();
    const late = Math.round((10 / (60_000 / 140)) * 480);
    const pushed = ticksOf((await exportBytes(page)).bytes, 51);
    expect(new Set(pushed.map((tick) => (tick - late) % 480))).toEqual(new Set([0, 288]));

    await setNumber(page, "Humanize", "5");
    const once = ticksOf((await exportBytes(page)).bytes, 51);
    expect(once).not.toEqual(pushed);
    await card(page).getByRole("button", { name: "Re-roll" }).click();
    const again = ticksOf((await exportBytes(page)).bytes, 51);
    expect(again).not.toEqual(once);
    await page.keyboard.press("Control+z");
    await page.getByText(/^Undone: Change the humanize of Ride/).waitFor();
    expect(ticksOf((await exportBytes(page)).bytes, 51)).toEqual(once);
    // Nothing else of the take has moved.
    expect(ticksOf((await exportBytes(page)).bytes, 38)).toEqual(ticksOf(moth, 38));
  });
});

describe("a voice that follows several grids", () => {
  const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));

  it("is proposed with its fills on triplets, edited stretch by stretch, and set to one grid in a click", async () => {
    const page = await pages.open();
    await importBytes(page, "Plan.mid", ferry);
    await card(page)
      .getByRole("radio", { name: /, best$/ })
      .waitFor();
    await card(page).getByRole("button", { name: "Also: eighth triplets in 5 places" }).click();
    const stretches = card(page).getByRole("list", { name: "Stretches on another grid" });
    await expect.poll(() => stretches.getByRole("listitem").count()).toBe(5);
    await setNumber(page, "Strength", "100");
    // In the fill of bar 8 the strokes of beat 3 are a triplet.
    const inFill = (bytes: Uint8Array) =>
      ticksOf(bytes, 38)
        .filter((tick) => tick >= 7 * 1920 + 960 && tick < 7 * 1920 + 1430)
        .map((tick) => tick - 7 * 1920 - 960);
    const fill = inFill((await exportBytes(page)).bytes);
    expect(fill).toContain(160);
    expect(fill).toContain(320);

    await stretches.getByRole("button", { name: "Grid of 8:3 – 8:4: eighth triplets" }).click();
    await page.getByRole("menuitemradio", { name: "thirty-seconds", exact: true }).click();
    await stretches.getByRole("button", { name: "Grid of 8:3 – 8:4: thirty-seconds" }).waitFor();
    expect(inFill((await exportBytes(page)).bytes)).not.toContain(160);
    await stretches.getByRole("button", { name: "No other grid in 8:3 – 8:4" }).click();
    await expect.poll(() => stretches.getByRole("listitem").count()).toBe(4);
    await card(page).getByRole("button", { name: "one grid everywhere" }).click();
    await stretches.waitFor({ state: "hidden" });

    // Another grid for the bar that is looped.
    await page.keyboard.press("n");
    await page.keyboard.press("l");
    await card(page)
      .getByRole("button", { name: /^Grid of this stretch/ })
      .click();
    await page.getByRole("menuitemradio", { name: "eighths", exact: true }).click();
    await stretches.getByRole("button", { name: "bar 1", exact: true }).waitFor();
    await page.keyboard.press("Control+z");
    await stretches.waitFor({ state: "hidden" });
  });
});

describe("a chorus that swings in a straight take", () => {
  it("is found with its bars, quantized as it was played, and its swing is set where it is said", async () => {
    const page = await pages.open();
    const BAR = 1920;
    const isChorus = (tick: number) => tick >= 8 * BAR && tick < 16 * BAR;
    const isSecond = (index: number) => index % 2 === 1;
    const slots = Array.from({ length: 24 * 16 }, (_, index) => index * 120);
    const hats = slots.map((slot, index): Struck => {
      const late = isChorus(slot) && isSecond(index) ? 26 : 0;
      return [42, Math.max(0, slot + late + ((index * 7) % 9) - 4), 70 + (index % 5)];
    });
    const others = Array.from({ length: 24 }, (_, bar) => bar * BAR).flatMap((start, bar): Struck[] => [
      [36, start + (bar % 4), 100],
      [38, start + 480 + (bar % 5), 104],
      [36, start + 960 + (bar % 3), 98],
      [38, start + 1440 + (bar % 4), 106],
    ]);
    await importBytes(page, "Chorus.mid", fileOf([...hats, ...others], 24));
    await page
      .getByRole("button", { name: /^Hi-hat/ })
      .first()
      .click();
    await setNumber(page, "Strength", "100");
    const also = card(page).getByRole("button", { name: /^Also: swung 6\d(\.\d)? % in bars 9 – 16$/ });
    await also.waitFor();
    const lateIn = async () => {
      const cleaned = ticksOf((await exportBytes(page)).bytes, 42);
      const late = (isIn: boolean) =>
        cleaned.flatMap((tick, index) =>
          isSecond(index) && isChorus(slots[index]!) === isIn ? [tick - slots[index]!] : [],
        );
      return { chorus: new Set(late(true)), verse: new Set(late(false)) };
    };
    const found = await lateIn();
    expect(found.verse).toEqual(new Set([0]));
    for (const late of found.chorus) expect(Math.abs(late - 26)).toBeLessThan(4);
    await also.click();
    await card(page)
      .getByRole("button", { name: /^Swing of bars 9 – 16: 6/ })
      .click();
    await page.getByRole("textbox", { name: "Swing of bars 9 – 16" }).fill("55");
    await page.keyboard.press("Enter");
    await card(page).getByRole("button", { name: "Also: swung 55 % in bars 9 – 16" }).waitFor();
    expect(await lateIn()).toEqual({ chorus: new Set([12]), verse: new Set([0]) });
    await page.keyboard.press("Control+z");
    await also.waitFor();
    expect(await lateIn()).toEqual(found);
  });
});

describe("hits that are worth a look", () => {
  it("are crosstalk, however late it is heard: it is said of which drum, and muted at once while ghosts stay", async () => {
    const page = await pages.open();
    const bar = (index: number) => index * 1920;
    const bars = Array.from({ length: 12 }, (_, index) => index);
    const kicks = bars.flatMap((index) => [0, 720, 960].map((step) => bar(index) + step + ((index * 5 + step) % 7)));
    const ghosts = bars.flatMap((index) =>
      [360, 1080, 1800].map((step) => bar(index) + step + ((index * 3 + step) % 9)),
    );
    // Of many kicks and not of others, 2 to 10 ms late.
    const heard = kicks
      .filter((_, index) => (index * index) % 7 < 3)
      .map((tick, index) => tick + 2 + ((index * 5) % 9));
    const struck: Struck[] = [
      ...kicks.map((tick, index): Struck => [36, tick, 104 + (index % 9)]),
      ...bars.flatMap((index) => [480, 1440].map((step): Struck => [38, bar(index) + step + (index % 5), 110])),
      ...ghosts.map((tick, index): Struck => [38, tick, 40 + (index % 6)]),
      ...heard.map((tick, index): Struck => [38, tick, 18 + (index % 10)]),
    ];
    await importBytes(page, "Heard.mid", fileOf(struck, 12));
    await card(page)
      .getByRole("heading", { name: /^Snare/ })
      .waitFor();
    await openStep(page, "Repair");
    const repair = card(page).getByRole("region", { name: "Repair" });
    await repair.getByText(`Likely ${heard.length} hits of crosstalk from the kick: still playing.`).waitFor();
    await repair.getByRole("button", { name: `Mute all ${heard.length}` }).click();
    await repair.getByText(`: ${heard.length} hits of crosstalk from the kick.`).waitFor();
    const left = ticksOf((await exportBytes(page)).bytes, 38);
    expect(left.filter((tick) => heard.includes(tick))).toEqual([]);
    expect(left).toHaveLength(24 + ghosts.length);
  });

  const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));

  it("are listed with the reason, walked through by key, and taken, moved, left or muted", async () => {
    const page = await pages.open();
    await importBytes(page, "Look.mid", ferry);
    const list = card(page).getByRole("region", { name: "Doubtful hits" });
    await card(page).getByText("2 doubtful hits", { exact: true }).waitFor();
    await card(page).getByRole("button", { name: "Review" }).click();
    await list.getByText("2 of them are likely double triggers or crosstalk.").waitFor();
    const count = async () => Number((await list.locator("strong").first().textContent())?.match(/^\d+/)?.[0]);
    const before = await count();
    await list
      .getByRole("button", { name: /it triggered twice/ })
      .first()
      .waitFor();
    await list.getByRole("button", { name: "Listen" }).click();
    await page.getByRole("button", { name: "Stop", exact: true }).waitFor();
    await page.keyboard.press("Space");
    await list.getByRole("button", { name: "Keep" }).click();
    await expect.poll(count).toBe(before - 1);
    await list.getByRole("button", { name: "Mute" }).click();
    await page.getByText(/^Muted 1 hit/).waitFor();
    expect(ticksOf((await exportBytes(page)).bytes, 38)).toHaveLength(ticksOf(ferry, 38).length - 1);
    await page.keyboard.press("Control+z");
    await list.getByRole("button", { name: "Mute", exact: true }).first().waitFor();
    await openStep(page, "Repair");
    const repair = card(page).getByRole("region", { name: "Repair" });
    await repair.getByRole("switch", { name: "Repair" }).click();
    await repair.getByText(/^Mutes/).waitFor();
    expect(ticksOf((await exportBytes(page)).bytes, 38)).toHaveLength(ticksOf(ferry, 38).length - 1);
    await repair.getByRole("switch", { name: "Repair" }).click();
    await repair.getByText(/still playing/).waitFor();
    await page.keyboard.press("w");

    // With the timing on, hits between two slots and those that share one are listed as well.
    await page.keyboard.press("t");
    await list
      .getByText(/Two hits on one slot/)
      .first()
      .waitFor();
    const all = await count();
    await list
      .getByRole("button", { name: /Two hits on one slot/ })
      .first()
      .click();
    await list.getByRole("button", { name: "Other slot" }).click();
    await page.getByText("Moved 1 hit to the other slot.").waitFor();
    await page.keyboard.press("Control+z");
    await list.getByRole("button", { name: "As recorded" }).click();
    await page.getByText("1 hit stays where it was recorded.").waitFor();
    await page.keyboard.press("Control+z");
    // The list follows shortly after a change.
    await list.getByRole("button", { name: "As recorded" }).waitFor();
    await expect.poll(count).toBe(all);
    const left = all;
    await page.keyboard.press("Shift+W");
    await expect.poll(count).toBe(left - 1);
    // What was looked at is remembered.
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await card(page)
      .getByText(`${left - 1} doubtful hits`, { exact: true })
      .waitFor();
  });

  it("are those of a beat that another grid would fit nearly as well, which is followed in one action", async () => {
    const page = await pages.open();
    // Eighths, a little off to and fro, and in the last beat three that hurry.
    const eighths = Array.from({ length: 63 }, (_, step): Struck => [42, step * 240 + (step % 2 === 0 ? 24 : 0), 80]);
    const hurried = [145, 290].map((tick): Struck => [42, 62 * 240 + 24 + tick, 80]);
    await importBytes(page, "Nearly.mid", fileOf([...eighths, ...hurried], 8));
    await page.keyboard.press("t");
    await card(page).getByRole("button", { name: "Review" }).click();
    const list = card(page).getByRole("region", { name: "Doubtful hits" });
    await list
      .getByRole("button", { name: /^8:4:\d+ .*On another grid this beat would fit nearly as well/ })
      .first()
      .click();
    await page.getByText(/^1 hi-hat hit selected at 8:4/).waitFor();
    const drawn = await paintedFins(page);
    await list.getByRole("button", { name: "Use eighth triplets here" }).click();
    await page
      .getByText(/^The beat at 8:4\S* follows eighth triplets/)
      .first()
      .waitFor();
    await expect.poll(() => paintedFins(page)).not.toBe(drawn);
    await page.keyboard.press("Control+z");
    await expect.poll(() => paintedFins(page)).toBe(drawn);
  });
});
