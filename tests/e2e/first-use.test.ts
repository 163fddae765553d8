import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { readMidiFile } from "../../src/core/smf/index.ts";
import { handOf } from "./a-hand.ts";
import { usePages } from "./browser.ts";
import { exportBytes, importBytes, openMore, openStep, setNumber } from "./browser-tools.ts";

// What somebody who knows the trade and has read nothing does first: the jobs of docs/first-use.md, with every action counted.

const pages = usePages();
const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));
const moth = new Uint8Array(readFileSync("demo/moth-parade.mid"));
const [SNARE, KICK] = [38, 36];
const card = (page: Page) => page.getByRole("complementary", { name: "Lane card" });
const bar = (page: Page) => page.getByRole("region", { name: "Selected hits" });

function hitsOf(bytes: Uint8Array, note: number) {
  return readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status === 0x99 && one.data2 > 0 && one.data1 === note
        ? [{ tick: one.tick, velocity: one.data2 }]
        : [],
    ),
  );
}
const exported = async (page: Page, note: number) => hitsOf((await exportBytes(page)).bytes, note);
const offGrid = (hits: readonly { tick: number }[], step: number) =>
  hits.reduce((sum, { tick }) => sum + Math.abs(((tick + step / 2) % step) - step / 2), 0) / hits.length;

async function open(name: string, bytes: Uint8Array) {
  const page = await pages.open();
  await importBytes(page, name, bytes);
  await card(page)
    .getByRole("radio", { name: /, best$/ })
    .waitFor();
  return { page, hand: handOf(page) };
}

describe("first use", () => {
  it("quantizes the snare to sixteenths at 80 % with one click, and it can be heard and taken back", async () => {
    const { page, hand } = await open("One.mid", moth);
    await hand.choose(/^sixteenths, fits/, "radio");
    await card(page).getByText("Quantize 80 % to sixteenths").waitFor();
    const [before, after] = [hitsOf(moth, SNARE), await exported(page, SNARE)];
    // Its rolls are thirty-seconds.
    expect(offGrid(after, 60)).toBeLessThan(offGrid(before, 60) * 0.45);
    expect(hand.actions).toBe(1);
    await page.keyboard.press("Control+z");
    await card(page).getByText("Off: as played.").waitFor();
  });

  it("softens the ghosts of the snare and leaves the rest", async () => {
    const { page, hand } = await open("Two.mid", ferry);
    await hand.choose(/^Dynamics/, "tab");
    await hand.choose("Ghosts: as played");
    await page.getByRole("textbox").last().focus();
    await hand.type("70");
    await hand.key("Enter");
    await page.keyboard.press("Escape");
    const before = hitsOf(ferry, SNARE);
    expect((await exported(page, SNARE)).map(({ velocity }) => velocity)).toEqual(
      before.map(({ velocity }) => (velocity <= 60 ? Math.round(velocity * 0.7) : velocity)),
    );
    expect(hand.actions).toBe(4);
  });

  it("finds that a grid is wrong, with the number, and takes the one that was played", async () => {
    const { page, hand } = await open("Three.mid", ferry);
    await hand.choose(/^Kick/);
    await hand.choose(/^eighths, fits \d\d %$/, "radio");
    await card(page)
      .getByText(/^\d\d of 195 hits lie between eighths, and \d+ would share a slot; sixteenths fits\./)
      .waitFor();
    // Measured against the slots that were meant, the figure does not flatter.
    await card(page)
      .getByText(/^Now .* from sixteenths\.$/)
      .waitFor();
    await hand.choose("Use sixteenths");
    await card(page).getByRole("radio", { name: "sixteenths, fits 100 %, best", checked: true }).waitFor();
    await card(page)
      .getByText(/lie between/)
      .waitFor({ state: "hidden" });
    expect(offGrid(await exported(page, KICK), 120)).toBeLessThan(offGrid(hitsOf(ferry, KICK), 120) * 0.45);
    expect(hand.actions).toBe(3);
    // A finer grid than anything that was played is said to do little.
    await card(page).getByRole("button", { name: "All grids" }).click();
    await page.getByRole("menuitem", { name: /^thirty-seconds/ }).click();
    await card(page).getByText("Finer than what is played: thirty-seconds will do little.").waitFor();
  });

  it("does the same by keys alone", async () => {
    const { page, hand } = await open("Keys.mid", moth);
    await hand.key("/");
    await page.getByRole("combobox").waitFor();
    await hand.type("1/16");
    await page.getByRole("option", { name: /^Quantize Snare to sixteenths/ }).waitFor();
    await hand.key("Enter");
    await card(page).getByText("Quantize 80 % to sixteenths").waitFor();
    await hand.key("/");
    await hand.type("ghosts");
    await page.getByRole("option").first().waitFor();
    await page.keyboard.press("Escape");
    await hand.key("9");
    await card(page).getByRole("slider", { name: "Ghosts", exact: true }).focus();
    await hand.key("PageDown");
    await card(page)
      .getByRole("button", { name: /^Ghosts: × \d+ %/ })
      .waitFor();
    expect(hand.actions).toBeLessThanOrEqual(7);
  });
});

