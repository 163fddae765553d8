import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { isNoteOn, META, readMidiFile, writeMidiFile } from "../../src/core/smf/index.ts";
import { withFreeOpening } from "../../src/core/testing/free-opening.ts";
import { buildTempoMap, tickToMs } from "../../src/core/time/index.ts";
import { withoutClick } from "../../src/standin/free-time.ts";
import { NIGHT_FERRY } from "../../src/standin/night-ferry.ts";
import { perform } from "../../src/standin/perform.ts";
import { createRandom } from "../../src/standin/random.ts";
import { usePages } from "./browser.ts";
import { exportBytes, finsOf, goToScreen, importBytes } from "./browser-tools.ts";

const pages = usePages();
const sheet = (page: Page) => page.getByRole("dialog", { name: "Tempo and bars" });
const take = NIGHT_FERRY.find(({ part }) => part.title === "Ferry Lights")!;

/** Ferry Lights, played to no click, or to a steady one that the file does not know. */
function ferryWithoutClick(swayPercent: number) {
  const { file } = perform(take.part, take.habits, createRandom(77));
  return withoutClick(file, take.part, take.habits.ppq, createRandom(5), swayPercent);
}

/** When the notes of a file sound, in ms from the first of them. */
function onsetsMs(bytes: Uint8Array): number[] {
  const { file } = readMidiFile(bytes);
  const ppq = file.division.kind === "ppq" ? file.division.ppq : Number.NaN;
  const map = buildTempoMap(ppq, temposOf(bytes));
  const ms = file.tracks
    .flatMap(({ messages }) => messages)
    .flatMap((one) =>
      one.kind === "channel" && one.status >> 4 === 9 && one.data2 > 0 ? [tickToMs(map, one.tick)] : [],
    )
    .sort((a, b) => a - b);
  return ms.map((one) => one - ms[0]!);
}

function temposOf(bytes: Uint8Array) {
  return readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "meta" && one.metaType === META.tempo
        ? [{ tick: one.tick, usPerQuarter: (one.data[0]! << 16) | (one.data[1]! << 8) | one.data[2]! }]
        : [],
    ),
  );
}

