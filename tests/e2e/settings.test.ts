import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { type MidiMessage, readMidiFile, writeMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes, goToScreen, importBytes, openMore, openStep } from "./browser-tools.ts";
import { fileOf } from "./small-take.ts";

const pages = usePages();
const kettle = new Uint8Array(readFileSync("demo/kettle-row.mid"));
const card = (page: Page) => page.getByRole("complementary", { name: "Lane card" });
const lane = (page: Page, name: RegExp) => page.getByRole("button", { name }).first();
const ticksOf = (bytes: Uint8Array, note: number) =>
  readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status >> 4 === 9 && one.data2 > 0 && one.data1 === note ? [one.tick] : [],
    ),
  );

async function choose(page: Page, label: string, choice: string | RegExp) {
  await card(page)
    .getByRole("button", { name: new RegExp(`^${label}:`) })
    .click();
  await page.getByRole("menuitemradio", { name: choice, exact: true }).click();
}

/** Chooses from a menu at the foot of the card. */
async function fromMenu(page: Page, menu: RegExp, choice: string) {
  await card(page).getByRole("button", { name: menu }).click();
  await page.getByRole("menuitem", { name: choice, exact: true }).click();
}

/** The take as a slow module would have sent it: every note later by some ticks. */
function cameInLate(bytes: Uint8Array, ticks: number): Uint8Array {
  const { file } = readMidiFile(bytes);
  const tracks = file.tracks.map(({ messages }) => ({
    messages: messages.map((one) => (one.kind === "meta" && one.tick === 0 ? one : { ...one, tick: one.tick + ticks })),
  }));
  return writeMidiFile({ ...file, tracks });
}

