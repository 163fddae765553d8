import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { META, readMidiFile, writeMidiFile, writeText } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes, goToScreen, importBytes } from "./browser-tools.ts";
import { fileOf, SMALL, strokesOf } from "./small-take.ts";

// Whole bars, tracks of one note, and drums on their own: what a take is made of, in large pieces.

const pages = usePages();
const BAR = 1920;
const KICK = 36;

const openBars = async (page: Page, item: RegExp) => {
  await page.getByRole("button", { name: "Bars …" }).click();
  await page.getByRole("menuitem", { name: item }).click();
};
const kicksOf = (bytes: Uint8Array) => strokesOf(bytes, KICK).map(({ tick }) => tick);

describe("bars of the take", () => {
  it("are put in silent, duplicated and removed, and one undo takes each back", async () => {
    const page = await pages.open();
    await importBytes(page, "Bars.mid", fileOf(SMALL));
    await page.getByText("4 bars", { exact: true }).waitFor();
    await page.keyboard.press("Control+ArrowRight");
    await openBars(page, /^Insert a silent bar before bar 2$/);
    await page.getByText("Inserted a bar before bar 2: silent, and the loop now. Everything after moved on.").waitFor();
    await page.getByText("5 bars", { exact: true }).waitFor();
    expect(kicksOf((await exportBytes(page)).bytes)).toEqual([0, 960, 2 * BAR, 2 * BAR + 960]);
    await page.getByRole("dialog").waitFor({ state: "detached" });
    // The loop is the silent bar: it goes again.
    await openBars(page, /^Remove bar 2$/);
    await page.getByText("Removed bar 2, on every track. Undo brings it back.").waitFor();
    await page.getByText("4 bars", { exact: true }).waitFor();
    await page.keyboard.press("Home");
    await openBars(page, /^Duplicate bar 1$/);
    await page.getByText("Duplicated bar 1, with 12 hits.").waitFor();
    expect(kicksOf((await exportBytes(page)).bytes)).toEqual([0, 960, BAR, BAR + 960, 2 * BAR, 2 * BAR + 960]);
    await page.getByRole("dialog").waitFor({ state: "detached" });
    for (const bars of ["4 bars", "5 bars", "4 bars"]) {
      await page.keyboard.press("Control+z");
      await page.getByText(bars, { exact: true }).waitFor();
    }
    await page.reload();
    await page.getByText("4 bars", { exact: true }).waitFor();
    expect(kicksOf((await exportBytes(page)).bytes)).toEqual([0, 960, BAR, BAR + 960]);
  });

  it("are made by a paste that puts its own in, which is said before", async () => {
    const page = await pages.open();
    await importBytes(page, "Pasted in.mid", fileOf(SMALL));
    await page.keyboard.press("k");
    await page.keyboard.press("Control+a");
    await page.keyboard.press("Control+c");
    await page.getByText(/^Copied \d+ hits\.$/).waitFor();
    await page.keyboard.press("Escape");
    await page.keyboard.press("Control+ArrowRight");
    await page.getByRole("button", { name: "Paste …" }).click();
    const menu = page.getByRole("dialog", { name: "Paste" });
    await menu.getByRole("button", { name: /^How to paste/ }).click();
    await page.getByRole("menuitemradio", { name: "in new bars of their own" }).click();
    await menu.getByText(/ at 2:1:0; in 2 new bars; what follows moves on\.$/).waitFor();
    await menu.getByRole("button", { name: "Paste", exact: true }).click();
    await page.getByText("6 bars", { exact: true }).waitFor();
    await page.keyboard.press("Control+z");
    await page.getByText("4 bars", { exact: true }).waitFor();
  });

  it("are saved as a pattern of the song, and as a file that begins with them", async () => {
    const page = await pages.open();
    await importBytes(page, "Loop.mid", fileOf(SMALL));
    await page.keyboard.press("Control+ArrowRight");
    await openBars(page, /^Save bar 2 as a pattern$/);
    await page.getByText("“Bar 2” is a pattern of the song now: put it where you want it on Song.").waitFor();
    await page.getByRole("button", { name: "Bars …" }).click();
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("menuitem", { name: "Save bar 2 as a file" }).click(),
    ]);
    expect(download.suggestedFilename()).toBe("Loop bar 2.mid");
    const bytes = new Uint8Array(readFileSync((await download.path())!));
    expect(kicksOf(bytes)).toEqual([0, 960]);
    const { tracks } = readMidiFile(bytes).file;
    expect(Math.max(...tracks.map(({ messages }) => messages.at(-1)!.tick))).toBe(BAR);
    await goToScreen(page, "Song");
    for (const name of ["The take", "Bar 2"])
      await page.getByRole("rowheader", { name: new RegExp(`^${name}`) }).waitFor();
  });
});