describe("a take that was played to no click", () => {
  it("is noticed, its tempo is found, followed, cleaned on its own beats, and taken back", async () => {
    const page = await pages.open();
    const bytes = writeMidiFile(ferryWithoutClick(5).file);
    await importBytes(page, "Free.mid", bytes);
    const card = page.getByRole("complementary", { name: "Lane card" });
    await card.getByRole("button", { name: "Find its tempo" }).click();
    await sheet(page)
      .getByText(/^It was played freely, from \d+(\.\d)? bpm to \d+(\.\d)? bpm, while the file counts 120 bpm\.$/)
      .waitFor();
    await sheet(page).getByRole("button", { name: "Beats to the bar: 4" }).waitFor();
    await sheet(page).getByRole("button", { name: "Follow it" }).click();
    await page.getByText(/^The take follows its own tempo now, in 4[78] bars/).waitFor();
    // The bars are those of the player, so the hats are eighths again.
    await page.getByRole("button", { name: /^Hi-hat eighths/ }).waitFor();
    const followed = (await exportBytes(page)).bytes;
    expect(temposOf(followed).length).toBeGreaterThan(30);
    const [before, after] = [onsetsMs(bytes), onsetsMs(followed)];
    expect(after).toHaveLength(before.length);
    for (const [index, ms] of before.entries()) expect(Math.abs(after[index]! - ms)).toBeLessThan(2);

    await page.keyboard.press("Shift+T");
    await page.getByText(/^Quantized 7 voices/).waitFor();
    // What was done before is read from the disk after a reload.
    await page.reload();
    await page.getByRole("button", { name: /^Hi-hat 80 % to eighths/ }).waitFor();
    await page.getByRole("button", { name: "Undo", disabled: false }).waitFor();
    await page.keyboard.press("Control+z");
    await page.getByText(/^Undone: Quantize/).waitFor();
    await page.keyboard.press("Control+z");
    await page.getByText("Undone: Follow the tempo as played.").waitFor();
    await expect.poll(async () => temposOf((await exportBytes(page)).bytes)).toEqual(temposOf(bytes));
    expect((await exportBytes(page)).bytes).toEqual(bytes);
  });

  it("is straightened, and given the time of its file back", async () => {
    const page = await pages.open();
    const bytes = writeMidiFile(ferryWithoutClick(5).file);
    await importBytes(page, "Free.mid", bytes);
    await page.getByRole("button", { name: /^Tempo and bars/ }).click();
    await sheet(page)
      .getByRole("button", { name: /^Steady tempo/ })
      .click();
    await page.getByRole("textbox", { name: "Steady tempo" }).fill("90");
    await page.keyboard.press("Enter");
    await sheet(page).getByRole("button", { name: "Straighten it" }).click();
    await page.getByText(/^The take is at a steady 90 bpm now/).waitFor();
    const tempos = temposOf((await exportBytes(page)).bytes);
    expect(tempos).toHaveLength(1);
    expect(60_000_000 / tempos[0]!.usPerQuarter).toBeCloseTo(90, 2);
    await page.keyboard.press("Shift+K");
    await sheet(page).getByRole("button", { name: "Back to the time of the file" }).click();
    await page.getByText("The take is on the time of its file again.").waitFor();
    expect((await exportBytes(page)).bytes).toEqual(bytes);
  });

  it("is corrected at a bar by key and by pointer, counted otherwise, and tapped along", async () => {
    const page = await pages.open();
    await importBytes(page, "Free.mid", writeMidiFile(ferryWithoutClick(3).file));
    await page.keyboard.press("Shift+K");
    const curve = sheet(page).getByRole("application", { name: /^Tempo by bar/ });
    await curve.focus();
    await page.keyboard.press("ArrowRight");
    await page.keyboard.press("ArrowRight");
    const bpm = async () => Number((await curve.getAttribute("aria-label"))?.match(/Bar 2: ([\d.]+) bpm/)?.[1]);
    const found = await bpm();
    expect(found).toBeGreaterThan(80);
    for (let turn = 0; turn < 6; turn++) await page.keyboard.press("ArrowUp");
    await expect.poll(bpm).toBeGreaterThan(found + 0.4);
    const byKey = await bpm();
    const box = (await curve.boundingBox())!;
    const second = box.x + (box.width * (40 + (572 / 47) * 1.5)) / 620;
    await page.mouse.move(second, box.y + 100);
    await page.mouse.down();
    await page.mouse.move(second, box.y + 130, { steps: 4 });
    await page.mouse.up();
    await expect.poll(bpm).toBeLessThan(byKey);

    await sheet(page)
      .getByRole("button", { name: /^Count:/ })
      .click();
    await page.getByRole("menuitemradio", { name: "twice as fast" }).click();
    await sheet(page)
      .getByText(/to 1[789]\d(\.\d)? bpm|to 20\d(\.\d)? bpm/)
      .first()
      .waitFor();
    // Somebody taps about as fast as it was played.
    const tap = sheet(page).getByRole("button", { name: "Tap the beat" });
    await tap.focus();
    await page.keyboard.press("Space");
    await page.getByRole("status", { name: "Taps" }).waitFor();
    // The rest at times that no busy machine can shift: the time that counts is the event's own.
    await tap.evaluate((button) => {
      const fromMs = performance.now() + 10_000;
      for (let turn = 0; turn < 6; turn++) {
        const click = new MouseEvent("click", { bubbles: true });
        Object.defineProperty(click, "timeStamp", { value: fromMs + turn * 620 });
        button.dispatchEvent(click);
      }
    });
    await sheet(page)
      .getByText(/^It was played freely, from [89]\d(\.\d)? bpm/)
      .waitFor();
  });

  it("is told from one that was played to a steady click, and from one that follows its file", async () => {
    const page = await pages.open();
    await importBytes(page, "Steady.mid", writeMidiFile(ferryWithoutClick(0).file));
    await page.keyboard.press("Shift+K");
    await sheet(page)
      .getByText(/^It was played to a steady 9[12](\.\d)? bpm, while the file counts 120 bpm\.$/)
      .waitFor();
    await sheet(page).getByRole("button", { name: "Follow it" }).click();
    await page.getByText(/^The take follows its own tempo now/).waitFor();
    expect(temposOf((await exportBytes(page)).bytes).length).toBeLessThanOrEqual(2);
    await page.keyboard.press("Shift+K");
    await sheet(page).getByRole("button", { name: "Close" }).click();
    await goToScreen(page, "Shelf");
    await page.getByRole("link", { name: "Ferry Lights", exact: true }).click();
    await finsOf(page).waitFor();
    await page.keyboard.press("Shift+K");
    await sheet(page)
      .getByText(/^This take follows the time of its file/)
      .waitFor();
  });
});

describe("an opening that was played freely", () => {
  it("is noticed, and left as it was played while the rest is quantized", async () => {
    const page = await pages.open();
    const bytes = writeMidiFile(withFreeOpening());
    await importBytes(page, "Free opening.mid", bytes);
    const card = page.getByRole("complementary", { name: "Lane card" });
    const hint = card.getByText("Bars 1 to 3 fit no beat", { exact: false });
    await card.getByRole("button", { name: "Leave it as played" }).click();
    await page.getByText("Bars 1 to 3 stay as they were played, whatever is done to the rest.").waitFor();
    await hint.waitFor({ state: "detached" });
    await page.keyboard.press("Shift+T");
    await page.getByText(/^Quantized 3 voices/).waitFor();
    const endTick = 3 * 1920;
    const ticksOf = (file: Uint8Array) =>
      readMidiFile(file)
        .file.tracks.flatMap(({ messages }) => messages)
        .flatMap((one) => (isNoteOn(one) ? [one.tick] : []))
        .toSorted((a, b) => a - b);
    const [before, after] = [bytes, (await exportBytes(page)).bytes].map(ticksOf) as [number[], number[]];
    expect(after.filter((tick) => tick < endTick - 20)).toEqual(before.filter((tick) => tick < endTick - 20));
    const off = (ticks: number[]) =>
      ticks
        .filter((tick) => tick >= endTick - 20)
        .reduce((sum, tick) => sum + Math.abs(tick - 240 * Math.round(tick / 240)), 0);
    expect(off(after)).toBeLessThan(0.5 * off(before));
    // Both are a step each.
    await page.keyboard.press("Escape");
    await page.keyboard.press("Control+z");
    await page.keyboard.press("Control+z");
    await hint.waitFor();
  });
});
