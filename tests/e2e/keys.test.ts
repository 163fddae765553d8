import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { pressBriefly } from "./a-hand.ts";
import { usePages } from "./browser.ts";
import { exportBytes, goToScreen, importBytes } from "./browser-tools.ts";
import { fileOf, PPQ, type Struck, selection, strokesOf } from "./small-take.ts";

const pages = usePages();
const BARS = 4;

/** Four bars of snare quarters, each a little louder than the one before, with kicks on one. */
const QUARTERS = Array.from({ length: 4 * BARS }, (_, quarter): readonly Struck[] => [
  [38, quarter * PPQ, 40 + 4 * quarter],
  ...(quarter % 4 === 0 ? [[36, quarter * PPQ, 100] as const] : []),
]).flat();

async function openTake(page: Page) {
  await importBytes(page, "Small.mid", fileOf(QUARTERS));
  await page.keyboard.press("0");
}

describe("keys", () => {
  it("can be others, are refused when taken, are kept, and come back", async () => {
    const page = await pages.open();
    await openTake(page);
    await page.keyboard.press("?");
    const sheet = page.getByRole("dialog", { name: "Keys" });
    await sheet.getByRole("button", { name: /another key for Select all hits of this lane/ }).click();
    await page.keyboard.press("l");
    await sheet
      .getByRole("alert")
      .getByText(/^L is for “Loop/)
      .waitFor();
    await page.keyboard.press("F8");
    await sheet.getByRole("button", { name: "F8, another key for Select all hits of this lane" }).waitFor();
    await page.keyboard.press("Escape");
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await page.keyboard.press("F8");
    await selection(page).getByText("16 snare hits selected").waitFor();
    await page.keyboard.press("?");
    await sheet.getByRole("button", { name: "All keys as they came" }).click();
    await page.keyboard.press("Escape");
    await page.keyboard.press("Escape");
    await selection(page).getByText("Nothing selected").waitFor();
    await page.keyboard.press("Control+a");
    await selection(page).getByText("16 snare hits selected").waitFor();
  });
});

describe("keys of chores and recipes", () => {
  it("are chosen on the sheet, run them, stand beside them in the search, and are taken off again", async () => {
    const page = await pages.open();
    await openTake(page);
    const sheet = page.getByRole("dialog", { name: "Keys" });
    await page.keyboard.press("?");
    await sheet.getByRole("button", { name: "Choose a key for Lift the back-beat" }).click();
    await page.keyboard.press("l");
    await sheet.getByRole("alert").getByText("L is for “Loop", { exact: false }).waitFor();
    await page.keyboard.press("F9");
    await sheet.getByRole("button", { name: "Choose a key for To the line" }).click();
    await page.keyboard.press("F9");
    await sheet.getByRole("alert").getByText("F9 is for “Lift the back-beat”", { exact: false }).waitFor();
    await page.keyboard.press("F7");
    await sheet.getByRole("button", { name: "F7, another key for To the line" }).waitFor();
    await page.keyboard.press("Escape");

    const before = strokesOf((await exportBytes(page)).bytes, 38);
    await page.keyboard.press("F9");
    await page.getByText(/^Lift the back-beat: \d+ hits changed/).waitFor();
    const lifted = strokesOf((await exportBytes(page)).bytes, 38);
    const byHowMuch = lifted.map(({ velocity }, at) => velocity - before[at]!.velocity);
    expect(new Set(byHowMuch)).toEqual(new Set([0, 8]));
    expect(byHowMuch.filter((_, at) => at % BARS === 0)).toEqual([0, 0, 0, 0]);
    await page.keyboard.press("Control+z");
    expect(strokesOf((await exportBytes(page)).bytes, 38)).toEqual(before);

    await page.keyboard.press("F7");
    await page
      .getByRole("complementary", { name: "Lane card" })
      .getByRole("button", { name: "Recipe: To the line" })
      .waitFor();

    await page.keyboard.press("/");
    await page.keyboard.type("lift the back");
    await page
      .getByRole("option", { name: /^Lift the back-beat/ })
      .getByText("F9")
      .waitFor();
    await page.keyboard.press("Escape");
    await page.keyboard.press("?");
    await sheet.getByRole("button", { name: "F9, another key for Lift the back-beat" }).click();
    await sheet.getByRole("button", { name: "No key" }).click();
    await sheet.getByRole("button", { name: "Choose a key for Lift the back-beat" }).waitFor();
    await page.keyboard.press("Escape");
    await page.keyboard.press("F9");
    expect(strokesOf((await exportBytes(page)).bytes, 38)).toEqual(before);
  });
});

