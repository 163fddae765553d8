import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes, goToScreen, importBytes } from "./browser-tools.ts";

const pages = usePages();
const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));
const card = (page: Page) => page.getByRole("complementary", { name: "Lane card" });
const step = (page: Page) => card(page).getByRole("region", { name: "Groove" });
const HAT = 42;

function hitsOf(bytes: Uint8Array, note: number) {
  return readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status === 0x99 && one.data2 > 0 && one.data1 === note
        ? [{ tick: one.tick, velocity: one.data2 }]
        : [],
    ),
  );
}
/** Where in the beat the hats are, in ticks. */
const placesOf = async (page: Page) => [
  ...new Set(hitsOf((await exportBytes(page)).bytes, HAT).map(({ tick }) => tick % 960)),
];

async function choose(page: Page, label: RegExp, choice: RegExp) {
  await card(page).getByRole("button", { name: label }).click();
  await page.getByRole("menuitemradio", { name: choice }).click();
}

async function type(page: Page, label: RegExp, value: string) {
  await step(page).getByRole("button", { name: label }).click();
  await page.getByRole("textbox").last().fill(value);
  await page.keyboard.press("Enter");
}

describe("the feel of a voice", () => {
  it("is laid on by place in the beat, as far as it is asked to, or away from it, beside what the grid does", async () => {
    const page = await pages.open();
    await importBytes(page, "Feel.mid", ferry);
    await page
      .getByRole("button", { name: /^Hi-hat/ })
      .first()
      .click();
    await card(page)
      .getByRole("button", { name: /^Recipe/ })
      .click();
    await page.getByRole("menuitem", { name: /^To the line/ }).click();
    await expect.poll(async () => (await placesOf(page)).toSorted((a, b) => a - b)).toEqual([0, 240, 480, 720]);
    await page.keyboard.press("Shift+A");
    // All of it 6 % of a sixteenth behind, back-beats 7 % more.
    await choose(page, /^Groove: none/, /^Low water/);
    await step(page)
      .getByRole("img", { name: /^Low water: straight sixteenths/ })
      .waitFor();
    await expect.poll(async () => (await placesOf(page)).toSorted((a, b) => a - b)).toEqual([7, 247, 496, 727]);
    // Away from it; the very first hit cannot be before the take.
    await type(page, /^Timing:/, "-100");
    await expect.poll(async () => (await placesOf(page)).toSorted((a, b) => a - b)).toEqual([0, 233, 464, 713, 953]);
    await type(page, /^Timing:/, "0");
    await expect.poll(async () => (await placesOf(page)).toSorted((a, b) => a - b)).toEqual([0, 240, 480, 720]);
    await page.reload();
    await card(page)
      .getByRole("tab", { name: /^Quantize/ })
      .waitFor();
    await page.keyboard.press("Shift+A");
    await step(page).getByRole("button", { name: "Timing: 0 %" }).waitFor();
    await choose(page, /^Groove: Low water/, /^none$/);
    await step(page)
      .getByRole("img", { name: /^Low water/ })
      .waitFor({ state: "hidden" });
  });

  it("is taken from a voice, kept on the shelf, laid on every other, and there for another take", async () => {
    const page = await pages.open();
    await importBytes(page, "Take.mid", ferry);
    await page
      .getByRole("button", { name: /^Snare/ })
      .first()
      .waitFor();
    await page.keyboard.press("Shift+A");
    const take = step(page).getByRole("region", { name: "Extract groove" });
    await take.getByRole("img", { name: /^What would be extracted/ }).waitFor();
    await take
      .getByText(/snare|all 1\d ms behind/)
      .first()
      .waitFor();
    await choose(page, /^Length of the groove/, /^two bars/);
    await take.getByRole("textbox", { name: "Name of the groove" }).fill("Harbour snare");
    await page.keyboard.press("Enter");
    await page.getByText("Saved the groove “Harbour snare” to the Shelf, for any voice of any take.").waitFor();
    await step(page).getByRole("button", { name: "Groove: Harbour snare" }).waitFor();
    await step(page).getByRole("button", { name: "Use for all voices" }).click();
    await page.getByText("“Harbour snare” is used for all 7 voices. One undo takes it back.").waitFor();
    expect(hitsOf((await exportBytes(page)).bytes, HAT)).not.toEqual(hitsOf(ferry, HAT));
    await page.keyboard.press("Control+z");
    await expect.poll(async () => hitsOf((await exportBytes(page)).bytes, HAT)).toEqual(hitsOf(ferry, HAT));

    await goToScreen(page, "Shelf");
    await importBytes(page, "Other.mid", ferry);
    await page.getByRole("button", { name: /^Kick/ }).first().click();
    await page.keyboard.press("Shift+A");
    await choose(page, /^Groove: none/, /^Harbour snare/);
    await step(page).getByRole("button", { name: "Groove: Harbour snare" }).waitFor();
  });
});