describe("settings as a whole", () => {
  it("come from the shelf, go to other voices, are kept under a name, and used in another project", async () => {
    const page = await pages.open();
    await importBytes(page, "Kettle.mid", kettle);
    await lane(page, /^Ride/).click();
    await fromMenu(page, /^Recipe/, "To the line");
    await card(page).getByRole("button", { name: "Strength: 100 %" }).waitFor();
    await card(page).getByRole("button", { name: "Recipe: To the line" }).waitFor();
    const ride = ticksOf((await exportBytes(page)).bytes, 51);
    expect(ride.every((tick) => tick % 240 === 0)).toBe(true);

    await fromMenu(page, /^Copy to voices/, "Kick");
    await page.getByText("Kick is treated like Ride now, each on its own grid.").waitFor();
    const kick = ticksOf((await exportBytes(page)).bytes, 36);
    expect(kick.filter((tick) => tick % 120 === 0).length / kick.length).toBeGreaterThan(0.95);
    await page.keyboard.press("Control+z");
    await page.getByText("Undone: Treat Kick like Ride.").waitFor();
    expect(ticksOf((await exportBytes(page)).bytes, 36)).toEqual(ticksOf(kettle, 36));

    await fromMenu(page, /^Recipe/, "Save as recipe …");
    await page.getByRole("textbox", { name: "Name of the recipe" }).fill("Wheelhouse rides");
    await page.keyboard.press("Enter");
    await page.getByText("Saved the recipe “Wheelhouse rides” to the Shelf").waitFor();
    // What was kept can be chosen at once, on the same card.
    await card(page)
      .getByRole("button", { name: /^Recipe/ })
      .click();
    await page.getByRole("menuitem", { name: /^Wheelhouse rides/ }).waitFor();
    await page.keyboard.press("Escape");

    await goToScreen(page, "Shelf");
    await importBytes(page, "Another.mid", kettle);
    await lane(page, /^Hi-hat/).click();
    await fromMenu(page, /^Recipe/, "Wheelhouse rides");
    await card(page).getByRole("button", { name: "Strength: 100 %" }).waitFor();

    await goToScreen(page, "Shelf");
    const row = page
      .getByRole("region", { name: "Recipes" })
      .getByRole("listitem")
      .filter({ hasText: "Wheelhouse rides" });
    await row.getByText("Quantize 100 %, keep flams.").waitFor();
    await page.getByRole("button", { name: "Delete Wheelhouse rides" }).click();
    await row.waitFor({ state: "detached" });
    await page.getByRole("button", { name: "Undo" }).last().click();
    await row.waitFor();
  });

  it("are baked into the hits of a voice: they stay where they were cleaned to, with the timing off", async () => {
    const page = await pages.open();
    await importBytes(page, "Kettle.mid", kettle);
    // The snare is open from the start.
    await page.keyboard.press("t");
    await card(page).getByRole("switch", { name: "Quantize" }).and(page.locator("[aria-checked=true]")).waitFor();
    const cleaned = ticksOf((await exportBytes(page)).bytes, 38);
    expect(cleaned).not.toEqual(ticksOf(kettle, 38));
    await fromMenu(page, /^Bake in/, "this voice");
    await page.getByText(/^Baked \d+ hits of Snare in\. Its steps are off/).waitFor();
    await card(page).getByRole("switch", { name: "Quantize" }).and(page.locator("[aria-checked=false]")).waitFor();
    expect(ticksOf((await exportBytes(page)).bytes, 38)).toEqual(cleaned);
    await page.keyboard.press("Control+z");
    await page.getByText("Undone: Bake in Snare.").waitFor();
    await page.keyboard.press("Control+z");
    await expect.poll(async () => ticksOf((await exportBytes(page)).bytes, 38)).toEqual(ticksOf(kettle, 38));
  });

  it("can be looked at against the recording for one voice alone", async () => {
    const page = await pages.open();
    await importBytes(page, "Kettle.mid", kettle);
    // The snare is open from the start.
    await page.keyboard.press("t");
    await page.keyboard.press("Shift+C");
    await openMore(page);
    const button = card(page).getByRole("button", { name: "Hear as recorded" });
    await button.and(page.locator("[aria-pressed=true]")).waitFor();
    await page.keyboard.press("n");
    const said = page.getByRole("status", { name: "Selection" });
    const recorded = await said.textContent();
    await button.click();
    await expect.poll(() => said.textContent()).not.toBe(recorded);
    // What goes out is cleaned all the same.
    await page.keyboard.press("Shift+C");
    expect(ticksOf((await exportBytes(page)).bytes, 38)).not.toEqual(ticksOf(kettle, 38));
  });

  it("differ in a stretch: only there, or not there, or by another strength", async () => {
    const page = await pages.open();
    await importBytes(page, "Kettle.mid", kettle);
    const snare = async () => ticksOf((await exportBytes(page)).bytes, 38);
    const recorded = ticksOf(kettle, 38);
    // The file counts 960 ticks a quarter; a bar of 7/8 is 3360.
    const inBar = (bar: number) => (tick: number) => Math.floor((tick + 100) / 3360) === bar - 1;
    await page.keyboard.press("t");
    const cleaned = await snare();
    await page.keyboard.press("Home");
    await page.keyboard.press("l");
    await openMore(page, /^(Also|Other bars): /);
    await card(page)
      .getByText(/^Quantize the loop/)
      .first()
      .waitFor();
    await choose(page, "Treat this stretch", "and nothing else");
    const list = card(page).getByRole("list", { name: "Stretches treated otherwise" });
    await list.getByRole("listitem").first().waitFor();
    const only = await snare();
    expect(only.filter(inBar(1))).toEqual(cleaned.filter(inBar(1)));
    expect(only.filter(inBar(20))).toEqual(recorded.filter(inBar(20)));
    expect(cleaned.filter(inBar(20))).not.toEqual(recorded.filter(inBar(20)));
    await choose(page, "Treat this stretch", "not at all: as it was recorded");
    expect((await snare()).filter(inBar(1))).toEqual(recorded.filter(inBar(1)));
    await list
      .getByRole("button", { name: /^No exception in/ })
      .first()
      .click();
    await page.keyboard.press("Control+z");
    await page.keyboard.press("Control+z");
    await page.keyboard.press("Control+z");
    await expect.poll(snare).toEqual(cleaned);
  });

  it("propose to take the latency of a whole take off, and take it off every voice, quantized or not", async () => {
    const page = await pages.open();
    await importBytes(page, "Late.mid", cameInLate(kettle, 20));
    await card(page)
      .getByText(/^The whole take is/)
      .waitFor();
    const rideTicks = async () => ticksOf((await exportBytes(page)).bytes, 51);
    const recorded = await rideTicks();
    await card(page).getByRole("button", { name: "Correct" }).click();
    await page.getByText(/^Took \d+(\.5)? ms off all 9 voices/).waitFor();
    await card(page)
      .getByText(/^The whole take is/)
      .waitFor({ state: "detached" });
    const ride = await rideTicks();
    // All of it is earlier by the same, and nothing was pulled.
    const moved = ride.map((tick, row) => recorded[row]! - tick);
    expect(Math.min(...moved)).toBeGreaterThan(0);
    expect(Math.max(...moved) - Math.min(...moved)).toBeLessThanOrEqual(1);
    await lane(page, /^Ride/).click();
    await openStep(page, "Quantize");
    await card(page)
      .getByText(/^Off: as played; latency .* late\.$/)
      .waitFor();
    await page.keyboard.press("t");
    await card(page)
      .getByText(/^Quantize 80 %/)
      .waitFor();
    await page.keyboard.press("t");
    await card(page)
      .getByText(/^Off: as played; latency/)
      .waitFor();
    expect(await rideTicks()).toEqual(ride);
    for (let undone = 0; undone < 3; undone++) await page.keyboard.press("Control+z");
    await card(page)
      .getByText(/^The whole take is/)
      .waitFor();
    expect(await rideTicks()).toEqual(recorded);
  });
});

