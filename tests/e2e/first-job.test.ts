import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { META, readMidiFile, readText } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { goToScreen, importBytes, openStep } from "./browser-tools.ts";

// The whole job of docs/first-job.md, from a dropped file to a song, as a person does it.

const pages = usePages();
const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));
const BAR = 1920;
const [HAT, SNARE] = [42, 38];

const card = (page: Page) => page.getByRole("complementary", { name: "Lane card" });
const song = (page: Page) => page.getByRole("complementary", { name: "Settings of the selection" });
const matrix = (page: Page) => page.getByRole("table", { name: "Patterns and voices" });
const cell = (page: Page, words: string) => matrix(page).getByRole("button", { name: new RegExp(`^${words}:`) });
const laneHead = (page: Page, name: string) => page.getByRole("button", { name: new RegExp(`^${name}\\b`) }).first();

async function type(page: Page, value: string) {
  await page.getByRole("textbox").last().fill(value);
  await page.keyboard.press("Enter");
}

const eventsOf = (bytes: Uint8Array) =>
  readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status === 0x99 && one.data2 > 0
        ? [{ tick: one.tick, note: one.data1, velocity: one.data2 }]
        : [],
    ),
  );
const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

/** How far apart the patterns of a voice are, in ms, as the head of its column says once all is laid. */
async function apart(page: Page, voice: string) {
  await page.locator('table[aria-label="Patterns and voices"][aria-busy="false"]').waitFor();
  const head = matrix(page).getByRole("columnheader", { name: new RegExp(`^${voice}`) });
  const [recorded, cleaned] = (await head.textContent())!.matchAll(/(\d+\.\d)(?= →| ms)/g);
  return { recorded: Number(recorded![1]), cleaned: Number(cleaned![1]) };
}

