import { readFileSync } from "node:fs";
import { unzipSync } from "fflate";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { META, type MidiMessage, readMidiFile, readText, writeMidiFile, writeText } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { goToScreen, importBytes } from "./browser-tools.ts";
import { baseUrl } from "./own-server.ts";
import { fileOf, type Struck } from "./small-take.ts";

const pages = usePages();
const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));
const BAR = 1920;
const SNARE = 38;

const matrix = (page: Page) => page.getByRole("table", { name: "Patterns and voices" });
const cell = (page: Page, words: string) => matrix(page).getByRole("button", { name: new RegExp(`^${words}:`) });
const card = (page: Page) => page.getByRole("complementary", { name: "Settings of the selection" });
const row = (page: Page) => page.getByRole("list", { name: "Order of the song" });
const blocks = (page: Page) =>
  row(page)
    .getByRole("listitem")
    .evaluateAll((items) => items.map((item) => item.querySelector("strong")?.textContent));
const heads = (page: Page) =>
  matrix(page)
    .getByRole("rowheader")
    .evaluateAll((items) => items.map((item) => item.querySelector("strong")?.textContent));

async function openSong(page: Page, name: string, bytes: Uint8Array = ferry) {
  await importBytes(page, name, bytes);
  await goToScreen(page, "Song");
  await page.getByText("This take is not split yet").waitFor();
}

/** Sixteen bars of which each is as the one before. */
const ALL_ALIKE = fileOf(
  Array.from({ length: 16 }, (_, bar): readonly Struck[] => [
    [36, bar * BAR, 100],
    [38, bar * BAR + 480, 96],
    [36, bar * BAR + 960, 98],
    [38, bar * BAR + 1440, 94],
  ]).flat(),
  16,
);

async function cutByRepeats(page: Page) {
  await page.getByRole("button", { name: "Split by repeats" }).click();
  await page.getByText("Split the take into 6 patterns. The take stays whole.").waitFor();
  await cell(page, "Snare in Part A 1").locator("circle").first().waitFor();
}

async function type(page: Page, label: RegExp, value: string) {
  await card(page).getByRole("button", { name: label }).click();
  await page.getByRole("textbox").last().fill(value);
  await page.keyboard.press("Enter");
}

async function save(page: Page, button: RegExp): Promise<{ name: string; bytes: Uint8Array }> {
  await page.getByRole("button", { name: "Export", exact: true }).click();
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: button }).click(),
  ]);
  return { name: download.suggestedFilename(), bytes: new Uint8Array(readFileSync((await download.path())!)) };
}

const tracksOf = (bytes: Uint8Array) => readMidiFile(bytes).file.tracks.map(({ messages }) => messages);
const markersOf = (messages: readonly MidiMessage[]) =>
  messages.flatMap((one) => (one.kind === "meta" && one.metaType === META.marker ? [readText(one.data)] : []));
const notesOf = (bytes: Uint8Array, note: number) =>
  tracksOf(bytes)
    .flat()
    .flatMap((one) =>
      one.kind === "channel" && (one.status & 0xf0) === 0x90 && one.data2 > 0 && one.data1 === note ? [one.tick] : [],
    );

describe("a take that is one pattern throughout", () => {
  it("is offered to be split every four bars instead", async () => {
    const page = await pages.open();
    await openSong(page, "All alike.mid", ALL_ALIKE);
    await page.keyboard.press("Space");
    await page.getByText("There is no song to play yet: split the take into patterns first.").waitFor();
    await page.getByRole("button", { name: "Split by repeats" }).click();
    await page.getByText("All of it is played alike, so that it is one pattern.").waitFor();
    await page.getByRole("button", { name: "Split every 4 bars" }).click();
    await page.getByText("Split the take into 4 patterns. The take stays whole.").waitFor();
    await page.keyboard.press("Space");
    await page.getByRole("button", { name: "Stop" }).waitFor();
  });
});

