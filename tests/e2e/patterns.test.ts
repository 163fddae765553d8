import { readFileSync } from "node:fs";
import { strFromU8, unzipSync } from "fflate";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import type { Pattern } from "../../src/core/document/index.ts";
import { isNoteOn, readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { importBytes, openProject, paintedFins, restingBox } from "./browser-tools.ts";
import { device, withDevice } from "./simulated-device.ts";
import { fileOf, SMALL } from "./small-take.ts";

// Patterns that are found by knocking, made fuller and softer, heard, and put into the song.

const pages = usePages();
const list = (page: Page) => page.getByRole("listbox", { name: "Patterns" });
const options = (page: Page) => list(page).getByRole("option");
/** A pattern of the stand-in drummer: others of its name may have been put into takes. */
const ofPlayer = (page: Page, name: string) => {
  const shipped = options(page).filter({ hasText: "the stand-in drummer" });
  return shipped.filter({ hasText: name }).first();
};
const card = (page: Page) => page.getByRole("complementary", { name: "Pattern" });
const knock = (page: Page) => page.getByRole("region", { name: "Knock" });
const heard = (page: Page) => knock(page).getByRole("group", { name: "What was heard" }).getByRole("button");

async function openPatterns(page: Page): Promise<void> {
  await page.getByRole("link", { name: "Patterns" }).click();
  await list(page).getByRole("option").first().waitFor();
  await page.waitForFunction(() => !document.body.textContent.includes("takes are still being cut"));
}

/** Types a number of the sentence that narrows the list. */
async function narrow(page: Page, label: string, value: string): Promise<void> {
  await page.getByRole("button", { name: new RegExp(`^${label}:`) }).click();
  await page.getByRole("textbox", { name: label }).fill(value);
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: `${label}: ${value}` }).waitFor();
}

