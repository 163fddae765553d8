import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { isNoteOn, readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes, goToScreen } from "./browser-tools.ts";
import { dragTo, openSmall, PPQ, selection, ticksOf, tool } from "./small-take.ts";

// Takes from nothing that grow, and copies that go into other places and other takes.

const pages = usePages();

describe("a take from nothing", () => {
  it("is begun on the Shelf, drawn on, grows past its end, and goes out as a file", async () => {
    const page = await pages.open("/");
    await page.getByRole("button", { name: "New take …" }).click();
    const sheet = page.getByRole("dialog", { name: "New take" });
    await sheet.getByLabel("Name").fill("From nothing");
    await sheet.getByLabel("Tempo").fill("9");
    await sheet.getByRole("button", { name: "Create" }).click();
    await sheet.getByText("Tempo goes from 20 to 400 bpm.").waitFor();
    await sheet.getByLabel("Tempo").fill("96");
    await sheet.getByLabel("Bars").fill("2");
    await sheet.getByRole("button", { name: "Create" }).click();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    const lanes = page.getByRole("main", { name: "Lanes" }).locator("[data-lane-name]");
    await expect
      .poll(() => lanes.allTextContents())
      .toEqual(["Crash", "Ride", "Hi-hat", "Snare", "Rack tom", "Floor tom", "Kick"]);
    await tool(page, "Draw").click();
    const kick = (await lanes.last().locator("xpath=ancestor::div[contains(@class,'group')]").boundingBox())!;
    const fins = (await page.getByTestId("fins").boundingBox())!;
    // From the second bar on, past the end of the take, where there is some room to write.
    await page.mouse.move(fins.x + 300, kick.y + 16);
    await page.mouse.wheel(400, 0);
    await dragTo(page, [fins.x + fins.width * 0.6, kick.y + 16], [fins.x + fins.width * 0.95, kick.y + 16]);
    await page.getByText(/^The take goes on to bar [34] now/).waitFor();
    const { name, bytes } = await exportBytes(page);
    expect(name).toMatch(/^From nothing/);
    const ons = readMidiFile(bytes).file.tracks.flatMap(({ messages }) => messages.filter(isNoteOn));
    expect(ons.length).toBeGreaterThan(3);
    expect(ons.every(({ tick, data1 }) => data1 === 36 && tick % 120 === 0)).toBe(true);
    expect(Math.max(...ons.map(({ tick }) => tick))).toBeGreaterThanOrEqual(2 * 4 * PPQ);
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await expect.poll(async () => (await ticksOf(page, "kick")).length).toBe(ons.length);
    await page.keyboard.press("Control+z");
    await expect.poll(async () => (await ticksOf(page, "kick")).length).toBe(0);
  });
});

/** Draws a frame around all hits of the first bar. */
async function selectFirstBar(page: Page, { x, laneBox }: Awaited<ReturnType<typeof openSmall>>) {
  const { top } = await laneBox("Crash");
  const { bottom } = await laneBox("Kick");
  await dragTo(page, [x(-100), top + 3], [x(1900), bottom - 2]);
  await selection(page).getByText("12 hits selected").waitFor();
}

describe("copies", () => {
  it("are laid where they are shown to go, as often as wished, and into another take", async () => {
    const page = await pages.open();
    await selectFirstBar(page, await openSmall(page, "Copied from", null));
    await page.keyboard.press("Control+c");
    await page.getByText("Copied 12 hits.").waitFor();
    await page.keyboard.press("Escape");
    await page.keyboard.press("Home");
    await page.getByRole("button", { name: "Paste …" }).click();
    const menu = page.getByRole("dialog", { name: "Paste" });
    // Nothing is doubled, and that is said before it is done.
    await menu.getByText("0 hits at 1:1:0; 12 left out, since a hit is there already.").waitFor();
    await menu.getByRole("button", { name: /^How far/ }).click();
    await page.getByRole("menuitemradio", { name: "to the end of the take" }).click();
    await menu.getByText(/^24 hits at 1:1:0; 24 left out/).waitFor();
    await expect.poll(async () => (await ticksOf(page, "kick")).length).toBe(8);
    await page.keyboard.press("Escape");
    await expect.poll(async () => (await ticksOf(page, "kick")).length).toBe(4);
    await page.getByRole("button", { name: "Paste …" }).click();
    await menu.getByRole("button", { name: "Paste", exact: true }).click();
    await expect.poll(() => ticksOf(page, "kick")).toEqual([0, 960, 1920, 2880, 3840, 4800, 5760, 6720]);
    await page.keyboard.press("Control+z");
    // Another take: what was copied is there.
    await goToScreen(page, "Shelf");
    const other = await openSmall(page, "Copied to", null, [
      [38, 480, 90],
      [49, 3 * 4 * PPQ, 100],
    ]);
    await page.mouse.click(
      other.x(1920),
      (await page.getByRole("img", { name: /^Bars and beats/ }).boundingBox())!.y + 10,
    );
    await page.keyboard.press("Control+v");
    await page.getByText(/^Pasted/).waitFor();
    await expect.poll(async () => (await ticksOf(page, "kick")).length).toBeGreaterThan(1);
    expect((await ticksOf(page, "kick"))[0]).toBe(1920);
  });

  it("double no hit when a full bar is repeated", async () => {
    const page = await pages.open();
    await selectFirstBar(page, await openSmall(page, "Doubled", null));
    await page.keyboard.press("u");
    await page.getByText("Nothing repeated: every place has a hit already.").waitFor();
    await expect.poll(() => ticksOf(page, "kick")).toEqual([0, 960, 1920, 2880]);
  });
});