describe("the search", () => {
  it("sets a setting that is typed with its value, opens a setting by its name, goes to screens, and says when nothing is found", async () => {
    const { page } = await open("Search.mid", moth);
    const find = async (words: string) => {
      await page.getByRole("button", { name: "Search" }).click();
      await page.getByRole("combobox").fill(words);
    };
    await find("swing 58");
    await page.getByRole("option", { name: /^Set swing of Snare to 58 %/ }).waitFor();
    await page.keyboard.press("Enter");
    await card(page).getByRole("button", { name: "Swing: 58 %" }).waitFor();
    await find("swing 90");
    await page.keyboard.press("Enter");
    await page.getByText("Swing goes from 50 to 75 %. Nothing was changed.").waitFor();
    await find("latency");
    await page.keyboard.press("Enter");
    const latency = card(page).getByRole("slider", { name: "Latency" });
    await latency.waitFor();
    await expect.poll(() => latency.evaluate((thumb) => thumb === document.activeElement)).toBe(true);
    await find("qwertz");
    await page.getByText("Nothing found for “qwertz”.").waitFor();
    await page.getByRole("combobox").fill("drum map");
    await page.getByRole("option", { name: /^Note maps/ }).waitFor();
    await page.keyboard.press("Enter");
    await page.waitForURL(/\/maps\//);
  });
});

describe("what is selected", () => {
  it("is quantized by one button or key, previewed under the pointer, and shaped, one step of undo each", async () => {
    const { page } = await open("Selected.mid", ferry);
    await bar(page)
      .getByText(/^Click a hit, or drag/)
      .waitFor();
    await page.keyboard.press("n");
    await page.keyboard.press("e");
    await bar(page)
      .getByText(/^\d+ hits$/)
      .waitFor();
    const before = hitsOf(ferry, SNARE);
    const moved = (now: readonly { tick: number }[]) =>
      now.filter(({ tick }, row) => tick !== before[row]!.tick).length;
    await bar(page).getByRole("button", { name: "Quantize settings" }).click();
    const panel = page.getByRole("dialog", { name: "Quantize the selection" });
    await panel.getByRole("button", { name: "Grid of the selection: of each lane" }).click();
    await page.getByRole("menuitemradio", { name: "sixteenths", exact: true }).click();
    await panel.getByRole("button", { name: "Quantize", exact: true }).click();
    await page.getByText(/^Quantized \d+ hits 100 % to sixteenths\./).waitFor();
    const quantized = await exported(page, SNARE);
    expect(moved(quantized)).toBeGreaterThan(5);
    await page.keyboard.press("Control+z");
    await expect.poll(() => exported(page, SNARE)).toEqual(before);
    // One key repeats it.
    await page.keyboard.press("Control+Enter");
    await expect.poll(() => exported(page, SNARE)).toEqual(quantized);

    await bar(page).getByRole("button", { name: "Velocity", exact: true }).click();
    await page.getByRole("button", { name: "Apply: set velocity to" }).click();
    await page.getByText(/^Changed \d+ hits?\./).waitFor();
    await page.keyboard.press("Escape");
    const set = await exported(page, SNARE);
    expect(set.filter(({ velocity }) => velocity === 80).length).toBeGreaterThan(5);
    await page.keyboard.press("Control+z");
    await bar(page).getByRole("button", { name: "Role", exact: true }).click();
    await page.getByRole("menuitem", { name: "Accent" }).click();
    await bar(page).getByRole("button", { name: "Mute", exact: true }).click();
    await page.getByText(/^Muted \d+ hits/).waitFor();
    await bar(page).getByRole("button", { name: "Clear", exact: true }).click();
    await bar(page)
      .getByText(/^Click a hit, or drag/)
      .waitFor();
  });
});

describe("the part as a whole", () => {
  it("is changed by the same for all voices or some, each from what it has, shown in the lanes first", async () => {
    const { page } = await open("Part.mid", ferry);
    await page.keyboard.press("Shift+T");
    await page.getByText("Quantized 7 voices, each on its own grid.").waitFor();
    await setNumber(page, "Strength", "60");
    await page
      .getByRole("button", { name: /^Snare/ })
      .first()
      .click();
    await card(page).getByRole("heading", { name: "Whole part" }).waitFor();
    await card(page).getByRole("button", { name: "Snare 60 % to quarters" }).waitFor();
    await card(page).getByRole("slider", { name: "Strength" }).focus();
    await page.keyboard.press("PageUp");
    await card(page).getByRole("button", { name: "Snare 70 % to quarters" }).waitFor();
    await card(page).getByRole("button", { name: "Kick 90 % to sixteenths" }).waitFor();
    await page.keyboard.press("Control+z");
    await card(page).getByRole("button", { name: "Kick 80 % to sixteenths" }).waitFor();

    // Two lanes by Shift and a click on their heads: the others stay.
    await page
      .getByRole("button", { name: /^Snare/ })
      .first()
      .click();
    await page
      .getByRole("button", { name: /^Kick/ })
      .first()
      .click({ modifiers: ["Shift"] });
    await card(page).getByText("Change 2 voices by the same, each from what it has:").waitFor();
    const hats = hitsOf((await exportBytes(page)).bytes, 42);
    await card(page).getByRole("slider", { name: "Push" }).focus();
    await page.keyboard.press("End");
    await card(page).getByRole("button", { name: "Kick 80 % to sixteenths, push 30 ms behind" }).waitFor();
    expect(await exported(page, 42)).toEqual(hats);
    await card(page).getByRole("checkbox", { name: "Change Hi-hat" }).check();
    await card(page)
      .getByText(/^Change 3 voices/)
      .waitFor();
  });
});

describe("a setting", () => {
  it("starts nothing else: a push alone pulls nothing to a grid", async () => {
    const { page } = await open("Push.mid", ferry);
    await openMore(page);
    const push = card(page).getByRole("slider", { name: "Push" });
    await push.focus();
    await push.press("End");
    await card(page)
      .getByText(/Quantize 0 % to quarters.*push 40 ms behind/)
      .waitFor();
    const [before, after] = [hitsOf(ferry, SNARE), await exported(page, SNARE)];
    const shifts = new Set(after.map(({ tick }, row) => tick - before[row]!.tick));
    expect([...shifts].every((shift) => Math.abs(shift - 29) <= 1)).toBe(true);
  });
});

describe("every step of the card", () => {
  it("fits without scrolling, and has no fault that a checker of accessibility finds, by day and night", async () => {
    const { page } = await open("Steps.mid", ferry);

    const source = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");
    for (const theme of ["day", "night"]) {
      for (const name of ["Repair", "Quantize", "Dynamics", "Groove"] as const) {
        await openStep(page, name);
        const overflow = await card(page).evaluate((element) => element.scrollHeight - element.clientHeight);
        if (name !== "Groove") expect(`${name} ${overflow}`).toBe(`${name} 0`);
        await page.evaluate(source);
        const found = await page.evaluate(async () => {
          type Axe = { run(options: object): Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
          const { violations } = await (window as unknown as { axe: Axe }).axe.run({ resultTypes: ["violations"] });
          return violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html.slice(0, 160)}`);
        });
        expect(`${theme} ${name}: ${found.join("\n")}`).toBe(`${theme} ${name}: `);
      }
      if (theme === "day") await page.getByRole("button", { name: "Switch to night" }).click();
    }
  });
});