/** The take as it is on the disk, when all is saved. */
async function saved(page: Page): Promise<Pattern> {
  await page.getByText("Saved", { exact: true }).waitFor();
  const id = /(?:patterns|bench)\/([^/?]+)/.exec(page.url())![1]!;
  const answer = await page.evaluate(async (one) => (await fetch(`/api/projects/${one}`)).json(), id);
  return answer.value.pattern;
}

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
      Number(/(\d+) strokes/.exec((await card(page).getByRole("img").getAttribute("aria-label")) ?? "")?.[1]);
    const before = await strokes();
    const fewer = card(page).getByRole("slider", { name: "Kick", exact: true });
    await fewer.focus();
    await fewer.press("ArrowLeft");
    await card(page).getByText("1 left out").waitFor();
    expect(await strokes()).toBe(before - 1);
    const more = card(page).getByRole("slider", { name: "Snare", exact: true });
    await more.focus();
    await more.press("ArrowRight");
    await card(page).getByText("1 added").waitFor();
    // What is added is named, and kept or thrown out by itself: one that is kept stays while the others are other ones.
    const added = card(page).getByRole("list", { name: "Added strokes" });
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
    expect(await added.evaluate((element) => element === document.activeElement)).toBe(true);
    await more.focus();
    await more.press("ArrowRight");
    await card(page).getByText("2 added").waitFor();
    expect(await namesOf()).not.toContain(other);
    await more.press("ArrowLeft");
    await expect.poll(namesOf).toEqual([wantedOne]);
    await card(page)
      .getByText(/^Counts least, of 3: /)
      .waitFor();
    const softer = card(page).getByRole("slider", { name: "Kick velocity" });
    await softer.focus();
    await softer.press("ArrowLeft");
    await expect.poll(strokes).toBe(before);

    const take = await saved(page);
    await card(page).getByRole("button", { name: "Put into the song" }).click();
    await page.getByText(/is at the end of the song, in bars/).waitFor();
    const after = await saved(page);
    expect(after.hits).toHaveLength(take.hits.length + before);
    expect(after.lengthTicks).toBeGreaterThan(take.lengthTicks);
    expect(after.arrangement!.song.at(-1)!.patternId).toBe(after.arrangement!.patterns.at(-1)!.id);
    expect(after.arrangement!.patterns.at(-1)!.name).toContain(wanted.split(",")[0]!);
    await page.keyboard.press("Control+z");
    await expect.poll(async () => (await saved(page)).hits.length).toBe(take.hits.length);
    expect((await saved(page)).arrangement).toEqual(take.arrangement);
  });

  it("are played several times with what a drummer does at their ends, and dragged into the song or out of the page", async () => {
    const page = await pages.open("/");
    await importBytes(page, "Repeated.mid", fileOf(SMALL));
    await openPatterns(page);
    await page.getByRole("button", { name: /^Kind/ }).click();
    await page.getByRole("menuitemradio", { name: "grooves" }).click();
    await page.getByRole("button", { name: /^Meter/ }).click();
    await page.getByRole("menuitemradio", { name: "4/4", exact: true }).click();
    // Eighths on the hats.
    const name = "Cabin wake";
    await page.getByRole("searchbox", { name: "Find a pattern by its words" }).fill(name);
    await ofPlayer(page, name).click();
    await card(page).getByRole("heading", { name }).waitFor();
    const bars = Number(/, (\d+) bars?,/.exec((await card(page).textContent()) ?? "")?.[1]);
    await card(page)
      .getByRole("button", { name: /^Times:/ })
      .click();
    await page.getByRole("textbox", { name: "Times" }).fill("4");
    await page.keyboard.press("Enter");
    for (const [what, choice] of [
      ["Crash at the start", "with"],
      ["Open hat before the turn", "with"],
      ["Fill", "a fill every 4th time"],
    ] as const) {
      await card(page)
        .getByRole("button", { name: new RegExp(`^${what}`) })
        .click();
      await page.getByRole("menuitemradio", { name: choice, exact: true }).click();
    }
    await card(page).getByRole("button", { name: "other fills" }).waitFor();
    // Softer kicks, which are still softer when the page comes back.
    const softer = card(page).getByRole("slider", { name: "Kick velocity" });
    await softer.focus();
    await softer.press("ArrowLeft");
    await card(page).getByRole("button", { name: "Back to as it was played" }).waitFor();

    // A hand takes it from the list to the end of the song.
    const song = page.getByRole("radiogroup", { name: "Place in the song" });
    await ofPlayer(page, name).dragTo(song.getByRole("radio", { name: "At the end of the song" }));
    await page.getByText(/is at the end of the song, in bars 5 to/).waitFor();
    const take = await saved(page);
    expect(take.lengthTicks).toBe((4 + 4 * bars) * 1920);
    const drawn = take.hits.filter(({ recordedTick }) => recordedTick === null);
    const crashes = drawn.filter(({ voiceId }) => voiceId === "crash").map(({ pinnedTick }) => pinnedTick);
    expect(crashes[0]).toBeLessThan(4 * 1920 + 30);
    expect(drawn.some(({ articulationId }) => articulationId === "open")).toBe(true);
    // Chosen, a place is what the key puts it before.
    await song.getByRole("radio", { name: "Before The take" }).click();
    await card(page).getByRole("button", { name: "Put into the song" }).click();
    await page.getByText(/is before “The take” in the song/).waitFor();
    const { arrangement } = await saved(page);
    const named = new Map(arrangement!.patterns.map((one) => [one.id, one.name]));
    expect(arrangement!.song.map(({ patternId }) => named.get(patternId))).toEqual([`${name} 2`, "The take", name]);

    // Out of the page it is a file, for browsers that can.
    const fetched = page.waitForEvent("download");
    const [type, fileName] = await ofPlayer(page, name).evaluate((row) => {
      const dataTransfer = new DataTransfer();
      row.dispatchEvent(new DragEvent("dragstart", { bubbles: true, dataTransfer }));
      const [kind, file, ...url] = dataTransfer.getData("DownloadURL").split(":");
      // As the browser does where it is dropped.
      Object.assign(document.createElement("a"), { href: url.join(":"), download: file }).click();
      return [kind, file];
    });
    expect([type, fileName]).toEqual(["audio/midi", `${name}.mid`]);
    const { file } = readMidiFile(new Uint8Array(readFileSync((await (await fetched).path())!)));
    expect(file.tracks.flatMap(({ messages }) => messages.filter(isNoteOn))).toHaveLength(drawn.length);

    await page.reload();
    await list(page).getByRole("option").first().waitFor();
    await page.waitForFunction(() => !document.body.textContent.includes("takes are still being cut"));
    await page.getByRole("searchbox", { name: "Find a pattern by its words" }).fill(name);
    await ofPlayer(page, name).click();
    await card(page).getByText("1 softer").waitFor();
    await card(page).getByRole("button", { name: "Back to as it was played" }).click();
    await card(page).getByText("1 softer").waitFor({ state: "detached" });
  });

  it("are made anew of chosen pieces: the kick of one, the last bar of another", async () => {
    const page = await pages.open("/");
    await importBytes(page, "Pieces.mid", fileOf(SMALL));
    await openPatterns(page);
    const words = page.getByRole("searchbox", { name: "Find a pattern by its words" });
    const choose = async (name: string) => {
      await words.fill(name);
      await ofPlayer(page, name).click();
      await card(page).getByRole("heading", { name }).waitFor();
    };
    for (const name of ["Cabin wake", "Lantern drift"]) {
      await choose(name);
      await card(page).getByRole("button", { name: "Use as a piece" }).click();
      await card(page).getByRole("button", { name: "No piece any more" }).waitFor();
    }
    await choose("Quay walk");
    await card(page).getByText("of 2 pieces.").waitFor();
    for (const [label, choice] of [
      ["Kick of", "Cabin wake"],
      ["Snare of", "itself"],
      ["Last bar of", "Lantern drift"],
      ["Mixed", "bar by bar"],
    ] as const) {
      await card(page)
        .getByRole("button", { name: new RegExp(`^${label}`) })
        .click();
      await page.getByRole("menuitemradio", { name: choice, exact: true }).click();
    }
    await words.fill("");
    await card(page).getByRole("button", { name: "A new one like it" }).click();
    await card(page).getByRole("heading", { name: "New 1" }).waitFor();
    const told = card(page).getByText(/from Quay walk/);
    await told.waitFor();
    expect(await told.textContent()).toMatch(/kick of Cabin wake.*last bar of Lantern drift/);
    expect(await told.textContent()).not.toMatch(/snare of/);
    // Another press makes another one; a piece that is none any more is asked for no longer.
    await card(page).getByRole("button", { name: "Cabin wake is no piece" }).click();
    await card(page).getByText("of one piece.").waitFor();
    await card(page).getByRole("button", { name: "A new one like it" }).click();
    await card(page).getByRole("heading", { name: "New 2" }).waitFor();
    await expect
      .poll(() =>
        card(page)
          .getByText(/kick of Cabin wake/)
          .count(),
      )
      .toBeLessThan(2);
  });

  it("are heard alone as they were played, or in their place with the settings of the take", async () => {
    const page = await pages.open("/");
    await importBytes(page, "Placed.mid", fileOf(SMALL));
    await page.keyboard.press("Shift+T");
    await page.getByText(/^Quantized/).waitFor();
    await page.getByRole("button", { name: "Search" }).click();
    await page.getByRole("combobox").fill("select all hits of all lanes");
    await page.keyboard.press("Enter");
    await page.keyboard.press("Control+c");
    await page.getByText(/^Copied 25 hits/).waitFor();
    await openPatterns(page);
    // What was selected and copied, or a bar of the take, is as good a question as a knock.
    for (const [choice, count] of [
      ["the hits that were copied", 25],
      [/^bar 1 of the take/, 12],
    ] as const) {
      await knock(page).getByRole("button", { name: "Ask with …" }).click();
      await page.getByRole("menuitem", { name: choice }).click();
      await page.getByText(/are like it/).waitFor();
      await expect.poll(() => heard(page).count()).toBe(count);
    }
    await knock(page).getByRole("button", { name: "Clear" }).click();
    const foot = page.getByRole("contentinfo");
    for (const [what, choice] of [
      ["Settings", "with the settings of the take"],
      ["Heard", "between the bars before and after"],
    ] as const) {
      await foot.getByRole("button", { name: new RegExp(`^${what}`) }).click();
      await page.getByRole("menuitemradio", { name: choice }).click();
    }
    await foot.getByRole("button", { name: /^Bar of the take/ }).click();
    await page.getByRole("textbox", { name: "Bar of the take" }).fill("2");
    await page.keyboard.press("Enter");
    await page.getByRole("searchbox", { name: "Find a pattern by its words" }).fill("Quay walk");
    await ofPlayer(page, "Quay walk").click();
    await page.keyboard.press("Space");
    await foot.getByRole("button", { name: "Stop" }).waitFor();
    await page.keyboard.press("Space");
    const before = await saved(page);
    await card(page).getByRole("button", { name: "Lay on the take" }).click();
    await page.getByText(/hits of .* were added from bar 2 on/).waitFor();
    const after = await saved(page);
    const laid = after.hits.filter(({ id }) => before.hits.every((hit) => hit.id !== id));
    expect(laid.length).toBeGreaterThan(3);
    // The take's snare is quantized, and so is what was laid on it: on the beat, where it was played a little off.
    const snares = laid.filter(({ voiceId }) => voiceId === "snare").map(({ pinnedTick }) => pinnedTick! % 480);
    expect(snares.length).toBeGreaterThan(2);
    for (const off of snares) expect(Math.min(off, 480 - off)).toBeLessThanOrEqual(4);
  });

  it("are the whole job: knock, hear three, take one, fuller hats, softer kick, a break before bar 9, and a copy for the verse", async () => {
    const page = await pages.open("/");
    await importBytes(
      page,
      "Whole job.mid",
      fileOf(
        [
          [49, 0, 100],
          [49, 15 * 1920, 100],
        ],
        16,
      ),
    );
    await openPatterns(page);
    await page.getByRole("searchbox", { name: "Find a pattern by its words" }).fill("Cabin wake");
    await ofPlayer(page, "Cabin wake").click();
    await knock(page).getByRole("button", { name: "Let the stand-in player knock it" }).click();
    await page.getByText(/are like it/).waitFor();
    await page.getByRole("searchbox", { name: "Find a pattern by its words" }).fill("");
    await options(page).first().click();
    await page.keyboard.press("Space");
    for (const at of [1, 2]) {
      await page.keyboard.press("ArrowDown");
      await expect.poll(() => options(page).nth(at).getAttribute("aria-selected")).toBe("true");
    }
    await page.keyboard.press("Space");
    await ofPlayer(page, "Cabin wake").click();
    const softer = card(page).getByRole("slider", { name: "Kick velocity" });
    await softer.focus();
    for (let step = 0; step < 6; step++) await softer.press("ArrowLeft");
    await card(page).getByText("6 softer").waitFor();
    const fuller = card(page).getByRole("slider", { name: "Snare", exact: true });
    await fuller.focus();
    await fuller.press("ArrowRight");
    await card(page).getByText("1 added").waitFor();
    await card(page)
      .getByRole("button", { name: /^Times:/ })
      .click();
    await page.getByRole("textbox", { name: "Times" }).fill("4");
    await page.keyboard.press("Enter");
    await card(page).getByRole("button", { name: "Lay on the take" }).click();
    await page.getByText(/were added from bar 1 on/).waitFor();

    await page.getByRole("link", { name: "Bench" }).click();
    await paintedFins(page);
    for (let bar = 1; bar < 9; bar++) await page.keyboard.press("Control+ArrowRight");
    await page.getByText("9:1", { exact: true }).waitFor();
    const search = async (words: string) => {
      await page.keyboard.press("/");
      await page.getByRole("combobox").fill(words);
      await page.keyboard.press("Enter");
    };
    await search("break silence last beat");
    await page.getByText(/^Muted \d+ hits in the last beat of bar 8/).waitFor();
    await search("select all hits of all lanes");
    await page.keyboard.press("Control+c");
    await page.getByText(/^Copied \d+ hits/).waitFor();
    await page.keyboard.press("Control+v");
    await page.getByText(/^Pasted/).waitFor();
    const { hits } = await saved(page);
    const inBars = (first: number) =>
      hits
        .filter(({ voiceId }) => voiceId !== "crash")
        .filter(({ pinnedTick }) => pinnedTick !== null && Math.floor((pinnedTick + 60) / 1920 / 8) === first)
        .map(({ voiceId, pinnedTick, isMuted }) => `${voiceId} ${pinnedTick! - first * 8 * 1920} ${isMuted ?? false}`)
        .toSorted();
    expect(inBars(0).length).toBeGreaterThan(60);
    expect(inBars(0).some((hit) => hit.endsWith("true"))).toBe(true);
    expect(inBars(1)).toEqual(inBars(0));
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
    expect(await heard(page).count()).toBe(8);
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

    // It is kept, and what it is of is still said.
    await page.reload();
    const words = page.getByRole("searchbox", { name: "Find a pattern by its words" });
    await words.fill("zigz");
    await page.waitForFunction(() => !document.body.textContent.includes("takes are still being cut"));
    await expect.poll(count).toBe(1);
    await card(page).getByRole("heading", { name: "Slow zephyr" }).waitFor();
    await card(page).getByText(`${cutName}: `).waitFor();
    expect(await card(page).getByRole("button", { name: "Favourite" }).getAttribute("aria-pressed")).toBe("true");
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
    expect(await list(page).getByRole("option").first().textContent()).not.toBe(listed);
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
    expect(await count()).toBe(before);
  });
});
