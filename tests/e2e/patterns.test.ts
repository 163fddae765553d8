import { strFromU8, unzipSync } from "fflate";
import type { Page, Request, Route } from "playwright-core";
import { describe, expect, it } from "vitest";
import { isNoteOn, readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes, importBytes, openProject, restingBox } from "./browser-tools.ts";
import { card, heard, knock, list, openPatterns, savedTake } from "./patterns-page.ts";
import { device, withDevice } from "./simulated-device.ts";
import { fileOf, PPQ, SMALL, type Struck } from "./small-take.ts";

// Patterns that are found by knocking, made fuller and softer, and kept under names.

const pages = usePages();

/** Types a number of the sentence that narrows the list. */
async function narrow(page: Page, label: string, value: string): Promise<void> {
  await page.getByRole("button", { name: new RegExp(`^${label}:`) }).click();
  await page.getByRole("textbox", { name: label }).fill(value);
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: `${label}: ${value}` }).waitFor();
}

/** What a file plays, in order. */
const struckIn = (bytes: Uint8Array): readonly Struck[] =>
  readMidiFile(bytes)
    .file.tracks.flatMap(({ messages }) => messages.filter(isNoteOn))
    .map(({ data1, tick, data2 }): Struck => [data1, tick, data2])
    .sort(([a, at], [b, bt]) => at - bt || a - b);

