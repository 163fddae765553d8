import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { isNoteOn, readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { goToScreen, importBytes, paintedFins } from "./browser-tools.ts";
import { card, heard, knock, list, ofPlayer, openPatterns, options, savedTake } from "./patterns-page.ts";
import { fileOf, SMALL } from "./small-take.ts";

// What is made of patterns: played several times, of pieces, in their place in a take, and the whole job with one.

const pages = usePages();

describe("patterns", () => {
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
    const take = await savedTake(page);
    expect(take.lengthTicks).toBe((4 + 4 * bars) * 1920);
    const drawn = take.hits.filter(({ recordedTick }) => recordedTick === null);
    const crashes = drawn.filter(({ voiceId }) => voiceId === "crash").map(({ pinnedTick }) => pinnedTick);
    expect(crashes[0]).toBeLessThan(4 * 1920 + 30);
    expect(drawn.some(({ articulationId }) => articulationId === "open")).toBe(true);
    // Chosen, a place is what the key puts it before.
    await song.getByRole("radio", { name: "Before The take" }).click();
    await card(page).getByRole("button", { name: "Put into the song" }).click();
    await page.getByText(/is before “The take” in the song/).waitFor();
    const { arrangement } = await savedTake(page);
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
      await card(page).getByRole("button", { name: "Use as a piece", pressed: true }).waitFor();
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
    await expect.poll(() => told.textContent()).toMatch(/kick of Cabin wake.*last bar of Lantern drift/);
    await expect.poll(() => told.textContent()).not.toMatch(/snare of/);
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
    const before = await savedTake(page);
    await card(page).getByRole("button", { name: "Lay on the take" }).click();
    await page.getByText(/hits of .* were added from bar 2 on/).waitFor();
    const after = await savedTake(page);
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

    await goToScreen(page, "Bench");
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
    const { hits } = await savedTake(page);
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
});
