import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { describe, expect, it } from "vitest";
import { readMidiFile, writeMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes, goToScreen, importBytes, openProject } from "./browser-tools.ts";
import { baseUrl } from "./own-server.ts";

const pages = usePages();
const kettle = new Uint8Array(readFileSync("demo/kettle-row.mid"));

describe("files that are not as they should be", () => {
  it("are read as far as they can be, and it is said what was recovered", async () => {
    const page = await pages.open();
    await importBytes(page, "Broken off.mid", kettle.subarray(0, 2500));
    await page.getByText(/The file is damaged in \d place/).click();
    await page.getByText(/Track 2 breaks off at byte \d+, \d+ bytes short of its header/).waitFor();
    const { bytes } = await exportBytes(page);
    const kept = readMidiFile(kettle.subarray(0, 2500)).file.tracks[1]!.messages;
    expect(readMidiFile(bytes).file.tracks[1]!.messages.slice(0, kept.length)).toEqual(kept);
    expect(readMidiFile(bytes).notices).toEqual([]);
  });

  it("are refused in one sentence when they are no MIDI", async () => {
    const page = await pages.open();
    await page
      .getByLabel("Recording to import")
      .setInputFiles({ name: "notes.mid", mimeType: "audio/midi", buffer: Buffer.from("just some words") });
    const alert = page.getByRole("alert").filter({ hasText: "notes.mid was not imported" });
    await alert.getByText("This is not a MIDI file: it has no MIDI header.").waitFor();
    await page.getByRole("link", { name: "Kettle Row", exact: true }).waitFor();
  });

  it("open with an honest empty Bench when they hold no notes, and are refused when they hold nothing", async () => {
    const page = await pages.open();
    const header = [0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 1, 0xe0];
    const track = (...bytes: number[]) => [0x4d, 0x54, 0x72, 0x6b, 0, 0, 0, bytes.length, ...bytes];
    const end = [0, 0xff, 0x2f, 0];
    for (const [name, bytes, words] of [
      ["No tracks.mid", header, "a header and no tracks"],
      ["No messages.mid", [...header, ...track(...end)], "holds no message: its track is empty"],
    ] as const) {
      await page
        .getByLabel("Recording to import")
        .setInputFiles({ name, mimeType: "audio/midi", buffer: Buffer.from(bytes) });
      await page
        .getByRole("alert")
        .filter({ hasText: `${name} was not imported` })
        .getByText(words)
        .waitFor();
    }
    const tempo = [0, 0xff, 0x51, 3, 7, 0xa1, 0x20];
    await importBytes(page, "Silence.mid", Uint8Array.from([...header, ...track(...tempo, ...end)]));
    await page.getByText("No drums were found in this file.").waitFor();
  });

  it("open with all 128 notes, each on a lane or with a name of its own, and go out as they came", async () => {
    const page = await pages.open();
    const messages = Array.from({ length: 128 }, (_, note) => [
      { kind: "channel" as const, tick: note * 60, status: 0x99, data1: note, data2: 90 },
      { kind: "channel" as const, tick: note * 60 + 30, status: 0x89, data1: note, data2: 64 },
    ]).flat();
    const file = { format: 0 as const, division: { kind: "ppq" as const, ppq: 480 }, unknownChunks: [] };
    const bytes = writeMidiFile({ ...file, headerExtra: new Uint8Array(0), tracks: [{ messages }] });
    await importBytes(page, "All notes.mid", bytes);
    await page.getByText("128 hits on").waitFor();
    await goToScreen(page, "Note maps");
    await page.getByText("128 hits came in: 61 have a name, 67 do not.").waitFor();
    await page.getByRole("heading", { name: "67 unmapped notes" }).waitFor();
    await goToScreen(page, "Bench");
    await page
      .getByRole("button", { name: /^Note 127/ })
      .first()
      .waitFor();
    expect(Buffer.compare((await exportBytes(page)).bytes, bytes)).toBe(0);
  });

  it("go out as they came when they are as large as may be", async () => {
    const page = await pages.open();
    const { file } = readMidiFile(kettle);
    const chunk = { id: "Pict", data: new Uint8Array(15 * 1024 * 1024).fill(7), beforeTrackIndex: file.tracks.length };
    const bytes = writeMidiFile({ ...file, unknownChunks: [chunk] });
    await importBytes(page, "With a picture.mid", bytes);
    await page.getByText("523 hits").first().waitFor();
    expect(Buffer.compare((await exportBytes(page)).bytes, bytes)).toBe(0);
  });

  it("are refused with the number when they hold more than a take can, and others go on being answered", async () => {
    const page = await pages.open();
    // Five million notes on three bytes each.
    const body = Buffer.alloc(15 * 1024 * 1024);
    for (let at = 0; at + 3 <= body.length; at += 3) body.set([(at / 3) % 2, 36 + (at % 40), 64], at);
    const track = Buffer.concat([Buffer.from([0, 0x99, 36, 64]), body, Buffer.from([0, 0xff, 0x2f, 0])]);
    const head = Buffer.from("MThd\0\0\0\x06\0\0\0\x01\0\x60MTrk\0\0\0\0", "latin1");
    head.writeUInt32BE(track.length, 18);
    await page
      .getByLabel("Recording to import")
      .setInputFiles({ name: "Flood.mid", mimeType: "audio/midi", buffer: Buffer.concat([head, track]) });
    const other = await (await fetch(`${baseUrl()}/api/projects`)).json();
    expect(other.ok).toBe(true);
    const alert = page.getByRole("alert").filter({ hasText: "Flood.mid was not imported" });
    await alert.getByText(/5,242,881 hits on drums; a take can have 500,000/).waitFor();
  });

  it("open when their hits lie days apart, and say what cannot be done with them", async () => {
    const page = await pages.open();
    const messages = Array.from({ length: 4 }, (_, index) => [
      { kind: "channel" as const, tick: index * 0x0ffffff0, status: 0x99, data1: 38, data2: 90 },
      { kind: "channel" as const, tick: index * 0x0ffffff0 + 6, status: 0x89, data1: 38, data2: 64 },
    ]).flat();
    const file = { format: 0 as const, division: { kind: "ppq" as const, ppq: 24 }, unknownChunks: [] };
    const bytes = writeMidiFile({ ...file, headerExtra: new Uint8Array(0), tracks: [{ messages }] });
    await importBytes(page, "Days.mid", bytes);
    await page.getByText(/^8,388,60\d bars$/).waitFor();
    await goToScreen(page, "Song");
    await page.getByText("This take is too long to be split").waitFor();
    await goToScreen(page, "Messages");
    await page
      .getByText(/^8,?388,?60\d:\d/)
      .first()
      .waitFor();
    await page.goto(`${baseUrl()}/no/such`);
    await page.getByRole("heading", { name: "There is no such page" }).waitFor();
    await page.getByRole("link", { name: "To the shelf" }).click();
    await page.getByRole("link", { name: "Days", exact: true }).waitFor();
  });

  it("of a piano alone are no drum part, and are shown as drums all the same if one asks for it", async () => {
    const page = await pages.open();
    const text = { kind: "meta" as const, tick: 0, metaType: 3, data: new TextEncoder().encode("Upright") };
    const end = { kind: "meta" as const, tick: 60 * 240, metaType: 0x2f, data: new Uint8Array() };
    const notes = Array.from({ length: 60 }, (_, index) => [
      { kind: "channel" as const, tick: index * 240, status: 0x90, data1: 40 + ((index * 7) % 30), data2: 70 },
      { kind: "channel" as const, tick: index * 240 + 200, status: 0x80, data1: 40 + ((index * 7) % 30), data2: 0 },
    ]).flat();
    const piano = writeMidiFile({
      format: 0,
      division: { kind: "ppq", ppq: 480 },
      unknownChunks: [],
      headerExtra: new Uint8Array(),
      tracks: [{ messages: [text, ...notes, end] }],
    });
    await importBytes(page, "Piano.mid", piano);
    await page.getByText("No drums were found in this file.").waitFor();
    await page.getByText("Its 60 notes are of Upright: it plays more different notes than a kit has.").waitFor();
    await page.getByRole("button", { name: "Show it as drums all the same" }).click();
    await page.getByText("Upright: 60 hits came to the Bench.").waitFor();
    await page
      .getByRole("button", { name: /^Low tom\b/ })
      .first()
      .waitFor();
    await page.keyboard.press("Control+z");
    await page.getByText("No drums were found in this file.").waitFor();
    expect(Buffer.compare((await exportBytes(page)).bytes, piano)).toBe(0);
  });

  it("are listed message by message when they hold only controllers", async () => {
    const page = await pages.open();
    const messages = Array.from({ length: 20 }, (_, index) => ({
      kind: "channel" as const,
      tick: index * 10,
      status: 0xb9,
      data1: 4,
      data2: index * 6,
    }));
    const file = { format: 0 as const, division: { kind: "ppq" as const, ppq: 480 }, unknownChunks: [] };
    await importBytes(
      page,
      "Pedal only.mid",
      writeMidiFile({ ...file, headerExtra: new Uint8Array(0), tracks: [{ messages }] }),
    );
    await page.getByText("No drums were found in this file.").waitFor();
    await goToScreen(page, "Note maps");
    await page.getByText("0 hits came in").waitFor();
    await goToScreen(page, "Messages");
    await page.getByText("21 of 21 messages").waitFor();
    await page.getByText("Controller 4, hat pedal: 114").waitFor();
  });

  it("cannot put markup into a page by their names", async () => {
    const page = await pages.open();
    const name = "<img src=x onerror=alert(1)>.mid";
    await importBytes(page, name, kettle);
    await page.getByText("<img src=x onerror=alert(1)>", { exact: true }).waitFor();
  });
});

