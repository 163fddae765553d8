import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes, goToScreen, importBytes, openMore } from "./browser-tools.ts";
import { fileOf, PPQ, type Struck } from "./small-take.ts";

const pages = usePages();
const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));
const moth = new Uint8Array(readFileSync("demo/moth-parade.mid"));
const card = (page: Page) => page.getByRole("complementary", { name: "Lane card" });
const step = (page: Page) => card(page).getByRole("region", { name: "Dynamics" });
const [CLOSED, OPEN, FOOT, SNARE] = [42, 46, 44, 38];

/** How loud each stroke of a note is, in the order of the file. */
function velocitiesOf(bytes: Uint8Array, note: number): readonly number[] {
  return readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status === 0x99 && one.data2 > 0 && one.data1 === note ? [one.data2] : [],
    ),
  );
}
const exported = async (page: Page, note: number) => velocitiesOf((await exportBytes(page)).bytes, note);

async function choose(page: Page, label: RegExp, choice: string) {
  await openMore(page);
  await step(page).getByRole("button", { name: label }).click();
  await page.getByRole("menuitemradio", { name: choice, exact: true }).click();
}

async function type(page: Page, label: RegExp, value: string) {
  await step(page).getByRole("button", { name: label }).click();
  await page.getByRole("textbox").last().fill(value);
  await page.keyboard.press("Enter");
}

async function openStep(page: Page, name: string, bytes: Uint8Array, lane: RegExp | null) {
  await importBytes(page, name, bytes);
  if (lane) await page.getByRole("button", { name: lane }).first().click();
  await page.keyboard.press("9");
  await step(page)
    .getByRole("img", { name: /^Loudness now/ })
    .waitFor();
}

