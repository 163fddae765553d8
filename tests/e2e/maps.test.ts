import { readFileSync } from "node:fs";
import type { Download, Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { GENERAL_MIDI, writeNamesDocument, writeXml } from "../../src/core/notemap/index.ts";
import { type MidiMessage, readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes, goToScreen, importBytes } from "./browser-tools.ts";
import { fileOf, PPQ, type Struck, strokesOf } from "./small-take.ts";

const pages = usePages();
const deck = new Uint8Array(readFileSync("demo/slack-water-deck-kit.mid"));
const moth = new Uint8Array(readFileSync("demo/moth-parade.mid"));

const textOf = async (download: Download) => readFileSync((await download.path())!, "utf8");
const rowOf = (page: Page, drum: string) => page.getByRole("rowgroup", { name: drum, exact: true });
const nav = (page: Page) => page.getByRole("navigation", { name: "Maps" });
const noteOns = (messages: readonly MidiMessage[]) =>
  messages.flatMap((one) => (one.kind === "channel" && one.status >> 4 === 9 && one.data2 > 0 ? [one] : []));

/** Imports a take and goes to its map. */
async function openMap(page: Page, name: string, bytes: Uint8Array): Promise<void> {
  await importBytes(page, `${name}.mid`, bytes);
  await goToScreen(page, "Note maps");
  await page.getByRole("main", { name: "Note map" }).waitFor();
}

describe("an odd note of a kit", () => {
  it("is pointed at when it comes in, and once it is named the export offers to send it as all know it", async () => {
    const page = await pages.open();
    const struck = Array.from({ length: 16 }, (_, bar): readonly Struck[] => [
      ...[0, 2].map((beat): Struck => [36, (4 * bar + beat) * PPQ, 100]),
      ...[1, 3].map((beat): Struck => [38, (4 * bar + beat) * PPQ, 96]),
      ...Array.from({ length: 8 }, (_, eighth): Struck => [42, 4 * bar * PPQ + eighth * 240, 80]),
      ...(bar % 6 === 2 ? [[73, (4 * bar + 3.5) * PPQ, 90] as const] : []),
    ]).flat();
    await importBytes(page, "Odd note.mid", fileOf(struck, 16));
    const note = page.getByRole("region", { name: "What was imported" });
    await note.getByText("3 hits on note 73, Guiro in General MIDI percussion: likely Snare, rim shot.").waitFor();
    await note.getByRole("button", { name: "See guesses" }).click();
    await page.getByRole("button", { name: "Accept the guess for note 73" }).click();
    await page.keyboard.press("Escape");
    const sent = async () => {
      const { bytes } = await exportBytes(page);
      return [73, 40].map((number) => strokesOf(bytes, number).length);
    };
    // To name it changes what is heard, and not what is written.
    expect(await sent()).toEqual([3, 0]);
    await page.getByRole("button", { name: "Export", exact: true }).click();
    const sheet = page.getByRole("dialog", { name: "Export" });
    await sheet.getByText("Snare, rim shot: 3 hits stay on note 73, which is Guiro in General MIDI.").waitFor();
    await sheet.getByRole("button", { name: "Send them as note 40" }).click();
    await expect.poll(() => sheet.getByText(/stay on note 73/).count()).toBe(0);
    await page.keyboard.press("Escape");
    expect(await sent()).toEqual([0, 3]);
    // The map of the take remembers it, also for what is played in later; and it is one step.
    await page.getByText("Saved", { exact: true }).waitFor();
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    expect(await sent()).toEqual([0, 3]);
    await page.keyboard.press("Control+z");
    await expect.poll(sent).toEqual([3, 0]);
  });
});

describe("a take from an odd kit", () => {
  it("reads like a drum chart within ten actions, and goes out as it came", async () => {
    const page = await pages.open();
    let actions = 1; // dropping the file
    await openMap(page, "Deck", deck);
    actions++;
    await page.getByText("292 hits came in: 195 have a name, 97 do not.").waitFor();
    await page.getByText("the pedal opens right before it").waitFor();
    const act = async (name: string | RegExp) => {
      await page.getByRole("button", { name }).click();
      actions++;
    };
    // What is sure enough, at once; then the few that are not, by ear and by name.
    await act("Take 5 of 7");
    await rowOf(page, "Ride").getByText("124").waitFor();
    const choose = async (drum: string, comesInAs: string, note: string) => {
      await act(comesInAs);
      const form = page.getByRole("form", { name: drum });
      await form.getByLabel("Note").fill(note);
      await form.getByRole("button", { name: "No note" }).click();
      actions++;
    };
    await choose("Timbales, high comes in as", "Timbales, high comes in as: 65", "65");
    await page
      .getByRole("listitem")
      .filter({ hasText: "Note 65" })
      .getByRole("button", { name: /is heard as/ })
      .click();
    await page.getByRole("menuitemradio", { name: "Hi-hat, foot" }).click();
    actions += 2;
    expect(actions).toBeLessThan(10);
    for (const [drum, count] of [
      ["Ride", "124"],
      ["Snare", "36"],
      ["Kick", "51"],
      ["Crash", "5"],
    ] as const) {
      await rowOf(page, drum).getByText(count, { exact: true }).waitFor();
    }
    const hats = rowOf(page, "Hi-hat");
    await hats.getByRole("button", { name: "Hi-hat, closed comes in as: 26, pedal 90–127" }).waitFor();
    await hats.getByText("6", { exact: true }).waitFor();
    await hats.getByText("18", { exact: true }).waitFor();

    // On the Bench the lanes are those of a kit, and the file is still the recording.
    await goToScreen(page, "Bench");
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await page
      .getByRole("button", { name: /^Hi-hat/ })
      .first()
      .click();
    await page.getByRole("heading", { name: "Hi-hat 60 hits" }).waitFor();
    expect(Buffer.compare((await exportBytes(page)).bytes, deck)).toBe(0);
  });

  it("is given a map of its own, drum by drum, from what its notes look like", async () => {
    const page = await pages.open();
    await openMap(page, "Bare", deck);
    await page.getByRole("button", { name: "New map" }).click();
    await page.getByText("This map has no drums yet.").waitFor();
    await nav(page).getByRole("button", { name: /^Bare/ }).click();
    await page.getByRole("button", { name: /^Comes in/ }).click();
    await page.getByRole("menuitemradio", { name: /New map/ }).click();
    await page.getByRole("heading", { name: "10 unmapped notes" }).waitFor();
    await page.getByText("looks like Ride, bow").waitFor();
    await page.getByRole("button", { name: "Accept the guess for note 72" }).click();
    await rowOf(page, "Ride").getByText("124").waitFor();
    // One note whose pedal says which stroke of the hats it is.
    await page.getByRole("button", { name: "Accept the guess for note 26" }).click();
    await rowOf(page, "Hi-hat").getByText("26, pedal 90–127").waitFor();
    await page.getByRole("heading", { name: "8 unmapped notes" }).waitFor();
    await page.keyboard.press("Control+z");
    await page.getByRole("heading", { name: "9 unmapped notes" }).waitFor();
    await expect.poll(() => rowOf(page, "Hi-hat").count()).toBe(0);
  });

  it("brings up the entry of a pad that is struck, on screen, by key, and on a MIDI device", async () => {
    const page = await pages.open();
    await page.addInitScript(() => {
      const input = { name: "Galley pads", onmidimessage: null as null | ((event: unknown) => void) };
      const access = { inputs: new Map([["1", input]]), onstatechange: null };
      Object.assign(navigator, { requestMIDIAccess: async () => access });
      Object.assign(window, {
        strikePad: (...data: number[]) => input.onmidimessage?.({ data: Uint8Array.from(data) }),
      });
    });
    await page.reload();
    await openMap(page, "Listen", deck);
    await page.getByRole("button", { name: "Listen", exact: true }).click();
    await page.getByText("Hearing Galley pads, and the pads below.").waitFor();
    const struck = page.locator("[data-struck]");

    await page.getByRole("button", { name: /^Pad 72 . Whistle, long/ }).click();
    await expect.poll(() => struck.textContent()).toContain("72");
    await page.keyboard.press("2");
    await expect.poll(() => struck.textContent()).toContain("Note 24");
    // A note that the take does not have, named as soon as it is struck.
    await page.evaluate(() => (window as unknown as { strikePad(...data: number[]): void }).strikePad(0x99, 11, 100));
    await page.getByText("just struck").waitFor();
    await page.getByRole("button", { name: "Note 11 is heard as: unmapped" }).click();
    await page.getByRole("menuitemradio", { name: "Cowbell" }).click();
    await rowOf(page, "Cowbell").getByRole("button", { name: "Cowbell comes in as: 11" }).waitFor();
    await page.getByRole("button", { name: "Stop listening" }).click();
    await expect.poll(() => struck.count()).toBe(0);
  });
});

describe("the map of a take", () => {
  it("refuses what two entries claim, with the reason, and takes what a channel or the pedal tells apart", async () => {
    const page = await pages.open();
    await openMap(page, "Conflict", moth);
    await page.getByRole("button", { name: "Snare, centre comes in as: 38" }).click();
    const form = page.getByRole("form", { name: "Snare, centre comes in as" });
    await form.getByLabel("Note").fill("36");
    await form.getByRole("button", { name: "Take" }).click();
    await form.getByText("Note 36 is claimed twice: by Kick, main and by Snare, centre.").waitFor();
    await form.getByLabel("Note").fill("300");
    await form.getByRole("button", { name: "Take" }).click();
    await form.getByText("Type a note from 0 to 127.").waitFor();
    await form.getByLabel("Note").fill("38");
    await form.getByLabel("Channel").fill("10");
    await form.getByRole("button", { name: "Take" }).click();
    await page.getByRole("button", { name: "Snare, centre comes in as: 38, channel 10" }).waitFor();
    await page.keyboard.press("Control+z");
    await page.getByRole("button", { name: "Snare, centre comes in as: 38", exact: true }).waitFor();
  });

  it("is renamed in place, and a name that cannot be is refused where it was typed", async () => {
    const page = await pages.open();
    await openMap(page, "Names", moth);
    const rename = async (from: string, to: string) => {
      await page.getByRole("button", { name: from, exact: true }).first().click();
      await page.getByRole("textbox", { name: from, exact: true }).fill(to);
      await page.keyboard.press("Enter");
    };
    await rename("Kick", "<b>Bass</b> drum");
    await rowOf(page, "<b>Bass</b> drum").waitFor();
    await rename("Snare", "x".repeat(10_000));
    await page.getByText("This name has 10,000 characters. Names can have 60.").waitFor();
    await page.keyboard.press("Escape");
    await rename("Snare", "ride");
    await page.getByText("Another drum is called Ride.").waitFor();
    await page.keyboard.press("Escape");
    // It is the name of the lane as well, and text, never markup.
    await goToScreen(page, "Bench");
    await page
      .getByRole("button", { name: /^<b>Bass<\/b> drum/ })
      .first()
      .waitFor();
    await expect.poll(() => page.locator("b").count()).toBe(0);
  });

  it("is ordered by drag and by keys, coloured, and the lanes follow", async () => {
    const page = await pages.open();
    await openMap(page, "Order", moth);
    const drums = () =>
      page.getByRole("rowgroup").evaluateAll((all) => all.map((one) => one.getAttribute("aria-label")));
    expect((await drums()).slice(0, 3)).toEqual(["China", "Crash", "Ride"]);
    const handle = (name: string) => page.getByRole("button", { name: new RegExp(`^Move ${name};`) });
    await handle("Ride").focus();
    await page.keyboard.press("Alt+ArrowUp");
    await expect.poll(drums).toEqual(expect.arrayContaining(["China", "Ride", "Crash"]));
    expect((await drums()).slice(0, 3)).toEqual(["China", "Ride", "Crash"]);
    const from = (await handle("Kick").boundingBox())!;
    const to = (await rowOf(page, "China").boundingBox())!;
    await page.mouse.move(from.x + 5, from.y + 5);
    await page.mouse.down();
    await page.mouse.move(from.x + 5, from.y - 20, { steps: 4 });
    await page.mouse.move(from.x + 5, to.y + 4, { steps: 12 });
    await page.mouse.up();
    await expect.poll(async () => (await drums())[0]).toBe("Kick");
    await page.getByRole("button", { name: "More of Kick" }).click();
    await page.getByText("Colour", { exact: true }).hover();
    await page.getByRole("menuitemradio", { name: "toms" }).click();
    await goToScreen(page, "Bench");
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    const heads = page.getByRole("main", { name: "Lanes" }).locator("button[aria-expanded] .font-bold");
    const [first] = await heads.allTextContents();
    expect(first).toMatch(/^Kick/);
    await page.getByRole("button", { name: /^Kick/ }).first().click();
    await page.getByRole("button", { name: "Lane menu" }).click();
    await page.getByRole("button", { name: "Colour: toms" }).waitFor();
  });

  it("tells notes apart that are never used, finds them by name and number, and sounds them", async () => {
    const page = await pages.open();
    await openMap(page, "Find", moth);
    await expect.poll(() => rowOf(page, "Cowbell").count()).toBe(0);
    await page.getByLabel("with 52 never used").check();
    await rowOf(page, "Cowbell").getByText("never used").waitFor();
    await page.getByRole("searchbox").fill("rim");
    await rowOf(page, "Snare").getByText("rim shot").waitFor();
    await expect.poll(() => page.getByRole("rowgroup").count()).toBe(1);
    await page.getByRole("searchbox").fill("56");
    await rowOf(page, "Cowbell").waitFor();
    for (const loudness of ["soft", "medium", "loud"]) {
      await page.getByRole("button", { name: `Hear Cowbell, ${loudness}` }).click();
    }
    await page.getByRole("searchbox").fill("gong");
    await page.getByText("Nothing found for “gong”.").waitFor();
    await page.getByRole("searchbox").fill("");
    await page.getByRole("button", { name: "Order: in lane order" }).click();
    await page.getByRole("menuitemradio", { name: "by hits" }).click();
    const [most] = await page
      .getByRole("rowgroup")
      .evaluateAll((all) => all.map((one) => one.getAttribute("aria-label")));
    expect(most).toBe("Hi-hat");
  });
});

describe("maps on the shelf", () => {
  it("are made, copied, renamed, changed, undone, taken off and put back", async () => {
    const page = await pages.open();
    await openMap(page, "Shelf", moth);
    await nav(page)
      .getByRole("button", { name: /^General MIDI percussion/ })
      .click();
    await page.getByText("It comes with the application. Copy it to change it.").waitFor();
    await page.getByRole("button", { name: "Copy" }).click();
    await page.getByRole("button", { name: "General MIDI percussion copy", exact: true }).click();
    await page.getByRole("textbox", { name: "this map" }).fill("Forecastle kit");
    await page.keyboard.press("Enter");
    await nav(page)
      .getByRole("button", { name: /^Forecastle kit/ })
      .waitFor();
    await page.getByRole("button", { name: "Kick, main goes out as: 36" }).click();
    const form = page.getByRole("form", { name: "Kick, main goes out as" });
    await form.getByLabel("Note").fill("24");
    await form.getByRole("button", { name: "Take" }).click();
    await page.getByRole("button", { name: "Kick, main goes out as: 24" }).waitFor();
    await page.keyboard.press("Control+z");
    await page.getByRole("button", { name: "Kick, main goes out as: 36" }).waitFor();
    await page.getByRole("button", { name: "Delete" }).click();
    await page.getByText("Deleted “Forecastle kit”.").waitFor();
    await expect.poll(() => nav(page).getByText("Forecastle kit").count()).toBe(0);
    await page.getByRole("button", { name: "Undo" }).last().click();
    await nav(page)
      .getByRole("button", { name: /^Forecastle kit/ })
      .click();
    // The order in which changes were made reached the disk.
    await page.reload();
    await nav(page)
      .getByRole("button", { name: /^Forecastle kit/ })
      .click();
    await page.getByRole("button", { name: "Kick, main goes out as: 36" }).waitFor();
  });

  it("name what comes in and route what goes out, and the export says beforehand what falls back", async () => {
    const page = await pages.open();
    await openMap(page, "Routes", moth);
    const kit = {
      ...GENERAL_MIDI,
      name: "Wheelhouse",
      entries: GENERAL_MIDI.entries
        .filter(({ note }) => note !== 46 && note !== 39)
        .map((entry) => (entry.note === 36 ? { ...entry, note: 12 } : entry)),
    };
    const { id: _, ...rest } = kit;
    const file = JSON.stringify({ format: "idle-marten-note-map", version: 1, ...rest });
    await page
      .getByLabel("A file with a note map")
      .setInputFiles({ name: "wheelhouse.json", mimeType: "application/json", buffer: Buffer.from(file) });
    await nav(page)
      .getByRole("button", { name: /^Wheelhouse/ })
      .waitFor();
    await page.getByRole("button", { name: "Export for this kit" }).click();
    await page.getByText("Routes is exported for Wheelhouse.").waitFor();
    await nav(page)
      .getByRole("button", { name: /^Routes/ })
      .click();
    await page.getByRole("button", { name: "Goes out: to Wheelhouse" }).waitFor();
    await rowOf(page, "Hi-hat").getByText("42, as closed").waitFor();
    await goToScreen(page, "Bench");
    await page.getByRole("button", { name: "Export", exact: true }).click();
    const sheet = page.getByRole("dialog", { name: "Export" });
    await sheet.getByText("It goes out to Wheelhouse.").waitFor();
    await sheet.getByText("Hi-hat, open is played as Hi-hat, closed").waitFor();
    await sheet.getByText("Hand clap has no note there: it keeps note 39").waitFor();
    await page.keyboard.press("Escape");
    const { bytes } = await exportBytes(page);
    const before = readMidiFile(moth).file;
    const after = readMidiFile(bytes).file;
    const count = (messages: readonly MidiMessage[], key: number) =>
      noteOns(messages).filter(({ data1 }) => data1 === key).length;
    const [kitBefore, kitAfter] = [before.tracks[1]!.messages, after.tracks[1]!.messages];
    expect(count(kitAfter, 12)).toBe(count(kitBefore, 36));
    expect(count(kitAfter, 42)).toBe(count(kitBefore, 42) + count(kitBefore, 46));
    expect(count(kitAfter, 39)).toBe(count(kitBefore, 39));
    expect(kitAfter).toHaveLength(kitBefore.length);
    expect([after.tracks[0], ...after.tracks.slice(2)]).toEqual([before.tracks[0], ...before.tracks.slice(2)]);
  });

  it("go out and come in as MIDI Names and as our own form, and what is broken is refused in a sentence", async () => {
    const page = await pages.open();
    await openMap(page, "Forms", moth);
    const give = (name: string, text: string) =>
      page
        .getByLabel("A file with a note map")
        .setInputFiles({ name, mimeType: "application/xml", buffer: Buffer.from(text) });
    await give("capstan.midnam", writeXml(writeNamesDocument({ ...GENERAL_MIDI, name: "Capstan & <co>" }).root));
    await nav(page)
      .getByRole("button", { name: /^Capstan & <co>/ })
      .click();
    const save = async (name: string) => {
      const [download] = await Promise.all([page.waitForEvent("download"), page.getByRole("button", { name }).click()]);
      return textOf(download);
    };
    const names = await save("Export MIDI Names");
    expect(names).toContain('<Note Number="40" Name="Snare, rim shot"/>');
    expect(JSON.parse(await save("Export JSON"))).toMatchObject({
      format: "idle-marten-note-map",
      name: "Capstan & <co>",
    });

    await give("cut.midnam", names.slice(0, 900));
    await page.getByText(/This is not well-formed XML/).waitFor();
    await give("bomb.midnam", '<!DOCTYPE x [<!ENTITY a "ha">]><x>&a;</x>');
    await page.getByText(/brings definitions of its own, which we do not run/).waitFor();
    await give("take.json", '{"format":"idle-marten-note-map"}');
    await page.getByText(/The map is not in the form we expect/).waitFor();
    await give("notes.txt", "kick, snare");
    await page.getByText("notes.txt is not a note map.").waitFor();
  });
});
