import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { isNoteOn, readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { goToScreen, importBytes } from "./browser-tools.ts";
import { savedTake } from "./patterns-page.ts";
import { fileOf, type Struck } from "./small-take.ts";

// Hits that are played sometimes, and voices that go round in a length of their own.

const pages = usePages();
const BAR = 1920;
const bar = (page: Page) => page.getByRole("region", { name: "Selected hits" });
const panel = (page: Page) => page.getByRole("dialog", { name: "Sometimes of the selection" });

/** Four bars of sixteenths on the hats, with a kick on each bar. */
const TAKE = fileOf(
  Array.from({ length: 4 }, (_, at): readonly Struck[] => [
    [36, at * BAR, 100],
    ...Array.from({ length: 16 }, (_, step): Struck => [42, at * BAR + step * 120, 80]),
  ]).flat(),
  4,
);

/** How many hats a file has that a button of the export sheet writes. */
async function exportedHats(page: Page): Promise<number> {
  await page.getByRole("button", { name: "Export", exact: true }).click();
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: /Save the file|One file/ }).click(),
  ]);
  const chunks: Buffer[] = [];
  for await (const chunk of await download.createReadStream()) chunks.push(chunk as Buffer);
  const { file } = readMidiFile(new Uint8Array(Buffer.concat(chunks)));
  await page.keyboard.press("Escape");
  return file.tracks.flatMap(({ messages }) =>
    messages.filter((one) => isNoteOn(one) && one.kind === "channel" && one.data1 === 42),
  ).length;
}

async function selectHats(page: Page) {
  // The lane of the hats is open.
  await page.getByRole("heading", { name: /^Hi-hat 64 hits/ }).waitFor();
  await page.keyboard.press("Control+a");
  await bar(page).getByText("64 hits").waitFor();
}

async function typed(page: Page, label: string, value: string) {
  await page.getByRole("button", { name: new RegExp(`^${label}: `) }).click();
  await page.getByRole("textbox", { name: label }).fill(value);
  await page.keyboard.press("Enter");
}

describe("hits that are played sometimes", () => {
  it("are drawn by chance and by fullness, said, re-rolled, exported as they are drawn, and taken back", async () => {
    const page = await pages.open("/");
    await importBytes(page, "Chancy.mid", TAKE);
    await selectHats(page);
    await bar(page).getByRole("button", { name: "Sometimes" }).click();
    await typed(page, "Chance", "50");
    await panel(page).getByRole("button", { name: "Apply: play sometimes" }).click();
    await page.getByText("Changed 64 hits.").waitFor();
    const take = await savedTake(page);
    expect(take.hits.filter(({ chance }) => chance?.chancePercent === 50)).toHaveLength(64);

    await panel(page).getByRole("button", { name: "Re-roll" }).click();
    await page.getByText("Drew 64 hits anew.").waitFor();
    expect((await savedTake(page)).fullness).toEqual({ percent: 50, seed: 2 });
    await page.keyboard.press("Escape");
    // One of them says it of itself.
    await page.keyboard.press("Escape");
    const written = await exportedHats(page);
    expect(written).toBeGreaterThan(15);
    expect(written).toBeLessThan(50);

    // Undone, all of them are played again.
    await page.keyboard.press("Control+z");
    await page.keyboard.press("Control+z");
    await expect.poll(async () => (await savedTake(page)).hits.some(({ chance }) => chance)).toBe(false);
    expect(await exportedHats(page)).toBe(64);
  });

  it("depend on how full the part is: of the take, and of a pattern of its song", async () => {
    const page = await pages.open("/");
    await importBytes(page, "Fuller.mid", TAKE);
    await selectHats(page);
    await bar(page).getByRole("button", { name: "Sometimes" }).click();
    await panel(page).getByRole("button", { name: "Apply: play by fullness" }).click();
    await page.getByText("Changed 64 hits.").waitFor();
    await page.keyboard.press("Escape");
    // Sixty at the least is asked for, and the part is half full.
    await page.getByRole("button", { name: "Export", exact: true }).click();
    await page.getByText("64 played sometimes, and not this time").waitFor();
    await page.keyboard.press("Escape");
    await bar(page).getByRole("button", { name: "Sometimes" }).click();
    await typed(page, "Fullness", "80");
    await expect.poll(async () => (await savedTake(page)).fullness?.percent).toBe(80);
    await page.keyboard.press("Escape");
    expect(await exportedHats(page)).toBe(64);

    await goToScreen(page, "Song");
    await page.getByRole("button", { name: "Split every", exact: true }).first().click();
    await page.getByRole("table", { name: "Patterns and voices" }).getByRole("button").first().click();
    await typed(page, "Fullness of the pattern", "20");
    await expect.poll(async () => (await savedTake(page)).arrangement?.patterns[0]?.fullnessPercent).toBe(20);
    expect(await exportedHats(page)).toBe(0);
    // The hats go round in seven sixteenths of their own.
    await typed(page, "Fullness of the pattern", "90");
    await page
      .getByRole("table", { name: "Patterns and voices" })
      .getByRole("button", { name: /^Hi-hat in/ })
      .first()
      .click();
    await typed(page, "Own length", "7");
    await expect
      .poll(async () => Object.values((await savedTake(page)).arrangement?.patterns[0]?.cells ?? {})[0]?.ownLengthTicks)
      .toBe(840);
    await page
      .getByRole("table", { name: "Patterns and voices" })
      .getByRole("button", { name: /^Hi-hat in .*over and over in 7 sixteenths/ })
      .waitFor();
  });
});