describe("the loudness of a voice", () => {
  it("is shaped by role, and nothing else changes; borders can be dragged and found again; all survives a reload", async () => {
    const page = await pages.open();
    await openStep(page, "Roles.mid", ferry, null);
    await step(page).getByText("Ghosts up to 60, accents from 95.").waitFor();
    await choose(page, /^What is done to ghosts/, "louder or softer");
    await step(page).getByRole("button", { name: "Velocity by: ghosts: −8" }).waitFor();
    const before = velocitiesOf(ferry, SNARE);
    const softer = await exported(page, SNARE);
    expect(softer).toEqual(before.map((velocity) => (velocity <= 60 ? Math.max(1, velocity - 8) : velocity)));
    expect(await exported(page, CLOSED)).toEqual(velocitiesOf(ferry, CLOSED));

    await step(page).getByRole("slider", { name: "Ghosts up to" }).press("PageDown");
    await step(page).getByText("Ghosts up to 50, accents from 95.").waitFor();
    expect(await exported(page, SNARE)).toEqual(
      before.map((velocity) => (velocity <= 50 ? Math.max(1, velocity - 8) : velocity)),
    );
    await page.reload();
    await page
      .getByRole("button", { name: /^Snare/ })
      .first()
      .waitFor();
    await page.keyboard.press("9");
    await step(page).getByText("Ghosts up to 50, accents from 95.").waitFor();
    await step(page).getByRole("button", { name: "As found" }).click();
    await step(page).getByText("Ghosts up to 60, accents from 95.").waitFor();

    await step(page).getByRole("switch", { name: "Dynamics" }).click();
    await expect.poll(() => exported(page, SNARE)).toEqual(before);
  });

  it("has borders of which each stops at the other, and two loudnesses are read either way", async () => {
    const page = await pages.open();
    await openStep(page, "Borders.mid", ferry, null);
    await step(page).getByText("Ghosts up to 60, accents from 95.").waitFor();
    const handle = (name: string) => step(page).getByRole("slider", { name });
    await handle("Ghosts up to").press("End");
    await step(page).getByText("Ghosts up to 94, accents from 95.").waitFor();
    await page.keyboard.press("Control+z");
    await step(page).getByText("Ghosts up to 60, accents from 95.").waitFor();
    await handle("Accents from").press("Home");
    await step(page).getByText("Ghosts up to 60, accents from 61.").waitFor();
    await step(page).getByRole("button", { name: "As found" }).click();
    await step(page).getByText("Ghosts up to 60, accents from 95.").waitFor();
    // By hand, in one pull past the other.
    const from = (await handle("Ghosts up to").boundingBox())!;
    await page.mouse.move(from.x + 4, from.y + 8);
    await page.mouse.down();
    await page.mouse.move(from.x + 140, from.y + 8, { steps: 2 });
    await step(page).getByText("Ghosts up to 94, accents from 95.").waitFor();
    await page.mouse.move(from.x - 20, from.y + 8, { steps: 2 });
    await page.mouse.up();
    await step(page)
      .getByText(/^Ghosts up to [45]\d, accents from 95\./)
      .waitFor();
    await step(page).getByRole("button", { name: "As found" }).click();
    // A voice of two loudnesses, which only who played it knows.
    const two = Array.from({ length: 64 }, (_, at): Struck => [38, at * PPQ, (at % 2 ? 98 : 66) + (at % 5) - 2]);
    await goToScreen(page, "Shelf");
    await openStep(page, "Two.mid", fileOf(two, 16), null);
    await step(page)
      .getByText(/^No ghosts, accents from \d+\./)
      .waitFor();
    await step(page).getByRole("button", { name: "Ghosts and normal" }).click();
    await step(page)
      .getByText(/^Ghosts up to \d+, no accents\./)
      .waitFor();
    await step(page).getByRole("button", { name: "As found" }).click();
    await step(page)
      .getByText(/^No ghosts, accents from \d+\./)
      .waitFor();
  });

  it("goes round in the bar, with open and foot hats left alone", async () => {
    const page = await pages.open();
    await openStep(page, "Hats.mid", moth, /^Hi-hat/);
    await choose(page, /^Loudness in the bar/, "strong, weak");
    await step(page).getByRole("group", { name: "Loudness of each step" }).waitFor();
    const closed = velocitiesOf(moth, CLOSED);
    const shaped = await exported(page, CLOSED);
    expect(shaped.filter((velocity, index) => velocity < closed[index]!).length).toBeGreaterThan(200);
    expect(shaped.filter((velocity, index) => velocity === closed[index]).length).toBeGreaterThan(200);
    for (const note of [OPEN, FOOT]) expect(await exported(page, note)).toEqual(velocitiesOf(moth, note));
    // The second bar of the cycle, by key.
    const weak = step(page).getByRole("slider", { name: "Step 2, percent" });
    await weak.press("End");
    await expect
      .poll(async () => (await exported(page, CLOSED)).filter((one, index) => one < closed[index]!).length)
      .toBe(0);
    await step(page).getByRole("button", { name: "open", exact: true }).click();
    await expect.poll(() => exported(page, OPEN)).not.toEqual(velocitiesOf(moth, OPEN));
  });

  it("says what would be cut off, fits it in, is otherwise in a stretch, and shows what has changed", async () => {
    const page = await pages.open();
    await openStep(page, "Loud.mid", ferry, null);
    await type(page, /^Level: 100 %/, "140");
    await step(page)
      .getByText(/hits would clip/)
      .waitFor();
    const loudest = (list: readonly number[]) => list.filter((velocity) => velocity === 127).length;
    expect(loudest(await exported(page, SNARE))).toBeGreaterThan(20);
    await step(page).getByRole("button", { name: "Scale to fit" }).click();
    await step(page)
      .getByText(/Scaled to fit/)
      .waitFor();
    expect(loudest(await exported(page, SNARE))).toBeLessThan(5);

    // What is out of reach is refused in words, and changes nothing.
    const unchanged = await exported(page, SNARE);
    await step(page)
      .getByRole("button", { name: /^Range: 100 %/ })
      .click();
    await page.getByRole("textbox").last().fill("10000");
    await page.keyboard.press("Enter");
    await page.getByText("10000 is out of range: 0 to 400. Nothing was changed.").waitFor();
    await page.keyboard.press("Escape");
    expect(await exported(page, SNARE)).toEqual(unchanged);

    await page.keyboard.press("l");
    await page.getByText(/^Loop/).first().waitFor();
    await choose(page, /^Loudness of this stretch/, "as it was played");
    await step(page).getByRole("list", { name: "Stretches of another loudness" }).getByText("as played").waitFor();
    const now = await exported(page, SNARE);
    const before = velocitiesOf(ferry, SNARE);
    expect(now.slice(0, 4)).toEqual(before.slice(0, 4));
    expect(now.slice(-4)).not.toEqual(before.slice(-4));
    await step(page)
      .getByRole("table")
      .getByText(/ghosts/)
      .waitFor();
    await step(page)
      .getByText(/Bars that differ most/)
      .waitFor();
    await step(page).getByRole("button", { name: "Like the rest in", exact: false }).click();
    await step(page).getByRole("list", { name: "Stretches of another loudness" }).waitFor({ state: "hidden" });
  });

  it("is led by hand along a curve, its shape copied to other hits, and baked in", async () => {
    const page = await pages.open();
    await openStep(page, "Hand.mid", ferry, /^Hi-hat/);
    await page.keyboard.press("Control+a");
    await openMore(page);
    await step(page).getByRole("button", { name: "Lead", exact: true }).click();
    const ramp = await exported(page, CLOSED);
    expect(ramp[0]).toBe(50);
    expect(Math.max(...ramp)).toBeGreaterThan(95);
    expect(ramp.every((velocity, index) => index === 0 || velocity >= ramp[index - 1]!)).toBe(true);
    await step(page).getByRole("button", { name: "copied" }).click();
    await page.getByText(/^Copied the shape of/).waitFor();
    await page.keyboard.press("Escape");
    await page
      .getByRole("button", { name: /^Snare/ })
      .first()
      .click();
    await page.keyboard.press("Control+a");
    await page.getByText(/246 snare hits selected/).waitFor();
    await step(page).getByRole("button", { name: "as loud", exact: true }).click();
    await page.getByText("Laid the shape on 246 hits.").waitFor();
    const laid = await exported(page, SNARE);
    expect(laid.at(-1)! - laid[0]!).toBeGreaterThan(40);
    await page.keyboard.press("Control+z");
    await expect.poll(() => exported(page, SNARE)).toEqual(velocitiesOf(ferry, SNARE));

    await type(page, /^Level: 100 %/, "50");
    const halved = await exported(page, SNARE);
    await card(page)
      .getByRole("button", { name: /^Bake in/ })
      .click();
    await page.getByRole("menuitem", { name: "this voice", exact: true }).click();
    await page.getByText(/Its steps are off: what they did is in the hits/).waitFor();
    expect(await exported(page, SNARE)).toEqual(halved);
    await card(page)
      .getByText("Off: as loud as played.")
      .or(step(page).getByRole("switch", { checked: false }))
      .first()
      .waitFor();
  });
});