describe("the list of drums and strokes", () => {
  it("begins with this drum, and finds by any word that is typed", async () => {
    const page = await pages.open();
    await openTake(page);
    await page.keyboard.press("Control+a");
    await selection(page).getByText("16 snare hits selected").waitFor();
    await page.keyboard.press("v");
    const first = page.getByRole("menuitemradio").first();
    await expect.poll(() => first.textContent()).toMatch(/^Snare/);
    // "cross-stick" is the second word of its name; the same letter again would go on to the next.
    await page.keyboard.type("cross");
    await page.keyboard.press("Enter");
    await expect.poll(async () => strokesOf((await exportBytes(page)).bytes, 37).length).toBe(16);
    await page.keyboard.press("Control+z");
    await expect.poll(async () => strokesOf((await exportBytes(page)).bytes, 38).length).toBe(16);
  });
});

describe("a wide screen", () => {
  it("keeps the step that was open before beside the open one, in the order of the tabs", async () => {
    const page = await pages.open();
    await openTake(page);
    const card = page.getByRole("complementary", { name: "Lane card" });
    const region = (name: string) => card.getByRole("region", { name, exact: true });
    await page.getByRole("tab", { name: "Dynamics" }).click();
    await region("Dynamics").waitFor();
    await expect.poll(() => region("Quantize").count()).toBe(0);
    await page.setViewportSize({ width: 1920, height: 1080 });
    await region("Quantize").waitFor();
    const left = async (name: string) => (await region(name).boundingBox())!.x;
    await expect.poll(async () => (await left("Dynamics")) - (await left("Quantize"))).toBeGreaterThan(250);
    await page.getByRole("tab", { name: "Repair" }).click();
    await region("Dynamics").waitFor();
    await expect.poll(async () => (await left("Dynamics")) - (await left("Repair"))).toBeGreaterThan(250);
    await expect.poll(() => region("Quantize").count()).toBe(0);
  });
});

describe("single keys", () => {
  it("can need Alt, or do nothing, on every screen; and what is chosen for one screen holds for all", async () => {
    const page = await pages.open();
    await openTake(page);
    const tool = (name: string) => page.getByRole("radio", { name, exact: true });
    const sheet = page.getByRole("dialog", { name: "Keys" });
    const setMode = async (name: string) => {
      await page.getByRole("button", { name: "All keys" }).click();
      await sheet.getByRole("button", { name: /^Single keys/ }).click();
      await page.getByRole("menuitemradio", { name, exact: true }).click();
      await page.keyboard.press("Escape");
      await sheet.waitFor({ state: "detached" });
    };
    await setMode("work with Alt held");
    await pressBriefly(page, "d");
    await pressBriefly(page, "Alt+d");
    await expect.poll(() => tool("Draw").getAttribute("aria-checked")).toBe("true");
    await pressBriefly(page, "Alt+d");
    await expect.poll(() => tool("Select").getAttribute("aria-checked")).toBe("true");
    await setMode("do nothing");
    await pressBriefly(page, "d");
    await pressBriefly(page, "Alt+d");
    await page.keyboard.press("?");
    // Keys with names go on as ever.
    await page.keyboard.press("Control+a");
    await page
      .getByRole("status", { name: "Selection" })
      .getByText(/selected/)
      .waitFor();
    await expect.poll(() => tool("Select").getAttribute("aria-checked")).toBe("true");
    await expect.poll(() => sheet.count()).toBe(0);
    await setMode("work by themselves");
    // Another key for one side, which the Song takes as well; and a key that the browser keeps is nobody's.
    await page.getByRole("button", { name: "All keys" }).click();
    await sheet.getByRole("button", { name: /another key for Show and hear recorded/ }).click();
    await page.keyboard.press("F5");
    await sheet.getByRole("alert").getByText("F5 belongs to the browser").waitFor();
    await page.keyboard.press("F8");
    await sheet.getByRole("button", { name: /^F8, another key for Show and hear recorded/ }).waitFor();
    await page.keyboard.press("Escape");
    await goToScreen(page, "Song");
    const recorded = page.getByRole("radio", { name: "Recorded" });
    await recorded.waitFor();
    await page.keyboard.press("[");
    await expect.poll(() => recorded.getAttribute("aria-checked")).toBe("false");
    await page.keyboard.press("F8");
    await expect.poll(() => recorded.getAttribute("aria-checked")).toBe("true");
  });
});
