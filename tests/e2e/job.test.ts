import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { type MidiMessage, readMidiFile, writeMidiFile } from "../../src/core/smf/index.ts";
import { pressBriefly } from "./a-hand.ts";
import { usePages } from "./browser.ts";
import { exportBytes, finsOf, importBytes, keptView, openProject, twoFrames } from "./browser-tools.ts";

const pages = usePages();
const moth = new Uint8Array(readFileSync("demo/moth-parade.mid"));
const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));

const kitOf = (bytes: Uint8Array) => readMidiFile(bytes).file.tracks[1]!.messages;
const noteOns = (messages: readonly MidiMessage[], key?: number) =>
  messages.flatMap((one) =>
    one.kind === "channel" && one.status === 0x99 && one.data2 > 0 && (key === undefined || one.data1 === key)
      ? [one]
      : [],
  );
const selection = (page: Page) => page.getByRole("status", { name: "Selection" });
const headOf = (page: Page, name: string) => page.getByRole("button", { name: new RegExp(`^${name}\\b`) }).first();

describe("the whole job", () => {
  it("goes from a dropped file over a tightened voice to a file with only that voice moved", async () => {
    const page = await pages.open();
    await page.getByRole("heading", { name: "Drop a recording here" }).waitFor();
    await importBytes(page, "My moths.mid", moth);

    // One named lane for each voice, with how it was played.
    for (const name of ["China", "Crash", "Ride", "Hi-hat", "Snare", "Kick", "Hand clap"])
      await headOf(page, name).waitFor();
    await page.getByText("1,653 hits on 7 drums").waitFor();
    await page.getByText("eighths, on the line").waitFor();

    // Choose the snare's timing: grid by name, strength by typing.
    const card = page.getByRole("complementary", { name: "Lane card" });
    await card.getByRole("radio", { name: "quarters, fits 100 %, best" }).waitFor();
    await card.getByRole("button", { name: "Also: thirty-seconds in 5 places" }).waitFor();
    await card.getByText(/^recorded \d+ ms late ± \d+$/).waitFor();
    await card.getByRole("switch", { name: "Quantize" }).click();
    await card.getByText(/^now /).waitFor();
    await card.getByRole("button", { name: /^Strength/ }).click();
    await page.getByRole("textbox").fill("100");
    await page.keyboard.press("Enter");
    await card.getByRole("button", { name: "Strength: 100 %" }).waitFor();
    await card.getByText("now on the slot ± 0").waitFor();

    // Hear it, and flip the side while it plays.
    await page.getByRole("button", { name: "Play", exact: true }).click();
    const place = page.getByTestId("place");
    await expect.poll(() => place.textContent()).not.toBe("1:1");
    await pressBriefly(page, "r");
    await expect.poll(() => page.getByRole("radio", { name: "Recorded" }).getAttribute("aria-checked")).toBe("true");
    const before = await place.textContent();
    await expect.poll(() => place.textContent()).not.toBe(before);
    await pressBriefly(page, "r");
    await page.getByRole("button", { name: "Stop" }).click();

    // Undo the strength, redo it, and find everything after a reload.
    await page.getByRole("button", { name: "Undo" }).first().click();
    await card.getByRole("button", { name: "Strength: 80 %" }).waitFor();
    await page.keyboard.press("Control+Shift+z");
    await card.getByRole("button", { name: "Strength: 100 %" }).waitFor();
    await page.getByText("Saved", { exact: true }).waitFor();
    await page.reload();
    await card.getByRole("button", { name: "Strength: 100 %" }).waitFor();
    await expect
      .poll(() => page.getByRole("button", { name: "Undo" }).first().getAttribute("aria-disabled"))
      .toBe("false");
    await page.keyboard.press("Control+z");
    await card.getByRole("button", { name: "Strength: 80 %" }).waitFor();
    await page.keyboard.press("Control+y");
    await card.getByRole("button", { name: "Strength: 100 %" }).waitFor();

    // Out again: the same messages, except the moved snare hits.
    const { name, bytes } = await exportBytes(page);
    expect(name).toBe("My moths cleaned.mid");
    const [recorded, cleaned] = [kitOf(moth), kitOf(bytes)];
    const others = (messages: readonly MidiMessage[]) =>
      messages.filter((one) => one.kind !== "channel" || one.status === 0xb9 || one.data1 !== 38);
    const sorted = (messages: readonly MidiMessage[]) => messages.map((one) => JSON.stringify(one)).sort();
    expect(sorted(others(cleaned))).toEqual(sorted(others(recorded)));
    const [before38, after38] = [noteOns(recorded, 38), noteOns(cleaned, 38)];
    expect(after38.map((one) => one.data2)).toEqual(before38.map((one) => one.data2));
    const onGrid = after38.filter((one) => one.tick % 60 === 0).length;
    expect(onGrid / after38.length).toBeGreaterThan(0.95);
    expect(before38.filter((one) => one.tick % 60 === 0).length / before38.length).toBeLessThan(0.2);
    expect(readMidiFile(bytes).file.tracks[0]).toEqual(readMidiFile(moth).file.tracks[0]);
  });

  it("gives back an untouched take byte for byte", async () => {
    const page = await pages.open();
    await importBytes(page, "Untouched.mid", ferry);
    const { bytes } = await exportBytes(page);
    expect(Buffer.compare(bytes, ferry)).toBe(0);
  });

  it("quantizes every voice at once, each on its own grid, as one step", async () => {
    const page = await pages.open();
    await importBytes(page, "All.mid", ferry);
    await page.getByText("eighths, 5 ms early").waitFor();
    await page.keyboard.press("Shift+T");
    await page.getByText("Quantized 7 voices, each on its own grid.").waitFor();
    const { bytes } = await exportBytes(page);
    const moved = noteOns(kitOf(bytes)).filter((one, index) => one.tick !== noteOns(kitOf(ferry))[index]!.tick);
    expect(moved.length).toBeGreaterThan(600);
    await page.getByRole("button", { name: "Undo" }).first().click();
    expect(Buffer.compare((await exportBytes(page)).bytes, ferry)).toBe(0);
    // What is said after the import offers the same, as long as nobody has begun.
    const note = page.getByRole("region", { name: "What was imported" });
    await note.getByRole("button", { name: "Quantize each on its own grid" }).click();
    await note.getByRole("button", { name: "Quantize each on its own grid" }).waitFor({ state: "hidden" });
    expect(Buffer.compare((await exportBytes(page)).bytes, bytes)).toBe(0);
  });
});