describe("how late a take came in", () => {
  it("is told to a step: nearly a sixteenth late, every hit still goes to the slot that it was played for", async () => {
    const cleaned = async (bytes: Uint8Array) => {
      const page = await pages.open();
      await importBytes(page, "Take.mid", bytes);
      await lane(page, /^Ride/).click();
      await openStep(page, "Quantize");
      await fromMenu(page, /^Recipe/, "To the line");
      await card(page).getByRole("button", { name: "Recipe: To the line" }).waitFor();
      return ticksOf((await exportBytes(page)).bytes, 51);
    };
    const onTime = await cleaned(kettle);
    // 217 of 960 ticks at 132 bpm are 103 ms; a sixteenth is 114 ms.
    expect(await cleaned(cameInLate(kettle, 217))).toEqual(onTime);
  });

  it("is asked where two readings are likely, and the other is one action and one undo away", async () => {
    const page = await pages.open();
    // Hats alone, all alike: nothing says which of the sixteenths is the beat.
    const hats = Array.from({ length: 60 }, (_, step) => [42, 1920 + step * 120 + 30 + ((step * 7) % 11), 80] as const);
    await importBytes(page, "Hats.mid", fileOf(hats, 6));
    await lane(page, /^Hi-hat/).waitFor();
    if ((await page.getByRole("tab", { name: "Quantize" }).count()) === 0) await lane(page, /^Hi-hat/).click();
    await fromMenu(page, /^Recipe/, "To the line");
    const before = ticksOf((await exportBytes(page)).bytes, 42);
    expect(before[0]).toBe(1920);
    await card(page)
      .getByText(/^A close call: the take is/)
      .waitFor();
    await card(page).getByRole("button", { name: "Use the other" }).click();
    await page.getByText(/^Every voice is on the slots of a take that came in/).waitFor();
    const after = ticksOf((await exportBytes(page)).bytes, 42);
    expect(after.every((tick, index) => Math.abs(tick - before[index]!) === 120)).toBe(true);
    // The first reading is the other one now.
    await card(page)
      .getByText(/^A close call: the take is/)
      .waitFor();
    await page.keyboard.press("Control+z");
    await expect.poll(async () => ticksOf((await exportBytes(page)).bytes, 42)).toEqual(before);
  });
});