describe("a song", () => {
  it("is cut from a take by what repeats, named, put in order, repeated, muted, and written with markers", async () => {
    const page = await pages.open();
    await openSong(page, "Cut.mid");
    await cutByRepeats(page);
    await expect
      .poll(() => heads(page))
      .toEqual(["Part A 1", "Part B 1", "Part A 2", "Part B 2", "Part A 3", "Part B 3"]);
    await expect.poll(() => blocks(page)).toEqual(await heads(page));
    const whole = await save(page, /One file/);
    expect(whole.name).toBe("Cut song.mid");
    expect(markersOf(tracksOf(whole.bytes)[0]!)).toEqual(await heads(page));
    // The song of a take that was only cut plays what the take plays.
    const taken = tracksOf(ferry)[1]!.flatMap((one) =>
      one.kind === "channel" && one.status === 0x99 && one.data2 > 0 && one.data1 === SNARE ? [one.tick] : [],
    );
    expect(notesOf(whole.bytes, SNARE)).toEqual(taken);

    // A verse under its own name, twice, without its hats, and the first chorus silent.
    await cell(page, "Snare in Part A 1").click();
    await card(page).getByRole("button", { name: "Part A 1", exact: true }).click();
    await page.getByRole("textbox", { name: "Name of the pattern" }).fill("Verse");
    await page.keyboard.press("Enter");
    await card(page).getByRole("radio", { name: "rose" }).click();
    await row(page).getByText("Verse").click();
    const entry = page.getByRole("dialog", { name: "Verse in the song" });
    await entry.getByRole("button", { name: /^Times in a row/ }).click();
    await page.getByRole("textbox").last().fill("2");
    await page.keyboard.press("Enter");
    await entry.getByRole("checkbox", { name: "Hi-hat" }).click();
    await page.keyboard.press("Escape");
    await row(page).getByText("2 × 8 bars, 1 voice muted").waitFor();
    await row(page).getByText("Part B 1").click();
    await page.getByRole("switch", { name: "Mute Part B 1 here" }).click();
    await page.keyboard.press("Escape");
    const { bytes } = await save(page, /One file/);
    expect(markersOf(tracksOf(bytes)[0]!).slice(0, 4)).toEqual(["Verse", "Verse", "Part B 1 (muted)", "Part A 2"]);
    const snares = notesOf(bytes, SNARE);
    const inBars = (from: number, to: number) =>
      snares.filter((tick) => tick >= from * BAR - 60 && tick < to * BAR - 60).map((tick) => tick - from * BAR);
    expect(inBars(8, 16)).toEqual(inBars(0, 8));
    expect(inBars(16, 24)).toEqual([]);
    expect(notesOf(bytes, 42).filter((tick) => tick < 16 * BAR - 60)).toEqual([]);
    const archive = unzipSync((await save(page, /A file for each of 6 patterns/)).bytes);
    expect(Object.keys(archive)).toEqual([
      "01 Verse.mid",
      "02 Part B 1.mid",
      "03 Part A 2.mid",
      "04 Part B 2.mid",
      "05 Part A 3.mid",
      "06 Part B 3.mid",
    ]);
    expect(notesOf(archive["01 Verse.mid"]!, SNARE)).toEqual(inBars(0, 8).map((tick) => Math.max(0, tick)));

    // All of it is there after a reload, and undone step by step.
    await page.getByText("Saved", { exact: true }).waitFor();
    await page.reload();
    await row(page).getByText("2 × 8 bars, 1 voice muted").waitFor();
    for (let step = 0; step < 4; step++) await page.getByRole("button", { name: "Undo" }).first().click();
    await row(page).getByText("Verse").waitFor();
    await expect.poll(() => row(page).getByText("muted").count()).toBe(0);
  });

  it("is cut at any bar line by pointer and by key, and joined again there", async () => {
    const page = await pages.open();
    await openSong(page, "By hand.mid");
    const strip = page.getByRole("slider", { name: "Bar line to cut at" });
    const box = (await strip.boundingBox())!;
    await page.mouse.click(box.x + (box.width * 12) / 48, box.y + box.height / 2);
    await expect.poll(() => heads(page)).toEqual(["Bars 1 to 12", "Bars 13 to 48"]);
    await strip.focus();
    await page.keyboard.press("Home");
    for (let step = 0; step < 3; step++) await page.keyboard.press("ArrowRight");
    await expect.poll(() => strip.getAttribute("aria-valuetext")).toBe("before bar 5, whole; Enter cuts");
    await page.keyboard.press("Enter");
    await expect.poll(() => heads(page)).toEqual(["Bars 1 to 4", "Bars 5 to 12", "Bars 13 to 48"]);
    await expect.poll(() => strip.getAttribute("aria-valuetext")).toBe("before bar 5, cut; Enter joins");
    await page.keyboard.press("Enter");
    await expect.poll(() => heads(page)).toEqual(["Bars 1 to 12", "Bars 13 to 48"]);
    await expect.poll(() => blocks(page)).toEqual(["Bars 1 to 12", "Bars 13 to 48"]);
    await page.getByRole("button", { name: "Split every", exact: true }).click();
    await expect.poll(async () => (await heads(page)).length).toBe(12);
  });

  it("is cut at the markers of the file, and its patterns are called so", async () => {
    const page = await pages.open();
    const { file } = readMidiFile(ferry);
    const [first, ...rest] = file.tracks;
    // The second is a little ahead of its bar line, as markers that are set by hand are.
    const marked = [
      [0, "Verse"],
      [8 * BAR - 30, "Chorus"],
      [16 * BAR, "Verse"],
    ].map(([tick, text]): MidiMessage => {
      return { kind: "meta", tick: Number(tick), metaType: META.marker, data: writeText(String(text)) };
    });
    const ended = first!.messages.map((one, index, { length }) =>
      index + 1 < length ? one : { ...one, tick: 16 * BAR },
    );
    const messages = [...marked, ...ended].sort((a, b) => a.tick - b.tick);
    await openSong(page, "Marked.mid", writeMidiFile({ ...file, tracks: [{ messages }, ...rest] }));
    await page.getByRole("button", { name: "Cut at its markers" }).click();
    await expect.poll(() => heads(page)).toEqual(["Verse", "Chorus", "Verse 2"]);
    await expect.poll(() => blocks(page)).toEqual(["Verse", "Chorus", "Verse 2"]);
    await cell(page, "Kick in Verse 2").waitFor();
    await page.getByText("48 bars, 3 places").waitFor();
  });

  it("has patterns whose bars are copied, silenced, taken out, turned, followed, duplicated and joined", async () => {
    const page = await pages.open();
    await openSong(page, "Bars.mid");
    await page.getByRole("button", { name: /^Bars of each pattern/ }).click();
    await page.getByRole("textbox").last().fill("16");
    await page.keyboard.press("Enter");
    await page.getByRole("button", { name: "Split every", exact: true }).click();
    await cell(page, "Kick in Bars 1 to 16").click();
    const press = (name: string | RegExp) =>
      card(page)
        .getByRole("button", { name, exact: typeof name === "string" })
        .click();
    await press("repeat bar");
    await card(page).getByText("Bars 1, 1 to 16 of the take").waitFor();
    await press("insert silent bar");
    await card(page).getByText("A silent bar, then bars 1, 1 to 16 of the take").waitFor();
    await press("remove bar");
    await press("remove bar");
    await card(page).getByText("Bars 1 to 16 of the take").waitFor();
    await press("Rotate by a quarter");
    await card(page).getByText("rotated by 1 quarter").waitFor();
    await press("Rotate back");
    await press(/^Length of the pattern/);
    await page.getByRole("textbox").last().fill("2");
    await page.keyboard.press("Enter");
    await card(page).getByText("Bars 1 to 2 of the take").waitFor();
    await press("Duplicate");
    await expect
      .poll(() => heads(page))
      .toEqual(["Bars 1 to 16", "Bars 1 to 16 (2)", "Bars 17 to 32", "Bars 33 to 48"]);
    await press("Join with Bars 1 to 16 (2)");
    // The song plays them one behind the other, so nothing of the two is left beside what was joined.
    await expect.poll(() => heads(page)).toEqual(["Bars 1 to 16", "Bars 17 to 32", "Bars 33 to 48"]);
    await cell(page, "Kick in Bars 33 to 48").click();
    await press(/^Settings from/);
    await page.getByRole("menuitemradio", { name: "Bars 17 to 32" }).click();
    await cell(page, "Kick in Bars 17 to 32").click();
    await type(page, /^Push/, "12");
    await matrix(page).getByRole("button", { name: "Kick in Bars 33 to 48: no groove, 12 ms behind" }).waitFor();
    await matrix(page).getByText("as Bars 17 to 32").waitFor();
    await cell(page, "Kick in Bars 17 to 32").click();
    await press("Remove");
    await expect.poll(async () => (await heads(page)).length).toBe(2);
    await page.getByText("The take keeps its bars.").waitFor();
    await page.getByRole("button", { name: "Undo", exact: true }).last().click();
    await expect.poll(async () => (await heads(page)).length).toBe(3);
  });

  it("has one feel: a groove is taken from a verse, laid on all, leaned, and compared", async () => {
    const page = await pages.open();
    await openSong(page, "Feel song.mid");
    await cutByRepeats(page);
    // By key: from the verse's hats to its snare.
    await cell(page, "Hi-hat in Part A 1").click();
    await page.keyboard.press("Shift+ArrowRight");
    await card(page).getByRole("heading", { name: "2 voices in Part A 1" }).waitFor();
    await card(page).getByRole("button", { name: "Extract groove …" }).click();
    await card(page)
      .getByText(/straight sixteenths; hats \d+ ms ahead; snare \d+ ms behind/)
      .waitFor();
    await card(page).getByRole("textbox", { name: "Name of the groove" }).fill("The verse");
    await card(page).getByRole("button", { name: "Extract", exact: true }).click();
    await page.getByText("“The verse” is on the shelf.").waitFor();
    await matrix(page)
      .getByRole("button", { name: "Snare in Part A 1: The verse, timing 100 %, loudness 60 %" })
      .waitFor();

    // On everything, pulled to the grid first: every pattern sits as the verse does.
    await matrix(page).getByRole("button", { name: "All cells" }).click();
    await card(page).getByRole("heading", { name: "All voices in all patterns" }).waitFor();
    await card(page)
      .getByRole("button", { name: /^Groove of the cells/ })
      .click();
    await page
      .getByRole("menuitemradio", { name: /^The verse/ })
      .last()
      .click();
    await type(page, /^Pull/, "100");
    const apart = async (voice: string) => {
      const head = matrix(page).getByRole("columnheader", { name: new RegExp(`^${voice}`) });
      const [recorded, cleaned] = (await head.textContent())!.matchAll(/(\d+\.\d)(?= →| ms)/g);
      return { recorded: Number(recorded![1]), cleaned: Number(cleaned![1]) };
    };
    await expect.poll(async () => (await apart("Snare")).cleaned).toBeLessThan(1);
    expect((await apart("Snare")).recorded).toBeGreaterThan(5);
    expect((await apart("Hi-hat")).cleaned).toBeLessThan(1);

    // The snare of the second chorus leans; the others stay.
    const before = (await save(page, /One file/)).bytes;
    await cell(page, "Snare in Part B 2").click();
    await type(page, /^Push/, "-10");
    await matrix(page)
      .getByRole("button", { name: /^Snare in Part B 2: .*10 ms ahead/ })
      .waitFor();
    const after = (await save(page, /One file/)).bytes;
    const shifts = notesOf(after, SNARE).map((tick, index) => [tick, tick - notesOf(before, SNARE)[index]!] as const);
    // 10 ms at 92 bpm are 7.4 ticks.
    for (const [tick, shift] of shifts) {
      const isInside = tick > 24 * BAR - 40 && tick < 32 * BAR - 60;
      expect(isInside ? shift : Math.abs(shift)).toBeCloseTo(isInside ? -7.4 : 0, -0.4);
    }
    expect(notesOf(after, 42)).toEqual(notesOf(before, 42));

    // Two patterns over one another, the three sides, and two sets of settings.
    await cell(page, "Snare in Part B 2").click();
    await page.keyboard.press("Shift+ArrowUp");
    await card(page).getByRole("img", { name: "How it sits in Part A 2, Part B 2" }).waitFor();
    for (const [key, name] of [
      ["[", "Recorded"],
      ["\\", "No groove"],
      ["]", "Cleaned"],
    ] as const) {
      await page.keyboard.press(key);
      await expect.poll(() => page.getByRole("radio", { name, exact: true }).getAttribute("aria-checked")).toBe("true");
    }
    await page.keyboard.press("`");
    await page.getByText("All settings are kept as A.").waitFor();
    await matrix(page).getByRole("button", { name: "All cells" }).click();
    await page.keyboard.press("Delete");
    await matrix(page).getByRole("button", { name: "Snare in Part A 1: no groove, as the take" }).waitFor();
    await page.keyboard.press("`");
    await matrix(page)
      .getByRole("button", { name: /^Snare in Part A 1: The verse/ })
      .waitFor();
    await page.keyboard.press("`");
    await matrix(page).getByRole("button", { name: "Snare in Part A 1: no groove, as the take" }).waitFor();
  });

  it("is opened on the Bench pattern by pattern: what is set there is the pattern's own", async () => {
    const page = await pages.open();
    await openSong(page, "Own settings.mid");
    await cutByRepeats(page);
    await cell(page, "Snare in Part B 1").click();
    await card(page).getByRole("link", { name: "All its settings on the Bench" }).click();
    const lane = page.getByRole("complementary", { name: "Lane card" });
    await lane.getByRole("button", { name: "Settings of: Part B 1" }).waitFor();
    await page.getByText("9:1").first().waitFor();
    await lane.getByRole("switch", { name: "Quantize" }).click();
    await lane.getByRole("button", { name: /^Strength/ }).click();
    await page.getByRole("textbox").fill("100");
    await page.keyboard.press("Enter");
    await page.getByText("Saved", { exact: true }).waitFor();
    await lane.getByRole("button", { name: "Settings of: Part B 1" }).click();
    await page.getByRole("menuitemradio", { name: "the whole take" }).click();
    const timing = lane.getByRole("switch", { name: "Quantize" });
    await expect.poll(() => timing.getAttribute("aria-checked")).toBe("false");
    await goToScreen(page, "Song");
    await matrix(page).getByRole("button", { name: "Snare in Part B 1: no groove, quantized 100 %" }).waitFor();
    await matrix(page).getByRole("button", { name: "Snare in Part B 2: no groove, as the take" }).waitFor();
    const snares = notesOf((await save(page, /One file/)).bytes, SNARE);
    const onGrid = (from: number, to: number) => {
      const inside = snares.filter((tick) => tick >= from * BAR - 60 && tick < to * BAR - 60);
      return inside.filter((tick) => tick % 120 === 0).length / inside.length;
    };
    expect(onGrid(8, 15)).toBeGreaterThan(0.9);
    expect(onGrid(0, 7)).toBeLessThan(0.2);
    expect(onGrid(24, 31)).toBeLessThan(0.2);
  });

  it("is heard on one clock: the song, or one pattern over and over", async () => {
    const page = await pages.open();
    await openSong(page, "Heard.mid");
    await cutByRepeats(page);
    const place = page.getByTestId("song-place");
    await page.keyboard.press("Space");
    await expect.poll(() => place.textContent()).toMatch(/^(?!1:1 )\d+:\d Part A 1$/);
    await expect.poll(() => row(page).locator("[data-sounds]").count()).toBe(1);
    await page.keyboard.press("\\");
    await page.getByRole("button", { name: "Stop" }).click();
    await cell(page, "Snare in Part B 1").click();
    await card(page).getByRole("button", { name: "Loop" }).click();
    await page.getByText("Part B 1 over and over").waitFor();
    await expect.poll(() => place.textContent()).toMatch(/^(?!1:1 )\d+:\d Part B 1$/);
    await page.getByRole("button", { name: "or the song" }).click();
    await page.getByText("plays the song").waitFor();
  });

  it("of a take that is not cut is refused with what to do, and so is a pattern that is not there", async () => {
    const page = await pages.open();
    await openSong(page, "Uncut.mid");
    await expect.poll(() => page.getByRole("button", { name: "Export", exact: true }).isDisabled()).toBe(true);
    const id = page.url().split("/").at(-1);
    for (const query of ["", "?pattern=none", "?form=each"]) {
      const answer = await page.request.get(`${baseUrl()}/api/projects/${id}/song${query}`);
      expect(answer.status()).toBe(404);
      expect((await answer.json()).problem.remedy).toContain("Cut it into patterns");
    }
  });
});