describe("exporting", () => {
  it("shows what will be written, and writes a track for each drum when asked", async () => {
    const page = await pages.open();
    await importBytes(page, "Tracks out.mid", ferry);
    await page.getByText("eighths, 5 ms early").waitFor();
    await page.getByRole("button", { name: "Export", exact: true }).click();
    const sheet = page.getByRole("dialog", { name: "Export" });
    await sheet.getByText("Nothing has been changed: this is the recording.").waitFor();
    await sheet
      .getByRole("row", { name: /^Hi-hat notes 42 \(179\), 44 \(\d+\), 46 \(\d+\), channel 10 230 0$/ })
      .waitFor();
    await page.keyboard.press("Escape");
    await page.keyboard.press("t");
    const { bytes } = await exportBytes(page, "A track for each drum");
    const { tracks } = readMidiFile(bytes).file;
    expect(tracks).toHaveLength(3 + 7);
    expect(tracks[2]).toEqual(readMidiFile(ferry).file.tracks[2]);
    expect(tracks.slice(3).map(({ messages }) => noteOns(messages).length)).toEqual([4, 165, 230, 246, 5, 10, 195]);
    expect(noteOns(tracks[1]!.messages)).toEqual([]);
    // The choice is remembered.
    await page.getByRole("button", { name: "Export", exact: true }).click();
    await expect
      .poll(() => page.getByRole("radio", { name: "A track for each drum" }).getAttribute("aria-checked"))
      .toBe("true");
  });
});