describe("patterns", () => {
  it("are knocked, heard, made fuller and softer, and put into the song, which can be undone", async () => {
    const page = await pages.open("/");
    await openProject(page, "Tin Orchard");
    await openPatterns(page);
    // Half a thousand of the stand-in drummer, and those of all takes.
    const [count] = /\d+/.exec((await page.getByText(/^\d+ patterns/).textContent()) ?? "") ?? [];
    expect(Number(count)).toBeGreaterThan(500);
    await page.getByRole("button", { name: /^Kind/ }).click();
    await page.getByRole("menuitemradio", { name: "grooves" }).click();
    await list(page).getByRole("option").nth(2).click();
    const wanted = (await card(page).getByRole("heading").first().textContent()) ?? "";
    await knock(page).getByRole("button", { name: "Let the stand-in player knock it" }).click();
    await page.getByText(/are like it/).waitFor();
    const first = list(page).getByRole("option").first();
    await expect.poll(() => first.textContent()).toContain(wanted);
    await expect.poll(() => first.textContent()).toMatch(/(8|9)\d %/);
    await first.click();
    await card(page).getByText("Agrees:").waitFor();

    // Three of them are heard one after the other, by key.
    await page.keyboard.press("Space");
    await page.getByRole("contentinfo").getByRole("button", { name: "Stop" }).waitFor();
    for (const at of [1, 2]) {
      await page.keyboard.press("ArrowDown");
      await expect.poll(() => list(page).getByRole("option").nth(at).getAttribute("aria-selected")).toBe("true");
    }
    await page.keyboard.press("Space");
    await page.keyboard.press("ArrowUp");
    await page.keyboard.press("ArrowUp");

    const strokes = async () =>
      Number(/(\d+) hits/.exec((await card(page).getByRole("img").getAttribute("aria-label")) ?? "")?.[1]);
    const before = await strokes();
    const fewer = card(page).getByRole("slider", { name: "Kick", exact: true });
    await fewer.focus();
    await fewer.press("ArrowLeft");
    await card(page).getByText("1 left out").waitFor();
    await expect.poll(() => strokes()).toBe(before - 1);
    const more = card(page).getByRole("slider", { name: "Snare", exact: true });
    await more.focus();
    await more.press("ArrowRight");
    await card(page).getByText("1 added").waitFor();
    // What is added is named, and kept or thrown out by itself: one that is kept stays while the others are other ones.
    const added = card(page).getByRole("list", { name: "Added hits" });
    const namesOf = () => added.getByRole("listitem").allTextContents();
    const [wantedOne] = await namesOf();
    await added.getByRole("button", { name: `Keep ${wantedOne}` }).click();
    await expect
      .poll(() => added.getByRole("button", { name: `Keep ${wantedOne}` }).getAttribute("aria-pressed"))
      .toBe("true");
    await more.focus();
    await more.press("ArrowRight");
    await card(page).getByText("2 added").waitFor();
    await card(page).getByRole("button", { name: "others" }).click();
    await expect.poll(namesOf).toContain(wantedOne);
    const other = (await namesOf()).find((name) => name !== wantedOne)!;
    await added.getByRole("button", { name: `Throw out ${other}` }).click();
    await expect.poll(namesOf).toEqual([wantedOne]);
    // The button is gone, and the focus is still among them.
    await expect.poll(() => added.evaluate((element) => element === document.activeElement)).toBe(true);
    await more.focus();
    await more.press("ArrowRight");
    await card(page).getByText("2 added").waitFor();
    await expect.poll(() => namesOf()).not.toContain(other);
    await more.press("ArrowLeft");
    await expect.poll(namesOf).toEqual([wantedOne]);
    await card(page)
      .getByText(/^Counts least, of 3: /)
      .waitFor();
    const softer = card(page).getByRole("slider", { name: "Kick velocity" });
    await softer.focus();
    await softer.press("ArrowLeft");
    await expect.poll(strokes).toBe(before);

    const take = await savedTake(page);
    await card(page).getByRole("button", { name: "Put into the song" }).click();
    await page.getByText(/is at the end of the song, in bars/).waitFor();
    const after = await savedTake(page);
    expect(after.hits).toHaveLength(take.hits.length + before);
    expect(after.lengthTicks).toBeGreaterThan(take.lengthTicks);
    expect(after.arrangement!.song.at(-1)!.patternId).toBe(after.arrangement!.patterns.at(-1)!.id);
    expect(after.arrangement!.patterns.at(-1)!.name).toContain(wanted.split(",")[0]!);
    await page.keyboard.press("Control+z");
    await expect.poll(async () => (await savedTake(page)).hits.length).toBe(take.hits.length);
    expect((await savedTake(page)).arrangement).toEqual(take.arrangement);
  });

  it("are found by what a device knocks over the click, corrected stroke by stroke, and asked again", async () => {
    const page = await pages.open("/");
    await withDevice(page);
    await importBytes(page, "Knocked.mid", fileOf(SMALL));
    await openPatterns(page);
    await knock(page)
      .getByRole("button", { name: /^How long/ })
      .click();
    await page.getByRole("menuitemradio", { name: "as long as it lasts, without a click" }).click();
    await knock(page).getByRole("button", { name: "Listen", exact: true }).click();
    await knock(page).getByText("Listening", { exact: true }).waitFor();
    // Kick on 1 and 3, snare on 2 and 4, at 120 bpm, two bars.
    const bar = [36, 38, 36, 38].map((note, beat) => ({ ms: beat * 500, note, velocity: 100 }));
    await device.play(page, [...bar, ...bar.map((stroke) => ({ ...stroke, ms: stroke.ms + 2000 }))]);
    await page.getByText(/are like it/).waitFor();
    await expect.poll(() => heard(page).count()).toBe(8);
    await card(page).getByText("Agrees:").waitFor();
    // A snare that is clicked becomes a kick, and a kick goes.
    await heard(page).nth(1).click();
    await expect.poll(() => heard(page).nth(1).getAttribute("aria-label")).toMatch(/^kick/);
    await heard(page).nth(1).click();
    await expect.poll(() => heard(page).count()).toBe(7);
    await knock(page).getByRole("button", { name: "Clear" }).click();
    await page.getByText(/^\d+ patterns/).waitFor();
  });

  it("are given names, tags and stars that stay, are found by their words, and swept over", async () => {
    const page = await pages.open("/");
    await openProject(page, "Tin Orchard");
    await openPatterns(page);
    const count = async () => Number(/\d+/.exec((await page.getByText(/^\d+ patterns?/).textContent()) ?? "")?.[0]);
    const whole = await count();
    const options = list(page).getByRole("option");
    await options.nth(3).click();
    const cutName = (await card(page).getByRole("heading").first().textContent()) ?? "";
    // One right after the other: none takes the place of another.
    await card(page).getByRole("button", { name: "Favourite" }).click();
    await card(page).getByRole("textbox", { name: "Add a tag" }).fill("Zigzag");
    await page.keyboard.press("Enter");
    await card(page).getByRole("button", { name: cutName, exact: true }).click();
    await card(page).getByRole("textbox", { name: "Name of the pattern" }).fill("  Slow zephyr ");
    await page.keyboard.press("Enter");
    await card(page).getByRole("heading", { name: "Slow zephyr" }).waitFor();
    await page.locator("button:focus", { hasText: "Slow zephyr" }).waitFor();

    // It is kept, also what was said just before the page was left and did not arrive, and what it is of is still said.
    const isSetting = (request: Request) => request.method() === "PUT" && request.url().endsWith("/api/patterns");
    const refuse = (route: Route) => (isSetting(route.request()) ? route.abort() : route.continue());
    await page.route("**/api/patterns", refuse);
    for (const tag of ["Soon", "Late"]) {
      await card(page).getByRole("textbox", { name: "Add a tag" }).fill(tag);
      await page.keyboard.press("Enter");
      await card(page)
        .getByRole("button", { name: `Remove the tag ${tag.toLowerCase()}` })
        .waitFor();
    }
    await page.getByText("The application does not answer.").waitFor();
    await page.unroute("**/api/patterns", refuse);
    const sent = page.waitForResponse((answer) => isSetting(answer.request()) && answer.ok());
    await page.reload();
    await sent;
    const words = page.getByRole("searchbox", { name: "Find a pattern by its words" });
    await words.fill("zigz");
    await page.waitForFunction(() => !document.body.textContent.includes("takes are still being cut"));
    await expect.poll(count).toBe(1);
    await card(page).getByRole("heading", { name: "Slow zephyr" }).waitFor();
    await card(page).getByText(`${cutName}: `).waitFor();
    for (const tag of ["soon", "late"]) {
      await card(page)
        .getByRole("button", { name: `Remove the tag ${tag}` })
        .click();
    }
    await expect
      .poll(() => card(page).getByRole("button", { name: "Favourite" }).getAttribute("aria-pressed"))
      .toBe("true");
    await words.fill("zeph slow");
    await expect.poll(count).toBe(1);
    await words.fill("");
    await page.getByRole("button", { name: /^Which/ }).click();
    await page.getByRole("menuitemradio", { name: "favourites" }).click();
    await expect.poll(count).toBe(1);
    await page.getByRole("button", { name: /^Tag:/ }).click();
    await page.getByRole("menuitemradio", { name: "zigzag" }).click();
    await expect.poll(count).toBe(1);
    // Taken back, nothing is left of it.
    await card(page).getByRole("button", { name: "Remove the tag zigzag" }).click();
    await expect.poll(count).toBe(0);
    await page.getByRole("button", { name: "List all again" }).click();
    await expect.poll(count).toBe(whole);

    // The field lies by other sides, and what is swept over is listed.
    await page.getByRole("button", { name: /^To the right/ }).click();
    await page.getByRole("menuitemradio", { name: "how fast" }).click();
    const field = (await page.getByRole("img", { name: /^\d+ patterns by how fast and how hard$/ }).boundingBox())!;
    await page.mouse.move(field.x + field.width * 0.6, field.y + 8);
    await page.mouse.down();
    await page.mouse.move(field.x + field.width - 4, field.y + field.height - 30, { steps: 5 });
    await page.mouse.up();
    await page.getByText(/swept over\./).waitFor();
    const swept = await count();
    expect(swept).toBeGreaterThan(2);
    expect(swept).toBeLessThan(whole);
    await page.getByRole("button", { name: "All again" }).click();
    await expect.poll(count).toBe(whole);
  });

  it("of a take are on the shelf as the take goes out: cleaned, and not as they were recorded", async () => {
    const page = await pages.open("/");
    const loose = SMALL.map(([note, tick, velocity], at): Struck => [note, tick + 40 + ((at * 7) % 13), velocity]);
    const recorded = fileOf(loose);
    await importBytes(page, "Loose.mid", recorded);
    await page.getByRole("button", { name: "Quantize each on its own grid" }).click();
    await page.getByText(/^Quantized \d voices/).waitFor();
    const cleaned = struckIn((await exportBytes(page)).bytes).filter(([, tick]) => tick < 2 * 4 * PPQ);
    expect(cleaned).not.toEqual(struckIn(recorded).filter(([, tick]) => tick < 2 * 4 * PPQ));
    await openPatterns(page);
    await list(page)
      .getByRole("option", { name: /Loose, 1–2/ })
      .click();
    const written = async () => {
      const [download] = await Promise.all([
        page.waitForEvent("download"),
        card(page).getByRole("button", { name: "Save as a file" }).click(),
      ]);
      const chunks: Buffer[] = [];
      for await (const chunk of await download.createReadStream()) chunks.push(chunk as Buffer);
      return struckIn(new Uint8Array(Buffer.concat(chunks)));
    };
    expect(await written()).toEqual(cleaned);
    // It has the settings of its take already, and is not quantized again.
    await page.getByRole("button", { name: /^Settings: / }).click();
    await page.getByRole("menuitemradio", { name: "with the settings of the take" }).click();
    await page.getByRole("button", { name: "Settings: with the settings of the take" }).waitFor();
    expect(await written()).toEqual(cleaned);
  });

  it("say what is no knock, and go out as files", async () => {
    const page = await pages.open("/");
    await openProject(page, "Moth Parade");
    await openPatterns(page);
    await knock(page)
      .getByRole("button", { name: /^How long/ })
      .click();
    await page.getByRole("menuitemradio", { name: "as long as it lasts, without a click" }).click();
    await knock(page).getByRole("button", { name: "Listen", exact: true }).click();
    await page.keyboard.press("s");
    await page.getByText("One stroke is no rhythm yet. Knock two or more.").waitFor();
    await knock(page).getByRole("button", { name: "Clear" }).click();
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      card(page).getByRole("button", { name: "Save as a file" }).click(),
    ]);
    const chunks: Buffer[] = [];
    for await (const chunk of await download.createReadStream()) chunks.push(chunk as Buffer);
    const { file } = readMidiFile(new Uint8Array(Buffer.concat(chunks)));
    expect(file.tracks.flatMap(({ messages }) => messages.filter(isNoteOn)).length).toBeGreaterThan(5);
    expect(download.suggestedFilename()).toMatch(/\.mid$/);

    // A new one is made of pieces of others; all that is listed goes out as files in one go.
    const listed = await list(page).getByRole("option").first().textContent();
    await card(page).getByRole("button", { name: "A new one like it" }).click();
    await card(page).getByRole("heading", { name: "New 1" }).waitFor();
    await expect.poll(() => list(page).getByRole("option").first().textContent()).not.toBe(listed);
    // A knock finds it as any other.
    await knock(page).getByRole("button", { name: "Let the stand-in player knock it" }).click();
    await page.getByText(/are like it/).waitFor();
    await list(page).getByRole("option").filter({ hasText: "New 1" }).waitFor();
    await knock(page).getByRole("button", { name: "Clear" }).click();
    await page.getByRole("button", { name: /^Kind/ }).click();
    await page.getByRole("menuitemradio", { name: "breaks" }).click();
    await narrow(page, "Slowest", "90");
    await narrow(page, "Fastest", "150");
    await narrow(page, "Fullest", "14");
    const [zip] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("button", { name: "Save all" }).click(),
    ]);
    const parts: Buffer[] = [];
    for await (const chunk of await zip.createReadStream()) parts.push(chunk as Buffer);
    const files = unzipSync(new Uint8Array(Buffer.concat(parts)));
    const { patterns } = JSON.parse(strFromU8(files["patterns.json"]!));
    expect(Object.keys(files)).toHaveLength(patterns.length + 1);
    expect(patterns.length).toBeGreaterThan(2);
    type Listed = { kind: string; bpm: number; fullness: number };
    for (const { kind, bpm, fullness } of patterns as Listed[]) {
      expect(kind).toBe("break");
      expect(bpm).toBeGreaterThanOrEqual(90);
      expect(bpm).toBeLessThanOrEqual(150);
      expect(fullness).toBeLessThanOrEqual(14.05);
    }
    // A number that is given up in mid-drag lists what was listed before.
    const count = () => page.getByText(/^\d+ patterns/).textContent();
    const before = await count();
    await page.getByRole("button", { name: /^Fullest:/ }).click();
    const rail = await restingBox(page.getByRole("dialog", { name: "Fullest" }).getByRole("slider"));
    await page.mouse.move(rail.x + rail.width / 2, rail.y + rail.height / 2);
    await page.mouse.down();
    await page.mouse.move(rail.x + 2, rail.y + rail.height / 2, { steps: 4 });
    await expect.poll(count).not.toBe(before);
    await page.keyboard.press("Escape");
    await expect.poll(count).toBe(before);
    await page.mouse.up();
    await expect.poll(() => count()).toBe(before);
  });
});
