import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes, goToScreen, importBytes, openProject } from "./browser-tools.ts";

const pages = usePages();
const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));
const water = new Uint8Array(readFileSync("demo/slack-water.mid"));
const panel = (page: Page) => page.getByRole("complementary", { name: "Sift" });
const [CLOSED, SNARE] = [42, 38];

function notesOf(bytes: Uint8Array, note: number) {
  return readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status === 0x99 && one.data2 > 0 && one.data1 === note
        ? [{ tick: one.tick, velocity: one.data2 }]
        : [],
    ),
  );
}
const exported = async (page: Page, note: number) => notesOf((await exportBytes(page)).bytes, note);

async function choose(page: Page, label: RegExp, choice: string | RegExp) {
  await panel(page).getByRole("button", { name: label }).last().click();
  await page.getByRole("menuitemradio", { name: choice, exact: true }).click();
}

async function openSift(page: Page, name: string, bytes: Uint8Array) {
  await importBytes(page, name, bytes);
  await page.getByRole("complementary", { name: "Lane card" }).getByRole("heading").first().waitFor();
  await page.keyboard.press("Shift+G");
  await panel(page).getByRole("heading", { name: "Sift" }).waitFor();
}
const count = async (page: Page) =>
  Number((await panel(page).getByRole("status").first().textContent())?.match(/^\d+/)?.[0] ?? 0);

describe("a rule", () => {
  it("is built as a sentence, picks as it is built, lets the others stand back, and is found for what is picked", async () => {
    const page = await pages.open();
    await openSift(page, "Rule.mid", ferry);
    await panel(page).getByText("855 hits").waitFor();
    await choose(page, /^Another condition/, "a drum");
    await panel(page).getByText("246 hits").waitFor();
    await choose(page, /^Another condition/, "ghosts, normal hits or accents");
    await panel(page).getByText("184 hits").waitFor();
    await page.getByText("184 snare hits selected").waitFor();
    await choose(page, /^Another condition/, "a place in the bar");
    await panel(page).getByRole("img", { name: "In a bar of 4/4, 4 places are meant" }).waitFor();
    await expect.poll(() => count(page)).toBeLessThan(184);
    const offBeats = await count(page);
    await panel(page).getByRole("button", { name: "Only: change to except" }).last().click();
    await expect.poll(() => count(page)).toBe(184 - offBeats);
    await choose(page, /^Which of them/, "every 2nd hit");
    await expect.poll(() => count(page)).toBeLessThan(184 - offBeats);

    await panel(page).getByRole("button", { name: "Show only these" }).click();
    await panel(page).getByRole("button", { name: "Show the others as well" }).waitFor();
    await page.keyboard.press("Shift+G");
    await panel(page).waitFor({ state: "hidden" });

    // Every hit of the hats, said as a rule.
    await page
      .getByRole("button", { name: /^Hi-hat/ })
      .first()
      .click();
    await page.keyboard.press("Control+a");
    await page.keyboard.press("Shift+Y");
    await panel(page).getByRole("button", { name: "Drum: Hi-hat" }).waitFor();
    await expect.poll(() => panel(page).getByRole("listitem").count()).toBe(1);
  });

  it("knows the off-beats of 6/8, and says so when it picks nothing", async () => {
    const page = await pages.open();
    await openSift(page, "Six.mid", water);
    await choose(page, /^Another condition/, "a place in the bar");
    await panel(page).getByRole("img", { name: "In a bar of 6/8, 2 places are meant" }).waitFor();
    await choose(page, /^Another condition/, "some bars");
    await panel(page).getByRole("button", { name: "From bar: 1" }).click();
    await page.getByRole("textbox").last().fill("900");
    await page.keyboard.press("Enter");
    await panel(page).getByText("No hits found.").waitFor();
  });
});