describe("on the Bench", () => {
  it("picks, moves, shapes, pins and removes hits by pointer and keys", async () => {
    const page = await pages.open();
    await importBytes(page, "Hands.mid", ferry);
    await page.getByText("sixteenths").first().waitFor();
    const box = (await finsOf(page).boundingBox())!;

    // Drag around everything: the selection is said in numbers.
    await page.mouse.move(box.x + 2, box.y + 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width - 4, box.y + 600, { steps: 6 });
    await page.mouse.up();
    await expect
      .poll(() => selection(page).textContent())
      .toMatch(/^\d\d hits selected velocity \d+ – \d+, \d+ ms (early|late) on average/);
    await page.keyboard.press("Escape");
    await expect.poll(() => selection(page).textContent()).toBe("Nothing selected");

    // By keys: the first snare hit, later, louder.
    await page.keyboard.press("n");
    await expect.poll(() => selection(page).textContent()).toMatch(/^1 snare hit selected/);
    const first = noteOns(kitOf(ferry), 38)[0]!;
    await page.keyboard.press("ArrowRight");
    await page.keyboard.press("ArrowUp");
    let snare = noteOns(kitOf((await exportBytes(page)).bytes), 38)[0]!;
    expect(snare.tick).toBe(first.tick + 1); // 2 ms at 92 bpm are 1.5 ticks
    expect(snare.data2).toBe(first.data2 + 4);
    await page.keyboard.press("Shift+ArrowRight");
    snare = noteOns(kitOf((await exportBytes(page)).bytes), 38)[0]!;
    expect(snare.tick).toBe(first.tick + 121);

    // Unpin gives the time back; the loudness stays by hand.
    await page.keyboard.press("Shift+p");
    snare = noteOns(kitOf((await exportBytes(page)).bytes), 38)[0]!;
    expect([snare.tick, snare.data2]).toEqual([first.tick, first.data2 + 4]);

    // By pointer: drag a kick to the right, and it is said where it lands.
    const kickY = box.y + (await kickBase(page)) - box.y - 6;
    await page.mouse.move(box.x + 15, kickY);
    await page.mouse.down();
    await page.mouse.move(box.x + 35, kickY, { steps: 4 });
    await page.getByText(/^1:1:\d+, \d+ ms (late|early)$/).waitFor();
    await page.mouse.up();
    await expect.poll(() => selection(page).textContent()).toMatch(/^1 kick hit selected/);
    const kick = noteOns(kitOf((await exportBytes(page)).bytes), 36)[0]!;
    expect(kick.tick).toBeGreaterThan(noteOns(kitOf(ferry), 36)[0]!.tick + 20);

    // Remove it, and bring it back.
    await page.keyboard.press("Delete");
    await page.getByText("Removed 1 hit.").waitFor();
    expect(noteOns(kitOf((await exportBytes(page)).bytes))).toHaveLength(854);
    await page.keyboard.press("Control+z");
    expect(noteOns(kitOf((await exportBytes(page)).bytes))).toHaveLength(855);
  });

  async function kickBase(page: Page): Promise<number> {
    const head = (await headOf(page, "Kick").boundingBox())!;
    return head.y + head.height - 11;
  }

  it("opens lanes, mutes and solos, loops, zooms and keeps all that over a reload", async () => {
    const page = await pages.open();
    await openProject(page, "Tin Orchard");
    await page.getByText("eighth triplets").first().waitFor();
    await headOf(page, "Ride").click();
    await page.getByRole("heading", { name: "Ride 288 hits" }).waitFor();
    await page.keyboard.press("m");
    await expect.poll(() => page.getByRole("button", { name: "Mute Ride" }).getAttribute("aria-pressed")).toBe("true");
    await page.keyboard.press("s");
    await page.keyboard.press("l");
    await page.getByRole("button", { name: /^bars 1 – [34]$/ }).waitFor();
    await page.keyboard.press("k");
    await page.getByRole("button", { name: "off", exact: true }).waitFor();
    await page.keyboard.press("0");
    await page.reload();
    await page.getByRole("heading", { name: "Ride 288 hits" }).waitFor();
    await expect.poll(() => page.getByRole("button", { name: "Solo Ride" }).getAttribute("aria-pressed")).toBe("true");
    await page.getByRole("button", { name: /^bars 1 – [34]$/ }).waitFor();
  });

  it("names a note that no map knows, and moves hits to another drum", async () => {
    const page = await pages.open();
    const slack = new Uint8Array(readFileSync("demo/slack-water.mid"));
    await importBytes(page, "Names.mid", slack);
    await headOf(page, "Note 22").click();
    const card = page.getByRole("complementary", { name: "Lane card" });
    await card.getByRole("button", { name: "Lane menu" }).click();
    await page.getByRole("button", { name: "Note 22 is heard as: unmapped" }).click();
    await page.getByRole("menuitemradio", { name: "Cowbell" }).click();
    await page.getByRole("heading", { name: "Cowbell 4 hits" }).waitFor();
    await expect.poll(() => page.getByRole("button", { name: /^Note 22(?! is heard)/ }).count()).toBe(0);

    // One of its hits goes to the rim of the snare, by key; undo brings it back.
    await page.keyboard.press("n");
    await page.keyboard.press("v");
    await page.getByRole("menuitemradio", { name: "Snare, rim shot" }).click();
    await page.getByRole("heading", { name: "Cowbell 3 hits" }).waitFor();
    await page.getByRole("button", { name: "Played on: Snare, rim shot" }).waitFor();
    await page.keyboard.press("Control+z");
    await page.getByRole("heading", { name: "Cowbell 4 hits" }).waitFor();

    // Names change no note of the file, and stay over a reload.
    expect(Buffer.compare((await exportBytes(page)).bytes, slack)).toBe(0);
    await page.reload();
    await page.getByRole("heading", { name: "Cowbell 4 hits" }).waitFor();
    await card.getByRole("button", { name: "Lane menu" }).click();
    await page.getByRole("button", { name: "Note 22 is heard as: Cowbell" }).waitFor();
  });

  it("guesses the drums of a kit that no map knows, and names what is taken", async () => {
    const page = await pages.open();
    const { file } = readMidiFile(ferry);
    const foreign = (one: MidiMessage) =>
      one.kind === "channel" && one.status >> 4 <= 9 && (one.status & 15) === 9
        ? { ...one, data1: one.data1 + 60 }
        : one;
    await importBytes(
      page,
      "Foreign.mid",
      writeMidiFile({ ...file, tracks: file.tracks.map(({ messages }) => ({ messages: messages.map(foreign) })) }),
    );
    await page.getByText("9 notes are unmapped.").waitFor();
    await page.getByRole("button", { name: "See guesses" }).click();
    const sheet = page.getByRole("dialog", { name: "Notes that need a name" });
    await sheet.getByText(/looks like Snare, centre, \d\d % sure: on 3/).waitFor();
    await sheet.getByRole("button", { name: "Accept the guess for note 98" }).click();
    await sheet.getByRole("button", { name: /^Take \d of 8$/ }).click();
    await page.keyboard.press("Escape");
    for (const name of ["Ride", "Snare", "Kick"]) await headOf(page, name).waitFor();
    await page.keyboard.press("Control+z");
    await page.keyboard.press("Control+z");
    await page.getByText("9 notes are unmapped.").waitFor();
  });

  it("travels by wheel, by the overview and by the ruler", async () => {
    const page = await pages.open();
    await importBytes(page, "Travels.mid", ferry);
    await page.getByText("sixteenths").first().waitFor();
    const view = () => keptView(page);
    const first = await view();
    await finsOf(page).hover({ position: { x: 300, y: 60 } });
    await page.mouse.wheel(400, 0);
    const scrolled = await view();
    expect(scrolled.startTick).toBeGreaterThan(first.startTick + 1000);
    await page.keyboard.down("Control");
    await page.mouse.wheel(0, -300);
    await page.keyboard.up("Control");
    const zoomed = await view();
    expect(zoomed.ticksPerPx).toBeLessThan(scrolled.ticksPerPx * 0.6);
    const tickUnder = (one: { startTick: number; ticksPerPx: number }) => one.startTick + 300 * one.ticksPerPx;
    expect(Math.abs(tickUnder(zoomed) - tickUnder(scrolled))).toBeLessThan(40);

    const overview = (await page.getByRole("region", { name: "Overview" }).boundingBox())!;
    await page.mouse.click(overview.x + overview.width * 0.75, overview.y + 25);
    expect((await view()).startTick).toBeGreaterThan(50_000);

    const ruler = (await page.getByRole("img", { name: /^Bars and beats/ }).boundingBox())!;
    await page.mouse.click(ruler.x + 400, ruler.y + 12);
    await expect.poll(() => page.getByTestId("place").textContent()).toMatch(/^3\d:\d$/);
    await page.mouse.move(ruler.x + 100, ruler.y + 12);
    await page.mouse.down();
    await page.mouse.move(ruler.x + 500, ruler.y + 12, { steps: 4 });
    await page.mouse.up();
    const { loop } = await view();
    expect(loop!.startTick % 480).toBe(0);
    expect(loop!.endTick).toBeGreaterThan(loop!.startTick);
    await page
      .getByRole("contentinfo")
      .getByRole("button", { name: /^(bars? )?3\d/ })
      .waitFor();
  });

  it("shows all keys, changes the theme, and shows a live preview of grids", async () => {
    const page = await pages.open();
    await openProject(page, "Kettle Row");
    await page.keyboard.press("?");
    await page.getByRole("dialog", { name: "Keys" }).getByText("Next hit of this lane").waitFor();
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: "Switch to night" }).click();
    await expect.poll(() => page.locator("html").getAttribute("data-theme")).toBe("night");
    await page.reload();
    await expect.poll(() => page.locator("html").getAttribute("data-theme")).toBe("night");
    const card = page.getByRole("complementary", { name: "Lane card" });
    await card.getByRole("radio", { name: /, best$/ }).waitFor();
    const shown = () => card.getByText(/^now /).count();
    await expect
      .poll(async () => {
        // What was done before comes in a moment after the lanes, and ends what is shown.
        await finsOf(page).hover();
        await card.getByRole("radio", { name: /^quarters/ }).hover();
        await twoFrames(page);
        await twoFrames(page);
        return shown();
      })
      .toBeGreaterThan(0);
    await finsOf(page).hover();
    await card.getByText("Off: as played.").waitFor();
    await expect.poll(shown).toBe(0);
    await card.getByRole("radio", { name: /^eighth triplets/ }).click();
    await card.getByText(/Quantize 80 % to eighth triplets/).waitFor();
    // A grid that was not played is said to be wrong, with the number, and the other one is offered.
    await card.getByText(/of 130 hits lie between eighth triplets.*sixteenths fits/).waitFor();
    await card.getByRole("button", { name: "Use sixteenths" }).click();
    await card.getByRole("radio", { name: /^sixteenths, fits 100 %, best$/, checked: true }).waitFor();
  });

  it("keeps its hands off the other lanes while one is in front", async () => {
    const page = await pages.open();
    await openProject(page, "Moth Parade");
    await page.getByText("thirty-seconds").first().waitFor();
    await page.keyboard.press("f");
    await page.getByText("Snare is in front. The others can be heard, but not changed.").waitFor();
    const box = (await finsOf(page).boundingBox())!;
    await page.mouse.move(box.x + 2, box.y + 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width - 4, box.y + 600, { steps: 4 });
    await page.mouse.up();
    await expect.poll(() => selection(page).textContent()).toMatch(/^\d+ snare hits selected/);
    await page.keyboard.press("f");
    await page.mouse.move(box.x + 2, box.y + 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width - 4, box.y + 600, { steps: 4 });
    await page.mouse.up();
    await expect.poll(() => selection(page).textContent()).toMatch(/^\d+ hits selected/);
  });

  it("lets another track be taken for drums, and back", async () => {
    const page = await pages.open();
    await importBytes(page, "Tracks.mid", ferry);
    await page.getByText("One other track goes out untouched.").waitFor();
    await page.getByRole("button", { name: "Change" }).click();
    await page.getByRole("switch", { name: "Bass is drums" }).click();
    await page.getByText("Bass: 192 hits came to the Bench.").waitFor();
    await page.keyboard.press("Escape");
    await page.getByText("1,047 hits").first().waitFor();
    await headOf(page, "Low tom").waitFor();
    await page.keyboard.press("Control+z");
    await page.getByText("855 hits").first().waitFor();
    expect(Buffer.compare((await exportBytes(page)).bytes, ferry)).toBe(0);
  });
});
