import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { usePages } from "./browser.ts";
import { importBytes } from "./browser-tools.ts";
import { device, type SentMessage, withDevice } from "./simulated-device.ts";
import { fileOf, type Struck } from "./small-take.ts";

// Hearing a part through one's own kit, and how loud its drums are.

const pages = usePages();
/** The small take counts 120 bpm, 480 ticks a quarter. */
const MS_PER_TICK = 500 / 480;

/** A bar of sixteenths at 300 bpm would be this dense: every 24 ticks at 120. */
const DENSE: readonly Struck[] = Array.from({ length: 60 }, (_, index) => [38, index * 48, 40 + index] as const);

/** Speakers as a browser tells of them that was allowed to; one cannot be played on. */
const SPEAKERS = `
  window.playedOn = [];
  const speakers = [["default", "Default"], ["phones", "Headphones"], ["gone", "Unplugged"]];
  navigator.mediaDevices.enumerateDevices = async () =>
    speakers.map(([deviceId, label]) => ({ kind: "audiooutput", deviceId, label, groupId: "" }));
  AudioContext.prototype.setSinkId = async (id) => {
    if (id === "gone") throw new DOMException("not there", "NotFoundError");
    window.playedOn.push(id);
  };
`;

async function openMix(page: Page) {
  await page.getByRole("button", { name: "Lanes", exact: true }).click();
  await page.getByRole("menuitem", { name: /^Sound and mix/ }).click();
  return page.getByRole("dialog", { name: "Sound and mix" });
}

const notesOf = (sent: readonly SentMessage[]) => sent.filter(({ data: [status = 0] }) => status >> 4 === 9);