describe("a chore", () => {
  it("is previewed in the lanes, done as one step, and undone", async () => {
    const page = await pages.open();
    await openSift(page, "Chore.mid", ferry);
    await choose(page, /^Chore/, "Every second hat softer");
    const would = await panel(page)
      .getByText(/hits would change; the lanes show it/)
      .textContent();
    // The line below says the same while the preview stands.
    const count = would!.slice(0, would!.indexOf(" "));
    await page.getByRole("status", { name: "Selection" }).getByText(`${count} hi-hat hits selected`).waitFor();
    await panel(page).getByRole("button", { name: "Velocity times: 70 %" }).click();
    await page.getByRole("textbox").last().fill("50");
    await page.keyboard.press("Enter");
    // Nothing is done yet.
    expect(await exported(page, CLOSED)).toEqual(notesOf(ferry, CLOSED));
    await panel(page).getByRole("button", { name: "Apply" }).click();
    await page.getByText(/^Every second hat softer: \d+ hits changed/).waitFor();
    const before = notesOf(ferry, CLOSED);
    const after = await exported(page, CLOSED);
    const halved = after.filter(
      ({ velocity }, index) => velocity === Math.max(1, Math.round(before[index]!.velocity / 2)),
    );
    expect(halved.length / before.length).toBeGreaterThan(0.4);
    expect(after.map(({ tick }) => tick)).toEqual(before.map(({ tick }) => tick));
    expect(await exported(page, SNARE)).toEqual(notesOf(ferry, SNARE));
    await page.keyboard.press("Control+z");
    await expect.poll(() => exported(page, CLOSED)).toEqual(before);
  });

  it("is kept on the Shelf, run on whole projects, written to a file and read from one", async () => {
    const page = await pages.open();
    await openSift(page, "Nudge.mid", ferry);
    await choose(page, /^Another condition/, "a drum");
    await choose(page, /^What to do/, "push or lay back, in ms");
    await choose(page, /^Another chore after that/, "Foot hats quieter");
    await panel(page)
      .getByText(/After that: Hi-hat, foot: velocity × 65 %/)
      .waitFor();
    await panel(page).getByRole("textbox", { name: "Name of the chore" }).fill("Snare back, feet down");
    await page.keyboard.press("Enter");
    await page.getByText("“Snare back, feet down” is on the Shelf, for any take.").waitFor();
    // It can be chosen at once, in the same panel.
    await panel(page)
      .getByRole("button", { name: /^Chore:/ })
      .click();
    await page.getByRole("menuitemradio", { name: "Snare back, feet down" }).waitFor();
    await page.keyboard.press("Escape");
    await panel(page).getByRole("button", { name: "Cancel" }).click();
    expect(await exported(page, SNARE)).toEqual(notesOf(ferry, SNARE));

    await goToScreen(page, "Shelf");
    await page.getByRole("button", { name: "Snare back, feet down", exact: true }).click();
    const sheet = page.getByRole("dialog", { name: "Snare back, feet down" });
    await sheet
      .getByRole("listitem")
      .filter({ hasText: "Nudge" })
      .getByText(/of 855 hits would change/)
      .waitFor();
    await sheet.getByRole("checkbox", { name: /^Nudge/ }).check();
    await sheet.getByRole("button", { name: "Run on 1 project" }).click();
    await page.getByText(/^Snare back, feet down: \d+ hits in 1 project/).waitFor();
    await openProject(page, "Nudge");
    const late = Math.round((6 / (60_000 / 92)) * 480);
    const before = notesOf(ferry, SNARE);
    const after = await exported(page, SNARE);
    expect(after.filter(({ tick }, index) => Math.abs(tick - before[index]!.tick - late) <= 1).length).toBe(
      before.length,
    );
    await page.keyboard.press("Control+z");
    await page.getByText("Undone: Snare back, feet down.").waitFor();
    expect(await exported(page, SNARE)).toEqual(before);

    await goToScreen(page, "Shelf");
    const chores = page.getByRole("region", { name: "Chores" });
    await chores.getByText("Snare back, feet down").waitFor();
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      chores.getByRole("button", { name: "Export" }).click(),
    ]);
    const saved = JSON.parse(readFileSync((await download.path())!, "utf8"));
    expect(saved.chores.map(({ name }: { name: string }) => name)).toContain("Snare back, feet down");
    const give = (value: unknown) =>
      chores.getByLabel("File of chores").setInputFiles({
        name: "chores.json",
        mimeType: "application/json",
        buffer: Buffer.from(JSON.stringify(value)),
      });
    await give({ ...saved, chores: [{ ...saved.chores[0], tempo: 120 }] });
    await chores.getByText(/has a field “tempo” that means nothing/).waitFor();
    await give({ ...saved, chores: [{ ...saved.chores.at(-1), name: "From a friend" }] });
    await page.getByText("Read the chores of chores.json.").waitFor();
    await chores.getByText("From a friend").waitFor();
    await chores.getByRole("button", { name: "Delete From a friend" }).click();
    await chores.getByText("From a friend").waitFor({ state: "detached" });
  });
});
