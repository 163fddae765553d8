import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { readMidiFile } from "../../src/core/smf/index.ts";
import { handOf } from "./a-hand.ts";
import { usePages } from "./browser.ts";
import { exportBytes, importBytes } from "./browser-tools.ts";

// The jobs of docs/five-jobs.md, with every action counted.

const pages = usePages();
const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));
const water = new Uint8Array(readFileSync("demo/slack-water.mid"));
const [CLOSED, SNARE, RIDE] = [42, 38, 51];
const BAR_TICKS = 1920;

function notesOf(bytes: Uint8Array, note?: number) {
  return readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status === 0x99 && one.data2 > 0 && (note === undefined || one.data1 === note)
        ? [{ tick: one.tick, velocity: one.data2 }]
        : [],
    ),
  );
}
const exported = async (page: Page, note?: number) => notesOf((await exportBytes(page)).bytes, note);

async function open(name: string, bytes: Uint8Array) {
  const page = await pages.open();
  await importBytes(page, name, bytes);
  await page
    .getByText(/ghosts|, \d+ ms (late|early)|on the line/)
    .first()
    .waitFor();
  return { page, hand: handOf(page) };
}

describe("five jobs", () => {
  it("lower every second hat", async () => {
    const { page, hand } = await open("One.mid", ferry);
    await hand.key("Shift+G");
    await hand.choose(/^Chore:/);
    await hand.choose("Every second hat softer", "menuitemradio");
    await hand.choose("Apply");
    const before = notesOf(ferry, CLOSED);
    const softer = (await exported(page, CLOSED)).filter(({ velocity }, index) => velocity < before[index]!.velocity);
    expect(softer.length / before.length).toBeGreaterThan(0.4);
    expect(softer.length / before.length).toBeLessThan(0.6);
    expect(hand.actions).toBe(4);
  });

  it("make ghosts 20 % softer, with their shape", async () => {
    const { page, hand } = await open("Two.mid", ferry);
    await hand.key("9");
    await hand.choose("Ghosts: as played");
    await page.getByRole("textbox").last().focus();
    await hand.type("80");
    await hand.key("Enter");
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: "Ghosts: × 80 %" }).waitFor();
    const before = notesOf(ferry, SNARE);
    const after = await exported(page, SNARE);
    expect(after.map(({ velocity }) => velocity)).toEqual(
      before.map(({ velocity }) => (velocity <= 60 ? Math.round(velocity * 0.8) : velocity)),
    );
    expect(hand.actions).toBe(4);
  });

  it("a roll of thirty-seconds that rises into bar 9", async () => {
    const { page, hand } = await open("Three.mid", ferry);
    await hand.key("0");
    const ruler = (await page.getByRole("img", { name: /^Bars and beats/ }).boundingBox())!;
    // A little room is left at both ends of the take.
    await hand.click(ruler.x + (ruler.width * 8.1) / 48, ruler.y + 8);
    await hand.key("/");
    await page.getByRole("combobox").waitFor();
    await hand.type("burst");
    await hand.key("Enter");
    await page.getByText(/^Wrote 8 hits into the bar line/).waitFor();
    const written = (await exported(page, SNARE)).filter(
      ({ tick }) => tick >= 8 * BAR_TICKS - 480 && tick < 8 * BAR_TICKS && tick % 60 === 0,
    );
    expect(written.map(({ tick }) => tick)).toEqual(
      Array.from({ length: 8 }, (_, index) => 8 * BAR_TICKS - 480 + index * 60),
    );
    expect(written.every(({ velocity }, index) => index === 0 || velocity > written[index - 1]!.velocity)).toBe(true);
    expect(hand.actions).toBe(5);
  });

  it("off-beats only on the ride, in 6/8", async () => {
    const { page, hand } = await open("Four.mid", water);
    await hand.key("Shift+G");
    await hand.choose(/^Chore:/);
    await hand.choose("Thin the ride to the beats", "menuitemradio");
    await hand.choose(/^Place in the bar/);
    await hand.choose("on the off-beats", "menuitemradio");
    await page.getByRole("img", { name: /^In a bar of 6\/8/ }).waitFor();
    await hand.choose("Apply");
    await page.getByText(/^Thin the ride to the beats: \d+ hits changed/).waitFor();
    // Slack Water is played at another tempo than it is written, so its rides are counted and not placed.
    const left = await exported(page, RIDE);
    expect(left.length).toBeGreaterThan(0);
    expect(left.length).toBeLessThan(notesOf(water, RIDE).length / 2);
    expect(hand.actions).toBe(6);
  });

  it("the whole part 30 % more dynamic, with nothing cut off", async () => {
    const { page, hand } = await open("Five.mid", ferry);
    await hand.key("Shift+G");
    await hand.choose(/^What to do/);
    await hand.choose("change the range", "menuitemradio");
    await page.getByText(/would clip/).waitFor();
    await hand.choose("Scale to fit");
    await page.getByText(/would clip/).waitFor({ state: "hidden" });
    await hand.choose("Apply");
    await page.getByText(/hits by a rule: \d+ hits changed/).waitFor();
    const spread = (list: readonly { velocity: number }[]) => {
      const mean = list.reduce((sum, { velocity }) => sum + velocity, 0) / list.length;
      return Math.sqrt(list.reduce((sum, { velocity }) => sum + (velocity - mean) ** 2, 0) / list.length);
    };
    const [before, after] = [notesOf(ferry), await exported(page)];
    expect(spread(after) / spread(before)).toBeGreaterThan(1.1);
    const loudest = (list: readonly { velocity: number }[]) => list.filter(({ velocity }) => velocity === 127).length;
    // One for each voice and role at the most, where before they were several.
    expect(loudest(after)).toBeLessThan(12);
    expect(hand.actions).toBe(5);
  });
});