describe("notes whose length can spoil playback", () => {
  /** The take without the note-offs of its first three kicks. */
  function withHangingKicks(): Uint8Array {
    const { file } = readMidiFile(kettle);
    let left = 3;
    const isEndOfKick = (one: MidiMessage) => one.kind === "channel" && one.status === 0x89 && one.data1 === 36;
    const tracks = file.tracks.map(({ messages }) => ({
      messages: messages.filter((one) => !isEndOfKick(one) || left-- <= 0),
    }));
    return writeMidiFile({ ...file, tracks });
  }
  const notesAndEnds = (bytes: Uint8Array) => {
    const kicks = readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
      messages.filter((one) => one.kind === "channel" && one.data1 === 36 && (one.status & 0x0f) === 9),
    );
    const starts = kicks.filter((one) => one.kind === "channel" && one.status >> 4 === 9 && one.data2 > 0).length;
    return [starts, kicks.length - starts];
  };

  it("are said on the card of their drum, shown, mended together, and left as in the file", async () => {
    const page = await pages.open();
    const bytes = withHangingKicks();
    await importBytes(page, "Hanging.mid", bytes);
    await lane(page, /^Kick/).click();
    await openStep(page, "Repair");
    const notes = card(page).getByRole("region", { name: "Repair" });
    // Notes end where the next of their key ends, so the ones that are left without an end are the last three.
    await notes.getByText(/never end/).waitFor();
    await notes.getByRole("button", { name: /^Show/ }).click();
    await page
      .getByRole("status", { name: "Selection" })
      .getByText(/kick hits selected/)
      .waitFor();
    const [starts, ends] = notesAndEnds((await exportBytes(page)).bytes);
    expect(ends).toBe(starts! - 3);
    await notes.getByRole("button", { name: /^Fix/ }).click();
    await page.getByText(/^Fixed \d+ hits/).waitFor();
    expect(notesAndEnds((await exportBytes(page)).bytes)).toEqual([starts, starts]);
    await notes.getByRole("button", { name: "As in the file" }).click();
    await notes.getByRole("button", { name: /^Fix/ }).waitFor();
    expect((await exportBytes(page)).bytes).toEqual(bytes);
  });
});

describe("what is otherwise for some hits of a voice", () => {
  const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));
  const SIXTEENTH = 120;
  const TRIPLET = 160;

  it("ghosts are pulled by their own strength, and what a hand counts as a ghost is one", async () => {
    const page = await pages.open();
    await importBytes(page, "Ghosts.mid", ferry);
    await lane(page, /^Snare/).waitFor();
    await fromMenu(page, /^Recipe/, "To the line");
    await card(page)
      .getByText(/ghosts to sixteenths/)
      .waitFor();
    await openMore(page);
    const type = async (label: RegExp, text: string) => {
      await card(page).getByRole("button", { name: label }).click();
      await page.getByRole("textbox").last().fill(text);
      await page.keyboard.press("Enter");
    };
    await type(/^Ghost strength: same/, "0");
    await card(page).getByRole("button", { name: "Ghost strength: 0 %" }).waitFor();
    await card(page)
      .getByRole("radio", { name: /^sixteenths/ })
      .click();
    const isOff = (tick: number) => tick % SIXTEENTH !== 0 && tick % TRIPLET !== 0;
    const offGrid = async () => ticksOf((await exportBytes(page)).bytes, 38).filter(isOff).length;
    const ghosts = await offGrid();
    expect(ghosts).toBeGreaterThan(100);
    expect(ghosts).toBeLessThan(ticksOf(ferry, 38).length - 40);

    await page.keyboard.press("Control+a");
    await page.keyboard.press("2");
    await page.getByText(/Counts 246 hits as normal, however loud/).waitFor();
    expect(await offGrid()).toBeLessThan(ghosts / 3);
    await page.reload();
    await card(page).getByRole("region", { name: "Quantize" }).waitFor();
    await lane(page, /^Snare/).waitFor();
    await page.keyboard.press("Control+a");
    await page.getByText(/246 snare hits selected/).waitFor();
    await page.keyboard.press("4");
    await expect.poll(offGrid).toBe(ghosts);
  });

  it("some hits stay straight while their lane swings", async () => {
    const page = await pages.open();
    await importBytes(page, "Straight.mid", ferry);
    await lane(page, /^Hi-hat/).click();
    await fromMenu(page, /^Recipe/, "To the line");
    await card(page).getByRole("button", { name: "Swing: straight" }).click();
    await page.getByRole("textbox").last().fill("60");
    await page.keyboard.press("Enter");
    const offBeats = async () => ticksOf((await exportBytes(page)).bytes, 42).filter((tick) => tick % 480 !== 0);
    expect((await offBeats()).every((tick) => tick % 480 === 288)).toBe(true);
    await page.keyboard.press("Control+a");
    await page.keyboard.press("6");
    await page.getByText(/swing 50 % as much as the others/).waitFor();
    expect((await offBeats()).every((tick) => tick % 480 === 264)).toBe(true);
    await page.keyboard.press("5");
    await page.getByText(/stay straight while the others swing/).waitFor();
    expect((await offBeats()).every((tick) => tick % 480 === 240)).toBe(true);
  });
});