describe("the layers of a kit", () => {
  it("are set for all drums or one, shown by the hits, and refused in words where they make no sense", async () => {
    const page = await pages.open();
    await importBytes(page, "Layers.mid", ferry);
    await page
      .getByRole("button", { name: /^Snare/ })
      .first()
      .waitFor();
    const openSheet = async () => {
      await page.getByRole("button", { name: /^Lanes/ }).click();
      await page.getByRole("menuitem", { name: "Layers of the kit …" }).click();
    };
    await openSheet();
    const sheet = page.getByRole("dialog", { name: "Layers of the kit" });
    await sheet.getByLabel("Snare").fill("90, 40");
    await sheet.getByRole("button", { name: "Show these" }).click();
    await sheet.getByText("Snare: The velocities have to rise.").waitFor();
    await sheet.getByLabel("Snare").fill("20, 90");
    await sheet.getByLabel("Name").fill("Deck kit");
    await sheet.getByRole("button", { name: "Show these" }).click();
    await page.keyboard.press("n");
    await page.getByText(/layer 2 of 3/).waitFor();
    await page.reload();
    await page
      .getByRole("button", { name: /^Snare/ })
      .first()
      .waitFor();
    await openSheet();
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      sheet.getByRole("button", { name: "Export" }).click(),
    ]);
    const saved = readFileSync((await download.path())!, "utf8");
    expect(JSON.parse(saved).kit).toMatchObject({ name: "Deck kit", ofVoices: { snare: [20, 90] } });
    const give = (text: string) =>
      page
        .getByLabel("File of a kit")
        .setInputFiles({ name: "kit.json", mimeType: "application/json", buffer: Buffer.from(text) });
    await give("{}");
    await sheet.getByText(/does not say which layers a kit has/).waitFor();
    await give(saved.replace("Deck kit", "Hold kit").replace("20,", "25,"));
    await page.getByText("The layers of Hold kit are shown now.").waitFor();
  });
});
