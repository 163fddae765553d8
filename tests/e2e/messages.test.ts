import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { type MidiMessage, readMidiFile, writeMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes, goToScreen, importBytes } from "./browser-tools.ts";
import { fileOf } from "./small-take.ts";

const pages = usePages();
const deck = new Uint8Array(readFileSync("demo/slack-water-deck-kit.mid"));
const messagesOf = (bytes: Uint8Array) => readMidiFile(bytes).file.tracks.flatMap(({ messages }) => messages);

async function openMessages(page: Page, name: string, bytes: Uint8Array): Promise<void> {
  await importBytes(page, `${name}.mid`, bytes);
  await goToScreen(page, "Messages");
  await page.getByRole("table", { name: "Messages of the take" }).waitFor();
}
const rowWith = (page: Page, text: string | RegExp) => page.getByRole("row").filter({ hasText: text }).first();
/** The row of a note with this loudness. */
const noteRow = (page: Page, text: string | RegExp, velocity: number) =>
  page
    .getByRole("row")
    .filter({ hasText: text })
    .filter({ has: page.getByRole("cell", { name: String(velocity), exact: true }) })
    .first();
const picked = (page: Page) => page.getByRole("status", { name: "Selected" });

describe("the list of messages", () => {
  it("explains what is odd, takes it out, and what is exported is without it; undo brings it back", async () => {
    const page = await pages.open();
    await openMessages(page, "Odd", deck);
    await page.getByText("669 of 669 messages").waitFor();
    const panel = page.getByRole("complementary", { name: "Unusual messages" });
    await panel.getByText("Jittering controller").waitFor();
    await panel.getByText(/a worn pedal or a loose cable/).waitFor();
    await panel
      .getByRole("listitem")
      .filter({ hasText: "Kit change in" })
      .getByRole("button", { name: "Show" })
      .click();
    await rowWith(page, "Program 9").waitFor();
    await expect.poll(() => page.getByRole("row").count()).toBe(2);
    await page.getByRole("button", { name: "Show all", exact: true }).click();
    await panel.getByRole("button", { name: "Remove them: Jittering controller" }).click();
    await page.getByText("605 of 605 messages").waitFor();
    await panel.getByRole("button", { name: "Remove it: Kit change in mid-take" }).click();
    await page.getByText("604 of 604 messages").waitFor();
    await page.keyboard.press("Control+z");
    await page.getByText("605 of 605 messages").waitFor();
    await page.reload();
    await page.getByText("605 of 605 messages").waitFor();

    await goToScreen(page, "Bench");
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    const isJitter = (one: MidiMessage) => one.kind === "channel" && one.status === 0xb9 && one.data1 === 16;
    expect(messagesOf((await exportBytes(page)).bytes)).toEqual(messagesOf(deck).filter((one) => !isJitter(one)));
  });

  it("is narrowed by kind, channel, drum and place", async () => {
    const page = await pages.open();
    await openMessages(page, "Narrow", deck);
    const choose = async (label: string, name: string) => {
      await page.getByRole("button", { name: new RegExp(`^${label}:`) }).click();
      await page.getByRole("menuitemradio", { name, exact: true }).click();
    };
    await choose("Kind", "program");
    await page.getByText("1 of 669 messages").waitFor();
    await choose("Kind", "note");
    await page.getByText("292 of 669 messages").waitFor();
    await choose("Drum", "Whistle");
    await page.getByText("124 of 669 messages").waitFor();
    await page.getByLabel("From, as bar:beat:tick").fill("2");
    await page.getByLabel("To, as bar:beat:tick").fill("3:1:0");
    await expect.poll(() => page.getByRole("row").count()).toBeLessThan(12);
    await page.getByLabel("To, as bar:beat:tick").fill("nowhere");
    await expect.poll(() => page.getByLabel("To, as bar:beat:tick").getAttribute("aria-invalid")).toBe("true");
    await page.getByRole("button", { name: "Show all", exact: true }).click();
    await choose("Channel", "channel 10");
    await page.getByText(/^66\d of 669 messages/).waitFor();
  });

  it("changes a value, a place and a hit, leads to the Bench and back, and refuses what cannot be", async () => {
    const page = await pages.open();
    await openMessages(page, "Change", deck);
    await rowWith(page, "Tempo 96 bpm").click();
    await page.keyboard.press("e");
    const sheet = page.getByRole("dialog");
    await sheet.getByLabel("Quarters a minute").fill("2000");
    await sheet.getByRole("button", { name: "Take" }).click();
    await sheet.getByText("Quarters a minute goes from 4 to 960.").waitFor();
    await sheet.getByLabel("Quarters a minute").fill("80");
    await sheet.getByRole("button", { name: "Take" }).click();
    await rowWith(page, "Tempo 80 bpm").getByText("changed").waitFor();

    const hit = noteRow(page, /note 26/i, 108);
    await hit.dblclick();
    await sheet.getByLabel("Place, bar:beat:tick").fill("1:1:40");
    await sheet.getByLabel("Velocity").fill("64");
    await sheet.getByRole("button", { name: "Take" }).click();
    await noteRow(page, /note 26/i, 64).click();
    await page.getByRole("link", { name: "Show on the Bench" }).click();
    await page.getByRole("status", { name: "Selection" }).getByText("1 note 26 hit selected at 1:1:40").waitFor();
    await page.getByText("80 bpm").waitFor();
    await page.getByRole("link", { name: "its message" }).click();
    await picked(page).getByText("1 message selected").waitFor();
    await noteRow(page, /note 26/i, 64).waitFor();
    await expect.poll(() => noteRow(page, /note 26/i, 64).getAttribute("aria-selected")).toBe("true");
  });

  it("is what will be written: cleaned beside recorded, what was drawn, and how long notes last", async () => {
    const page = await pages.open();
    await importBytes(
      page,
      "Written.mid",
      fileOf([
        [38, 0, 100],
        [38, 490, 60],
        [38, 960, 90],
        [49, 3 * 1920, 100],
      ]),
    );
    await page.keyboard.press("t");
    const card = page.getByRole("complementary", { name: "Lane card" });
    await card.getByRole("button", { name: "Lane menu" }).click();
    const lengths = page.getByRole("region", { name: "Note lengths" });
    await lengths.getByRole("button", { name: /^Note lengths: as recorded/ }).click();
    await page.getByRole("menuitemradio", { name: "fixed", exact: true }).click();
    await lengths.getByRole("button", { name: "Length: 60 ms" }).click();
    const length = page.getByRole("textbox", { name: "Length" });
    await length.fill("30 whole");
    await page.keyboard.press("Enter");
    await page.getByRole("alert").getByText("“30 whole” is not a number of ms.").waitFor();
    // 24 ticks of 480 to a quarter are 25 ms at 120 bpm.
    await length.fill("24 ticks");
    await page.keyboard.press("Enter");
    await lengths.getByRole("button", { name: "Length: 25 ms" }).waitFor();
    await page.keyboard.press("Escape");
    await page.keyboard.press("Control+a");
    await page.keyboard.press("Control+c");
    await page.getByText("Copied 3 hits.").waitFor();
    await page.keyboard.press("Control+ArrowRight");
    await page.keyboard.press("Control+v");
    await page.getByText(/^Pasted/).waitFor();
    await goToScreen(page, "Messages");
    await page.getByRole("table", { name: "Messages of the take" }).waitFor();
    const moved = noteRow(page, "Snare, note 38", 60);
    await moved.getByRole("cell", { name: "1:2:2", exact: true }).waitFor();
    await moved.getByRole("cell", { name: "1:2:10, 60" }).waitFor();
    await moved.getByRole("cell", { name: "24 ticks" }).waitFor();
    await expect
      .poll(() => page.getByRole("row").filter({ hasText: "Snare, note 38" }).filter({ hasText: "added" }).count())
      .toBe(3);
    const listed = await page.getByRole("row").count();
    await goToScreen(page, "Bench");
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    const written = messagesOf((await exportBytes(page)).bytes);
    // All that is listed under the head, and nothing else.
    expect(written).toHaveLength(listed - 1);
    const snares = written.filter((one) => one.kind === "channel");
    expect(snares.slice(0, 6).map(({ tick }) => tick)).toEqual([0, 24, 482, 506, 960, 984]);
  });

  it("is worked by keys: go through, grow, take out", async () => {
    const page = await pages.open();
    await openMessages(page, "Keys", deck);
    for (let turn = 0; turn < 7; turn++) await page.keyboard.press("ArrowDown");
    await picked(page).getByText("1 message selected").waitFor();
    await page.keyboard.press("Shift+ArrowDown");
    await page.keyboard.press("Shift+ArrowDown");
    await picked(page).getByText("3 messages selected").waitFor();
    await page.keyboard.press("Shift+ArrowUp");
    await picked(page).getByText("2 messages selected").waitFor();
    await page.keyboard.press("Control+a");
    await picked(page).getByText("669 messages selected").waitFor();
    await page.keyboard.press("Escape");
    await picked(page)
      .getByText(/^Nothing selected/)
      .waitFor();
    await page.keyboard.press("End");
    await page.keyboard.press("Delete");
    await page.getByText("The end of a track stays.").waitFor();
  });

  it("is saved as CSV, and follows what plays", async () => {
    const page = await pages.open();
    await openMessages(page, "Save", deck);
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("button", { name: "Save as CSV" }).click(),
    ]);
    const lines = readFileSync((await download.path())!, "utf8")
      .trim()
      .split("\r\n");
    expect(lines).toHaveLength(670);
    expect(lines[0]).toBe(
      "place,ms,track,channel,kind,what it says,velocity,length in ticks,recorded place,recorded velocity,bytes",
    );
    expect(lines).toContain("1:1:0,0,1,,tempo and meter,Tempo 96 bpm,,,,,FF 51 09 89 68");
    await page.getByRole("button", { name: "Play", exact: true }).click();
    await expect.poll(() => rowWith(page, "Track name: Kit").count()).toBe(0);
    await page.getByRole("button", { name: "Stop" }).click();
  });

  it("stays smooth at 200,000 messages", async () => {
    const page = await pages.open();
    const kit: MidiMessage[] = [];
    for (let index = 0; index < 100_000; index++) {
      const tick = index * 30;
      kit.push({ kind: "channel", tick, status: 0x99, data1: [36, 42, 38, 42][index % 4]!, data2: 60 + (index % 60) });
      kit.push({ kind: "channel", tick: tick + 10, status: 0x89, data1: [36, 42, 38, 42][index % 4]!, data2: 64 });
    }
    const file = {
      format: 0 as const,
      division: { kind: "ppq" as const, ppq: 480 },
      unknownChunks: [],
      headerExtra: new Uint8Array(0),
    };
    await openMessages(page, "Long", writeMidiFile({ ...file, tracks: [{ messages: kit }] }));
    await page.getByText("200,001 of 200,001 messages").waitFor({ timeout: 120_000 });
    const scroller = page.getByRole("table", { name: "Messages of the take" }).locator("[tabindex='0']");
    const rows = await scroller.evaluate(async (element) => {
      let most = 0;
      for (let step = 1; step <= 20; step++) {
        element.scrollTop = (element.scrollHeight / 20) * step;
        await new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve)));
        most = Math.max(most, document.querySelectorAll("[role=row]").length);
      }
      return most;
    });
    // Only what is in view is laid out, wherever one is.
    expect(rows).toBeLessThan(80);
    await rowWith(page, "End of the track").waitFor();
  });
});