describe("the shelf", () => {
  it("takes a file that is dropped anywhere on it", async () => {
    const page = await pages.open();
    await page.getByRole("heading", { name: "Drop a recording here" }).waitFor();
    const data = await page.evaluateHandle(
      (bytes) => {
        const transfer = new DataTransfer();
        transfer.items.add(new File([Uint8Array.from(bytes)], "Dropped.mid"));
        return transfer;
      },
      [...kettle],
    );
    await page.dispatchEvent("body", "dragover", { dataTransfer: data });
    await page.getByText("Let go to import").waitFor();
    await page.dispatchEvent("body", "drop", { dataTransfer: data });
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await page.getByText("Dropped", { exact: true }).waitFor();
  });

  it("takes a project off and puts it back", async () => {
    const page = await pages.open();
    await importBytes(page, "Passing by.mid", kettle);
    await goToScreen(page, "Shelf");
    await page.getByRole("button", { name: "Delete Passing by" }).click({ force: true });
    await page.getByText("Deleted Passing by.").waitFor();
    await expect.poll(() => page.getByRole("link", { name: "Passing by" }).count()).toBe(0);
    await page.getByRole("button", { name: "Undo" }).last().click();
    await page.getByRole("link", { name: "Passing by" }).waitFor();
    // Once the toast has gone, it is still at the foot of the shelf.
    await page.getByRole("button", { name: "Delete Passing by" }).click({ force: true });
    await expect.poll(() => page.getByRole("link", { name: "Passing by" }).count()).toBe(0);
    await page.reload();
    await page.getByText(/deleted projects?$/).click();
    await page.getByRole("button", { name: "Put back Passing by" }).first().click();
    await page.getByRole("link", { name: "Passing by" }).waitFor();
  });

  it("has no fault that a checker of accessibility calls serious, and neither has the Bench", async () => {
    const axe = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");
    const page = await pages.open();
    const check = async () => {
      // What is still being measured is faded, and on its way from there.
      await page.waitForFunction(() => document.querySelector("[aria-busy=true]") === null);
      await page.evaluate(() => Promise.allSettled(document.getAnimations().map(({ finished }) => finished)));
      const violations = await page.evaluate(async (source) => {
        // biome-ignore lint/security/noGlobalEval: a test puts the checker into its own page
        globalThis.eval(source);
        const { axe: checker } = globalThis as unknown as {
          axe: { run(): Promise<{ violations: { id: string; impact: string; nodes: { html: string }[] }[] }> };
        };
        return (await checker.run()).violations;
      }, axe);
      return violations
        .filter(({ impact }) => impact === "serious" || impact === "critical")
        .map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`);
    };
    await page.getByRole("link", { name: "Kettle Row", exact: true }).waitFor();
    expect(await check()).toEqual([]);
    await openProject(page, "Kettle Row");
    await page.getByText("sixteenths").first().waitFor();
    expect(await check()).toEqual([]);
    await page.keyboard.press("Shift+K");
    await page.getByRole("application", { name: /^Tempo by bar/ }).waitFor();
    expect(await check()).toEqual([]);
    await page.goto(new URL("/", page.url()).href);
    await openProject(page, "Slack Water, deck kit");
    await goToScreen(page, "Note maps");
    await page.getByText("Doubtful names").waitFor();
    await page.getByRole("button", { name: "Listen", exact: true }).click();
    expect(await check()).toEqual([]);
    await goToScreen(page, "Song");
    await page.getByRole("button", { name: "Split every", exact: true }).click();
    await page
      .getByRole("button", { name: /in Bars 1 to 4:/ })
      .first()
      .click();
    await page.getByRole("region", { name: "Pattern Bars 1 to 4" }).waitFor();
    expect(await check()).toEqual([]);
    await goToScreen(page, "Messages");
    await page.getByText("669 of 669 messages").waitFor();
    await page.keyboard.press("ArrowDown");
    expect(await check()).toEqual([]);
  });
});