describe("a device that plays", () => {
  it("gets each hit at its moment, on the notes that go out, and silence on a stop and when it is unplugged", async () => {
    const page = await pages.open("/");
    await withDevice(page);
    await importBytes(page, "Heard outside.mid", fileOf(DENSE));
    const sheet = await openMix(page);
    await sheet.getByRole("button", { name: /^Where it sounds/ }).click();
    await page.getByRole("menuitemradio", { name: "a device", exact: true }).click();
    await sheet.getByRole("button", { name: "Device: Test module" }).waitFor();
    await sheet.getByRole("switch", { name: "Send MIDI clock" }).click();
    await page.keyboard.press("Escape");
    await sheet.waitFor({ state: "detached" });
    await page.locator("button:focus", { hasText: "Lanes" }).waitFor();
    // The space bar opens the menu that has the focus, and does not play as well.
    await page.keyboard.press("Space");
    await page.getByRole("menuitem", { name: /^Sound and mix/ }).waitFor();
    await page.keyboard.press("Escape");
    expect(notesOf(await device.sent(page))).toEqual([]);
    await page.getByText("Click a hit, or drag around several").click();
    await page.keyboard.press("k");
    // The clock of sound runs by the time it is looked at.
    await page.keyboard.press("Space");
    await expect.poll(async () => notesOf(await device.sent(page)).length).toBeGreaterThan(3);
    await page.keyboard.press("Space");
    await page.getByRole("button", { name: "Play", exact: true }).waitFor();
    await page.keyboard.press("Home");
    const before = (await device.sent(page)).length;
    await page.keyboard.press("Space");
    await expect
      .poll(async () => notesOf((await device.sent(page)).slice(before)).length, { timeout: 20_000 })
      .toBeGreaterThan(30);
    // Flipped while it plays, it goes on without a gap.
    await page.keyboard.press("[");
    await expect
      .poll(async () => notesOf((await device.sent(page)).slice(before)).length, { timeout: 20_000 })
      .toBeGreaterThan(55);
    await page.keyboard.press("Space");
    await page.getByRole("button", { name: "Play", exact: true }).waitFor();
    const sent = (await device.sent(page)).slice(before);
    const notes = notesOf(sent);
    expect(notes.every(({ data }) => data[0] === 0x99 && data[1] === 38)).toBe(true);
    expect(notes.map(({ data }) => data[2])).toEqual(DENSE.slice(0, notes.length).map(([, , velocity]) => velocity));
    // Sent each for its own moment: one after another as they are written, but for where this machine held up the sound, …
    const strayMs = notes.slice(1).map(({ timeMs }, index) => {
      const written = (DENSE[index + 1]![1] - DENSE[index]![1]) * MS_PER_TICK;
      return Math.abs(timeMs! - notes[index]!.timeMs! - written);
    });
    expect(strayMs.filter((ms) => ms < 1).length).toBeGreaterThan(0.85 * strayMs.length);
    // … and ahead of it, unless this machine was too busy for a moment.
    expect(notes.filter(({ timeMs, now }) => timeMs! > now).length).toBeGreaterThan(0.8 * notes.length);
    // The clock starts with it, pulses 24 times a quarter, and stops.
    expect(sent.filter(({ data }) => data[0] === 0xfa)).toHaveLength(1);
    expect(sent.filter(({ data }) => data[0] === 0xfc)).toHaveLength(1);
    const pulses = sent.flatMap(({ data, timeMs }) => (data[0] === 0xf8 ? [timeMs!] : []));
    const apart = pulses.slice(1).map((ms, index) => ms - pulses[index]!);
    expect(apart.toSorted((a, b) => a - b)[apart.length >> 1]!).toBeCloseTo(500 / 24, 1);
    // After the stop nothing is left on.
    const ends = sent.filter(
      ({ timeMs, data: [status = 0, control] }) => timeMs === null && status === 0xb9 && control === 123,
    );
    expect(ends.length).toBeGreaterThan(0);
    await page.keyboard.press("Space");
    await page.getByRole("button", { name: "Stop", exact: true }).waitFor();
    await device.unplug(page);
    await page.getByRole("button", { name: "Play", exact: true }).waitFor();
    const again = await openMix(page);
    await again.getByRole("alert").getByText("Test module is not plugged in.").waitFor();
    await again.getByRole("button", { name: /^Where it sounds/ }).click();
    await page.getByRole("menuitemradio", { name: "the stand-in kit", exact: true }).click();
  });

  it("is the kit on other speakers, which are kept; where the browser cannot, it stays where it was", async () => {
    const page = await pages.open("/");
    await page.addInitScript(SPEAKERS);
    await importBytes(page, "On headphones.mid", fileOf(DENSE));
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    const playedOn = () => page.evaluate("window.playedOn");
    await page.keyboard.press("Space");
    await page.getByRole("button", { name: "Stop", exact: true }).waitFor();
    await page.keyboard.press("Space");
    const sheet = await openMix(page);
    await sheet.getByRole("button", { name: "Speakers: the usual speakers" }).click();
    await page.getByRole("menuitemradio", { name: "Headphones" }).click();
    const chosen = sheet.getByRole("button", { name: "Speakers: Headphones" });
    await chosen.waitFor();
    await expect.poll(() => playedOn()).toEqual(["phones"]);
    await chosen.click();
    await page.getByRole("menuitemradio", { name: "Unplugged" }).click();
    await page.getByText("The browser cannot play there. It plays on where it did.").waitFor();
    await chosen.waitFor();
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await page.keyboard.press("Space");
    await expect.poll(playedOn).toEqual(["phones"]);
    await page.getByRole("button", { name: "Stop", exact: true }).waitFor();
    await page.keyboard.press("Space");
  });

  it("leaves the mix to the take: a level is kept with it, undone, and changes nothing that goes out", async () => {
    const page = await pages.open("/");
    await importBytes(page, "Mixed.mid", fileOf(DENSE.slice(0, 8)));
    const sheet = await openMix(page);
    const level = sheet.getByRole("slider", { name: "Snare", exact: true });
    await level.focus();
    await level.press("ArrowLeft");
    await level.press("ArrowLeft");
    await sheet.getByRole("button", { name: "Snare: −1 dB" }).waitFor();
    const pan = sheet.getByRole("slider", { name: "Snare, pan" });
    await pan.focus();
    await pan.press("ArrowRight");
    await sheet.getByRole("button", { name: "Snare, pan: 5 right" }).waitFor();
    await page.keyboard.press("Escape");
    await page.getByText("Saved", { exact: true }).waitFor();
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    const again = await openMix(page);
    await again.getByRole("button", { name: "Snare: −1 dB" }).waitFor();
    await page.keyboard.press("Escape");
    await page.locator("button[aria-label='Undo'][aria-disabled=false]").waitFor();
    await page.keyboard.press("Control+z");
    const undone = await openMix(page);
    await undone.getByRole("button", { name: "Snare, pan: middle" }).waitFor();
    await undone.getByRole("button", { name: "Snare: −1 dB" }).waitFor();
  });
});