describe("a drum on its own", () => {
  it("is a pattern of this project once, however quickly it is clicked, and is taken back", async () => {
    const page = await pages.open();
    await importBytes(page, "Alone.mid", fileOf(SMALL));
    const card = page.getByRole("complementary", { name: "Lane card" });
    await page.keyboard.press("k");
    const drum = (await card.getByRole("heading", { level: 2 }).textContent())!.replace(/ [\d,]+ hits?$/, "");
    await card.getByRole("button", { name: "Lane menu" }).click();
    await page.getByRole("button", { name: "To a pattern" }).dblclick();
    await page.getByText(`“${drum}” is a pattern of this project.`).waitFor();
    await page.keyboard.press("Escape");
    await goToScreen(page, "Song");
    // The lanes of the Bench have heads of the same names: those of the song are meant.
    const rows = page.getByRole("table").getByRole("rowheader", { name: new RegExp(`^${drum}`) });
    await expect.poll(() => rows.count()).toBe(1);
    await page.keyboard.press("Control+z");
    await expect.poll(() => rows.count()).toBe(0);
  });
});

describe("tracks that share a note", () => {
  it("are a lane each, called as the track; the track is a condition of the note map; they go out as they came", async () => {
    const track = (name: string, ticks: readonly number[]) => ({
      messages: [
        { kind: "meta" as const, tick: 0, metaType: META.trackName, data: writeText(name) },
        ...ticks.flatMap((tick) => [
          { kind: "channel" as const, tick, status: 0x90, data1: 60, data2: 90 },
          { kind: "channel" as const, tick: tick + 60, status: 0x80, data1: 60, data2: 64 },
        ]),
      ],
    });
    const bytes = writeMidiFile({
      format: 1,
      division: { kind: "ppq", ppq: 480 },
      headerExtra: new Uint8Array(),
      unknownChunks: [],
      tracks: [track("Deep kick", [0, 960]), track("Snare", [480, 1440]), track("Hats", [0, 240, 480, 720])],
    });
    const page = await pages.open();
    await importBytes(page, "Samplers.mid", bytes);
    const note = page.getByRole("region", { name: "What was imported" });
    await note.getByText("3 tracks share note 60: each has a lane of its own.").waitFor();
    for (const name of ["Deep kick", "Snare", "Hats"]) {
      await page
        .getByRole("row", { name: new RegExp(`^${name}`) })
        .first()
        .waitFor();
    }
    expect((await exportBytes(page)).bytes).toEqual(bytes);
    await page.getByRole("dialog").waitFor({ state: "detached" });
    await goToScreen(page, "Note maps");
    await page.getByRole("button", { name: /^Hats.* comes in as: 60, track Hats$/ }).click();
    const form = page.getByRole("form", { name: /^Hats/ });
    await form.getByLabel("Track").fill("Snare");
    await form.getByRole("button", { name: "Take" }).click();
    await form
      .getByRole("alert")
      .getByText(/^Note 60 of track Snare is claimed twice/)
      .waitFor();
    await form.getByLabel("Track").fill("Shaker");
    await form.getByRole("button", { name: "Take" }).click();
    await page.getByRole("rowgroup", { name: "Bongos", exact: true }).getByText("4", { exact: true }).waitFor();
  });
});
