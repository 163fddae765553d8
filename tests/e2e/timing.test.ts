import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes, importBytes } from "./browser-tools.ts";

const pages = usePages();
const moth = new Uint8Array(readFileSync("demo/moth-parade.mid"));
const card = (page: Page) => page.getByRole("complementary", { name: "Lane card" });
const ticksOf = (bytes: Uint8Array, key: number) =>
  readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status >> 4 === 9 && one.data2 > 0 && one.data1 === key ? [one.tick] : [],
    ),
  );

async function setNumber(page: Page, label: string, value: string): Promise<void> {
  await card(page)
    .getByRole("button", { name: new RegExp(`^${label}:`) })
    .click();
  await page.getByRole("textbox", { name: label }).fill(value);
  await page.keyboard.press("Enter");
  await page.keyboard.press("Escape");
}

describe("the timing of a voice", () => {
  it("swings, is pushed, and is left to chance by sentence, in one chain that is exported as it is shown", async () => {
    const page = await pages.open();
    await importBytes(page, "Chain.mid", moth);
    await page.getByRole("button", { name: /^Ride/ }).first().click();
    await card(page)
      .getByText(/Played on eighths/)
      .waitFor();
    await setNumber(page, "Strength", "100");
    await setNumber(page, "Swing", "60");
    await card(page).getByRole("button", { name: "Swing: swung 60 %" }).waitFor();
    const swung = ticksOf((await exportBytes(page)).bytes, 51);
    expect(new Set(swung.map((tick) => tick % 480))).toEqual(new Set([0, 288]));

    await setNumber(page, "Push", "10");
    await card(page).getByRole("button", { name: "Push: 10 ms behind the beat" }).waitFor();
    const late = Math.round((10 / (60_000 / 140)) * 480);
    const pushed = ticksOf((await exportBytes(page)).bytes, 51);
    expect(new Set(pushed.map((tick) => (tick - late) % 480))).toEqual(new Set([0, 288]));

    await setNumber(page, "Humanize", "5");
    const once = ticksOf((await exportBytes(page)).bytes, 51);
    expect(once).not.toEqual(pushed);
    await card(page).getByRole("button", { name: "Roll again" }).click();
    const again = ticksOf((await exportBytes(page)).bytes, 51);
    expect(again).not.toEqual(once);
    await page.keyboard.press("Control+z");
    await page.getByText(/^Undone: Change the roll of Ride/).waitFor();
    expect(ticksOf((await exportBytes(page)).bytes, 51)).toEqual(once);
    // Nothing else of the take has moved.
    expect(ticksOf((await exportBytes(page)).bytes, 38)).toEqual(ticksOf(moth, 38));
  });
});