describe("the first job", () => {
  it("goes from a recording over named, mended, tightened and shaped voices to a song that one drummer plays", async () => {
    const page = await pages.open();
    // Bring it in, and name it.
    await importBytes(page, "Ferry Lights, first job.mid", ferry);
    await page.getByText("855 hits on 7 drums").waitFor();
    await laneHead(page, "Rack tom").click();
    await card(page).getByRole("button", { name: "Rack tom", exact: true }).click();
    await page.getByRole("textbox", { name: "Rack tom" }).fill("Small tom");
    await page.keyboard.press("Enter");
    await laneHead(page, "Small tom").waitFor();

    // Repair: what nobody played is left out, voice by voice.
    let leftOut = 0;
    for (const name of ["Snare", "Hi-hat", "Kick", "Ride"]) {
      await laneHead(page, name).click();
      await openStep(page, "Repair");
      const step = card(page).getByRole("region", { name: "Repair" });
      await card(page).getByRole("button", { name, exact: true }).waitFor();
      const words = (await step.getByText(/^Likely |^No double triggers/).textContent())!;
      if (!words.startsWith("Likely")) continue;
      await step.getByRole("switch", { name: "Repair" }).click();
      await step.getByText(/^Mutes/).waitFor();
      leftOut += Number((await step.getByRole("button", { name: /^\d+ hits?$/ }).textContent())!.match(/^\d+/)![0]);
    }
    expect(leftOut).toBeGreaterThan(2);

    // Tighten: every voice on its own grid, the snare by less.
    await page.keyboard.press("Shift+T");
    await page.getByText(/^Quantized \d voices/).waitFor();
    await openStep(page, "Quantize");
    await laneHead(page, "Snare").click();
    await card(page)
      .getByRole("button", { name: /^Strength/ })
      .click();
    await type(page, "70");

    // Shape: ghosts softer, hats strong and weak.
    await page.keyboard.press("9");
    await card(page).getByRole("button", { name: "Ghosts: as played" }).click();
    await type(page, "80");
    await laneHead(page, "Hi-hat").click();
    await page.keyboard.press("Shift+g");
    await page.getByRole("button", { name: /^Chore/ }).click();
    await page.getByRole("menuitemradio", { name: "Every second hat softer" }).click();
    await page.getByRole("button", { name: "Apply", exact: true }).click();
    await page.keyboard.press("Shift+g");
    await page.getByText("Saved", { exact: true }).waitFor();

    // Cut it, and call the parts by their names.
    await goToScreen(page, "Song");
    await page.getByRole("button", { name: "Split by repeats" }).click();
    for (const [part, name] of [
      ["Part A 1", "Verse"],
      ["Part B 1", "Chorus"],
    ] as const) {
      await cell(page, `Snare in ${part}`).click();
      await song(page).getByRole("button", { name: part, exact: true }).click();
      await page.getByRole("textbox", { name: "Name of the pattern" }).fill(name);
      await page.keyboard.press("Enter");
      await cell(page, `Snare in ${name}`).waitFor();
    }

    // The groove of the verse's hats and snare, on everything.
    await cell(page, "Hi-hat in Verse").click();
    await page.keyboard.press("Shift+ArrowRight");
    await song(page).getByRole("button", { name: "Extract groove …" }).click();
    await song(page)
      .getByText(/hats \d+ ms ahead; snare \d+ ms behind, from \d+ hits, steady to ± \d+ ms/)
      .waitFor();
    await song(page).getByRole("textbox", { name: "Name of the groove" }).fill("The verse");
    await song(page).getByRole("button", { name: "Extract", exact: true }).click();
    await page.getByText("“The verse” is on the shelf.").waitFor();
    const before = await apart(page, "Snare");
    await page.keyboard.press("`");
    await page.getByText("All settings are kept as A.").waitFor();
    await matrix(page).getByRole("button", { name: "All cells" }).click();
    await song(page)
      .getByRole("button", { name: /^Groove of the cells/ })
      .click();
    await page
      .getByRole("menuitemradio", { name: /^The verse/ })
      .last()
      .click();
    await song(page).getByRole("button", { name: /^Pull/ }).click();
    await type(page, "100");
    await expect.poll(async () => (await apart(page, "Snare")).cleaned).toBeLessThan(1.5);
    expect(before.recorded).toBeGreaterThan(5);
    expect(before.cleaned).toBeGreaterThan(2);

    // Compare: without feel, recorded, cleaned, and the settings before.
    await page.getByRole("button", { name: "Play", exact: true }).click();
    await expect.poll(() => page.getByTestId("song-place").textContent()).toMatch(/^(?!1:1 )\d+:\d Verse$/);
    for (const [key, name] of [
      ["\\", "No groove"],
      ["[", "Recorded"],
      ["]", "Cleaned"],
    ] as const) {
      await page.keyboard.press(key);
      await expect.poll(() => page.getByRole("radio", { name, exact: true }).getAttribute("aria-checked")).toBe("true");
    }
    await page.getByRole("button", { name: "Stop" }).click();
    await page.keyboard.press("`");
    await expect.poll(async () => (await apart(page, "Snare")).cleaned).toBe(before.cleaned);
    await page.keyboard.press("`");
    await expect.poll(async () => (await apart(page, "Snare")).cleaned).toBeLessThan(1.5);

    // Hand it over.
    await page.getByText("Saved", { exact: true }).waitFor();
    await page.getByRole("button", { name: "Export", exact: true }).click();
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("button", { name: "One file with markers" }).click(),
    ]);
    expect(download.suggestedFilename()).toBe("Ferry Lights, first job song.mid");
    const bytes = new Uint8Array(readFileSync((await download.path())!));
    const markers = readMidiFile(bytes).file.tracks[0]!.messages.flatMap((one) =>
      one.kind === "meta" && one.metaType === META.marker ? [readText(one.data)] : [],
    );
    expect(markers).toEqual(["Verse", "Chorus", "Part A 2", "Part B 2", "Part A 3", "Part B 3"]);
    const [recorded, cleaned] = [eventsOf(ferry).filter(({ note }) => note >= 35 && note < 82), eventsOf(bytes)];
    const drums = recorded.filter(({ note }) => cleaned.some((one) => one.note === note));
    expect(cleaned).toHaveLength(drums.length - leftOut);
    // The snare sits behind, the hats ahead, in the last chorus as in the first verse; ghosts and every second hat are softer.
    const offOf = (note: number, from: number, to: number, step: number) =>
      cleaned
        .filter((one) => one.note === note && one.tick > from * BAR && one.tick < to * BAR)
        .map(({ tick }) => ((tick + step / 2) % step) - step / 2);
    const isNear = (note: number, step: number) => {
      const [verse, last] = [mean(offOf(note, 0, 7, step)), mean(offOf(note, 40, 47, step))];
      expect(Math.abs(verse - last)).toBeLessThan(3);
      return verse;
    };
    expect(isNear(SNARE, 120)).toBeGreaterThan(4);
    expect(mean(offOf(HAT, 0, 7, 240))).toBeLessThan(-1);
    const softest = (events: typeof cleaned) =>
      mean(
        events
          .filter(({ note }) => note === SNARE)
          .map(({ velocity }) => velocity)
          .filter((velocity) => velocity < 50),
      );
    expect(softest(cleaned)).toBeLessThan(softest(recorded) - 3);
  });
});
