import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import type { Hit } from "../../src/core/document/index.ts";
import { isNoteOn, readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes } from "./browser-tools.ts";
import { unpacked } from "./client.ts";
import { device, withDevice } from "./simulated-device.ts";

// Parts that are played in, by a simulated device, by the stand-in player, on pads and on keys.

const pages = usePages();
/** At 240 bpm in 2/4 a bar lasts half a second, and a tick about half a millisecond. */
const MS_PER_TICK = 250 / 480;
const BAR_MS = 500;

async function newTake(bars = 2): Promise<Page> {
  const page = await pages.open("/");
  await withDevice(page);
  await page.getByRole("button", { name: "New take …" }).click();
  const sheet = page.getByRole("dialog", { name: "New take" });
  await sheet.getByLabel("Tempo").fill("240");
  await sheet.getByLabel("Meter", { exact: true }).fill("2");
  await sheet.getByLabel("Bars").fill(String(bars));
  await sheet.getByRole("button", { name: "Create" }).click();
  await page.getByRole("main", { name: "Lanes" }).waitFor();
  await page.keyboard.press("Shift+F2");
  await panel(page)
    .getByText(/Hearing Test pads|Pads/)
    .first()
    .waitFor();
  return page;
}

const panel = (page: Page) => page.getByRole("region", { name: "Play in" });
const recording = (page: Page) => page.getByRole("button", { name: "Stop recording", exact: true });
const passes = (page: Page) => panel(page).getByRole("listitem");

/** Chooses a word of the sentence. */
async function choose(page: Page, label: string, name: string | RegExp): Promise<void> {
  await panel(page)
    .getByRole("button", { name: new RegExp(`^${label}`) })
    .click();
  await page.getByRole("menuitemradio", { name, exact: true }).click();
}

async function record(page: Page): Promise<void> {
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await recording(page).waitFor();
}

/** Records, and waits until the count-in is over: what is struck now is taken down. */
async function recordNow(page: Page): Promise<void> {
  await record(page);
  await page.getByText("Recording", { exact: true }).waitFor();
}

async function stop(page: Page): Promise<void> {
  await page.keyboard.press("F2");
  await recording(page).waitFor({ state: "detached" });
}

/** The take as it is on the disk, when all is saved. */
async function saved(page: Page): Promise<readonly Hit[]> {
  await page.getByText("Saved", { exact: true }).waitFor();
  const id = /bench\/([^/?]+)/.exec(page.url())![1]!;
  const answer = await page.evaluate(async (one) => (await fetch(`/api/projects/${one}`)).json(), id);
  return unpacked(answer.value).pattern.hits;
}

/** Strokes are off by the same, to a millisecond: what was late to be handled would differ from stroke to stroke. */
function expectSteady(offsMs: readonly number[]): void {
  const said = `ms off: ${offsMs.map((off) => off.toFixed(1)).join(", ")}`;
  expect(Math.max(...offsMs) - Math.min(...offsMs), said).toBeLessThan(2.1);
  for (const [index, off] of offsMs.entries())
    expect(Math.abs(off - (offsMs[index - 1] ?? off)), said).toBeLessThan(1.05);
}

describe("playing in", () => {
  it("takes strokes down at their own times, quantized as they are heard, in passes that can be undone, left out and exported", async () => {
    const page = await newTake();
    await choose(page, "Who plays", "pads, keys or a device");
    await choose(page, "Over what", /two bars|the loop/);
    await record(page);
    // The count-in of one bar is over when strokes are recorded; the device plays three rounds of two bars.
    await page.getByText("Recording", { exact: true }).waitFor();
    const kick = [0, 270, 490, 760].map((ms) => ({ ms, note: 36, velocity: 100 }));
    const hats = Array.from({ length: 8 }, (_, index) => ({
      ms: 1000 + index * 125 + (index % 3) * 7,
      note: 42,
      velocity: 70 + index,
    }));
    const ghosts = [2100, 2390, 2610].map((ms) => ({ ms, note: 38, velocity: 28 }));
    const all = [...kick, ...hats, ...ghosts];
    await device.play(page, all);
    await page.waitForFunction(() => /15 hits so far/.test(document.body.textContent));
    await stop(page);
    const hits = await saved(page);
    expect(hits).toHaveLength(15);
    // Between strokes there is as much time as the device left, whenever the page came to handle them; the loop goes round.
    const loopMs = 2 * BAR_MS;
    for (const note of [36, 42, 38]) {
      const struck = all.filter((stroke) => stroke.note === note);
      const taken = hits.filter((hit) => hit.note === note);
      expect(taken.map(({ recordedVelocity }) => recordedVelocity).toSorted()).toEqual(
        struck.map(({ velocity }) => velocity).toSorted(),
      );
    }
    // A stroke slightly ahead of the first bar belongs to it, and nothing lies before that: all others tell their own time.
    const struck = hats.flatMap((stroke) => {
      const hit = hits.find((one) => one.note === stroke.note && one.recordedVelocity === stroke.velocity)!;
      return hit.recordedTick === 0 ? [] : [{ ms: stroke.ms, tick: hit.recordedTick! }];
    });
    expect(struck.length).toBeGreaterThanOrEqual(hats.length - 1);
    expectSteady(
      struck.map(({ ms, tick }) => {
        const apart = (tick - struck[0]!.tick) * MS_PER_TICK - (ms - struck[0]!.ms);
        return ((((apart + loopMs / 2) % loopMs) + loopMs) % loopMs) - loopMs / 2;
      }),
    );
    // Each round is a pass, and what goes out is on sixteenths although nothing was struck there.
    expect(new Set(hits.map(({ pass }) => pass)).size).toBeGreaterThanOrEqual(3);
    const { bytes } = await exportBytes(page);
    await page.keyboard.press("Escape");
    const out = readMidiFile(bytes).file.tracks.flatMap(({ messages }) => messages.filter(isNoteOn));
    expect(out).toHaveLength(15);
    expect(out.every(({ tick }) => tick % 120 === 0)).toBe(true);
    expect(hits.every(({ recordedTick }) => recordedTick! % 120 === 0)).toBe(false);

    // The last pass goes as a whole, also after the page was opened anew, and comes back.
    const before = await passes(page).count();
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await page.keyboard.press("Shift+F2");
    await expect.poll(() => passes(page).count()).toBe(before);
    // What was done before comes a little after the take itself.
    await page.locator("button[aria-label='Undo'][aria-disabled=false]").waitFor();
    await page.keyboard.press("Control+z");
    await expect.poll(() => passes(page).count()).toBe(before - 1);
    await page.keyboard.press("Control+Shift+z");
    await expect.poll(() => passes(page).count()).toBe(before);
    await panel(page).getByRole("switch", { name: "Pass 1 is heard" }).click();
    await expect
      .poll(async () => (await saved(page)).filter(({ isMuted }) => isMuted).every(({ pass }) => pass === 1))
      .toBe(true);
    await panel(page).getByRole("button", { name: "Make one of all" }).click();
    await expect.poll(() => passes(page).count()).toBe(1);
  });

  it("loses no stroke at fifty a second while the lanes draw and the page is busy, each within a millisecond", async () => {
    const page = await newTake(8);
    await choose(page, "Over what", "the take, on and on");
    await recordNow(page);
    await page.evaluate(() => {
      const busy = setInterval(() => {
        const until = performance.now() + 60;
        while (performance.now() < until);
      }, 120);
      setTimeout(() => clearInterval(busy), 5000);
    });
    const strokes = Array.from({ length: 200 }, (_, index) => ({
      ms: index * 20 + (index % 7),
      note: 38,
      velocity: 1 + (index % 120),
    }));
    await device.play(page, strokes);
    await page.waitForFunction(() => /200 hits so far/.test(document.body.textContent));
    await stop(page);
    const hits = await saved(page);
    expect(hits).toHaveLength(200);
    const firstMs = Math.min(...hits.map(({ recordedTick }) => recordedTick!)) * MS_PER_TICK;
    const offs: number[] = [];
    for (const { recordedTick, recordedVelocity } of hits) {
      const ms = recordedTick! * MS_PER_TICK - firstMs;
      // Two strokes have each velocity, more than two seconds apart.
      const early = recordedVelocity! - 1;
      const late = strokes[early + 120];
      const index = late && Math.abs(ms - late.ms) < Math.abs(ms - strokes[early]!.ms) ? early + 120 : early;
      offs[index] = ms - strokes[index]!.ms;
    }
    expect(Object.keys(offs)).toHaveLength(200);
    expectSteady(offs);
  });

  it("on and on, ends nowhere, however long the page is held up where the take ends", async () => {
    const page = await newTake(4);
    await choose(page, "Over what", "the take, on and on");
    await recordNow(page);
    await page.evaluate(() => {
      const until = performance.now() + 4000;
      while (performance.now() < until);
    });
    await device.play(page, [{ ms: 200, note: 38, velocity: 90 }]);
    await page.getByText("1 hit so far").waitFor();
    await stop(page);
    const [hit] = await saved(page);
    expect(hit!.recordedTick! * MS_PER_TICK).toBeGreaterThan(4000);
  });

  it("needs no device: the stand-in player, pads and keys play into the same input, and take away again what is undone meanwhile", async () => {
    const page = await newTake();
    await choose(page, "Who plays", "the stand-in player");
    await choose(page, "How tight", "exact");
    await choose(page, "What the stand-in player plays", "kick and snare");
    await record(page);
    await passes(page).nth(1).waitFor();
    await page.keyboard.press("Control+z");
    await stop(page);
    const hits = await saved(page);
    expect(hits.length).toBeGreaterThan(3);
    // Exact strokes are recorded where they are written: within a millisecond of a sixteenth.
    for (const { recordedTick } of hits) {
      const off = ((recordedTick! + 60) % 120) - 60;
      expect(Math.abs(off) * MS_PER_TICK).toBeLessThanOrEqual(1.05);
    }
    await choose(page, "Who plays", "pads, keys or a device");
    await recordNow(page);
    const before = hits.length;
    await page.keyboard.press("e");
    await page.keyboard.press("Shift+s");
    const pad = panel(page)
      .getByRole("group", { name: "Pads" })
      .getByRole("button", { name: /^Crash/ });
    const box = (await pad.boundingBox())!;
    await page.mouse.click(box.x + 20, box.y + 4);
    await page.mouse.click(box.x + 20, box.y + box.height - 4);
    await page.waitForFunction(() => /4 hits so far/.test(document.body.textContent));
    await stop(page);
    const now = await saved(page);
    expect(now).toHaveLength(before + 4);
    const loudness = (voiceId: string) =>
      now
        .filter((hit) => hit.voiceId === voiceId && (hit.pass ?? 0) > 1)
        .map(({ recordedVelocity }) => recordedVelocity!);
    expect(now.some(({ voiceId, articulationId }) => voiceId === "hat" && articulationId === "open")).toBe(true);
    expect(loudness("snare")).toContain(118);
    const [loud = 0, soft = 0] = loudness("crash").toSorted((a, b) => b - a);
    expect(loud).toBeGreaterThan(110);
    expect(soft).toBeLessThan(40);
  });

  it("repeats a held pad on the grid, waits for the first stroke, and replaces what it plays over", async () => {
    const page = await newTake();
    await choose(page, "Repeat", "Repeat a held pad");
    await recordNow(page);
    await device.send(page, 0x99, 42, 81);
    await page.waitForFunction(() => Number(/(\d+) hits so far/.exec(document.body.textContent)?.[1]) >= 6);
    await device.send(page, 0x89, 42, 0);
    await stop(page);
    const hats = (await saved(page)).filter(({ voiceId }) => voiceId === "hat");
    expect(hats.length).toBeGreaterThanOrEqual(6);
    expect(hats.filter(({ recordedTick }) => recordedTick! % 120 !== 0).length).toBeLessThanOrEqual(1);
    await choose(page, "Repeat", "A pad strikes once");
    await choose(page, "What becomes of what is there", /Replace, of each drum/);
    await recordNow(page);
    await device.play(page, [{ ms: 0, note: 42, velocity: 55 }]);
    await page.waitForFunction(() => /1 hit so far/.test(document.body.textContent));
    await stop(page);
    const heard = (await saved(page)).filter(({ isMuted }) => !isMuted);
    expect(heard.map(({ recordedVelocity }) => recordedVelocity)).toEqual([55]);
    // Begun by the hand itself, the first stroke is the first beat.
    await choose(page, "What becomes of what is there", "Add to");
    await choose(page, "How it begins", "with the first stroke");
    await record(page);
    await page.getByText("Waiting for the first stroke", { exact: true }).waitFor();
    await device.play(page, [{ ms: 0, note: 49, velocity: 99 }]);
    await page.waitForFunction(() => /1 hit so far/.test(document.body.textContent ?? ""));
    await stop(page);
    const crash = (await saved(page)).find(({ recordedVelocity }) => recordedVelocity === 99)!;
    expect(crash.recordedTick! * MS_PER_TICK).toBeLessThan(2);
    await panel(page).getByRole("button", { name: "Undo the last pass" }).click();
    // Without the pass that took their place they are heard again.
    await panel(page).getByRole("button", { name: "Undo the last pass" }).click();
    await expect.poll(async () => (await saved(page)).filter(({ isMuted }) => !isMuted).length).toBe(hats.length);
  });

  it("hears a hand that grips a cymbal, learns what a pad is, and lets two held pads take turns, with swing", async () => {
    const page = await newTake();
    await recordNow(page);
    await device.send(page, 0x99, 49, 100);
    await page.waitForFunction(() => /1 hit so far/.test(document.body.textContent));
    await device.send(page, 0xa9, 49, 110);
    // A note that the map does not name is named while it goes on.
    await device.send(page, 0x99, 99, 77);
    await panel(page).getByText("Note 99 from Test pads is heard as").waitFor();
    await choose(page, "Note 99 is heard as", "Ride, bell");
    await page.waitForFunction(() => /2 hits so far/.test(document.body.textContent));
    await device.send(page, 0x99, 99, 79);
    await page.waitForFunction(() => /3 hits so far/.test(document.body.textContent));
    await stop(page);
    const hits = await saved(page);
    const crash = hits.find(({ note }) => note === 49)!;
    expect(crash.chokedTicks).toBeGreaterThan(0);
    expect(
      hits.filter(({ note }) => note === 99).map(({ voiceId, articulationId }) => [voiceId, articulationId]),
    ).toEqual([
      ["ride", "bell"],
      ["ride", "bell"],
    ]);
    const written = readMidiFile((await exportBytes(page)).bytes).file.tracks.flatMap(({ messages }) => messages);
    const hands = written.filter((one) => one.kind === "channel" && one.status >> 4 === 0xa);
    expect(hands).toHaveLength(2);
    await page.getByRole("dialog").waitFor({ state: "detached" });
    await choose(page, "Repeat", "Repeat a held pad");
    await choose(page, "Grid of repeats", "sixteenths");
    await panel(page)
      .getByRole("button", { name: /swing of repeats$/ })
      .click();
    await page.getByRole("textbox", { name: "Swing of repeats" }).fill("66");
    await page.keyboard.press("Enter");
    await choose(page, "Two held pads", "by turns");
    await recordNow(page);
    await device.sendTogether(page, [0x99, 36, 90], [0x99, 38, 90]);
    await page.waitForFunction(() => Number(/(\d+) hits so far/.exec(document.body.textContent)?.[1]) >= 12);
    await device.sendTogether(page, [0x89, 36, 0], [0x89, 38, 0]);
    await stop(page);
    const earlier = new Set(hits.map(({ id }) => id));
    const [first, second, ...repeated] = (await saved(page))
      .filter(({ id }) => !earlier.has(id))
      .toSorted((a, b) => a.pass! - b.pass! || a.recordedTick! - b.recordedTick!);
    expect([first, second].map((hit) => hit?.voiceId).sort()).toEqual(["kick", "snare"]);
    const placesOf = (voiceId: string) =>
      repeated.filter((hit) => hit.voiceId === voiceId).map(({ recordedTick }) => recordedTick! % 240);
    // One after the other, round by round; the second of two slots swings.
    const inOrder = repeated.map(({ voiceId }) => voiceId);
    expect(inOrder.length).toBeGreaterThanOrEqual(10);
    expect(
      inOrder.filter((voiceId, index) => voiceId === inOrder[index - 1]),
      inOrder.join(", "),
    ).toEqual([]);
    const swung = [...placesOf("kick"), ...placesOf("snare")].filter((place) => place > 100 && place < 200);
    expect(swung.filter((place) => Math.abs(place - 158) <= 1).length).toBeGreaterThan(2);
  });

  it("is started and stopped by a pad that is told to", async () => {
    const page = await newTake();
    await device.send(page, 0x99, 57, 90);
    await panel(page).getByRole("button", { name: "Let it start and stop recording" }).click();
    await panel(page).getByText("Note 57 from Test pads starts and stops recording.").waitFor();
    await device.send(page, 0x99, 57, 90);
    await recording(page).waitFor();
    await page.getByText("Recording", { exact: true }).waitFor();
    await device.send(page, 0x99, 38, 90);
    await page.waitForFunction(() => /1 hit so far/.test(document.body.textContent));
    await device.send(page, 0x99, 57, 90);
    await recording(page).waitFor({ state: "detached" });
    expect((await saved(page)).map(({ note }) => note)).toEqual([38]);
  });

  it("goes on while the disk is full and the page is behind others, says so, and loses nothing", async () => {
    const page = await newTake();
    const edits = /\/api\/projects\/[^/]+\/edits/;
    await page.route(edits, (route) =>
      route.fulfill({
        status: 507,
        json: {
          ok: false,
          problem: {
            code: "storage.full",
            message: "The disk is full.",
            remedy: "Make room on it; saving goes on by itself.",
          },
        },
      }),
    );
    await recordNow(page);
    await page.evaluate(() => {
      Object.defineProperty(document, "hidden", { configurable: true, get: () => true });
      document.dispatchEvent(new Event("visibilitychange"));
    });
    const strokes = [0, 250, 500, 750].map((ms) => ({ ms, note: 38, velocity: 60 + ms / 25 }));
    await device.play(page, strokes);
    await page.waitForFunction(() => /4 hits so far/.test(document.body.textContent));
    await page.getByRole("alert").filter({ hasText: "The disk is full." }).waitFor();
    await stop(page);
    await page.unroute(edits);
    const hits = await saved(page);
    expect(hits.map(({ recordedVelocity }) => recordedVelocity).toSorted((a, b) => a! - b!)).toEqual([60, 70, 80, 90]);
    // Struck a quarter of a second apart, wherever the first one fell; one that was a little ahead of the loop is at its start.
    const told = hits.map(({ recordedTick }) => recordedTick!).filter((tick) => tick > 0);
    expect(told.length).toBeGreaterThanOrEqual(3);
    const [first = 0, ...others] = told.toSorted((a, b) => a - b);
    expectSteady([first, ...others].map((tick) => (((tick - first + 240) % 480) - 240) * MS_PER_TICK));
  });

  it("tells of a device that is unplugged, and keeps what was played", async () => {
    const page = await newTake();
    await recordNow(page);
    await device.play(page, [{ ms: 0, note: 36, velocity: 90 }]);
    await page.waitForFunction(() => /1 hit so far/.test(document.body.textContent));
    await device.unplug(page);
    await panel(page).getByRole("alert").getByText("Test pads was unplugged").waitFor();
    await page.keyboard.press("Space");
    await recording(page).waitFor({ state: "detached" });
    await expect.poll(() => saved(page)).toHaveLength(1);
  });

  it("is started and stopped by the clock of a device, whose tempo it shows", async () => {
    const page = await newTake(8);
    await device.send(page, 0xfa);
    await page.getByRole("button", { name: "Stop", exact: true }).waitFor();
    await page.evaluate(async () => {
      const { device: sends } = window as unknown as { device: { send(messages: number[][]): void } };
      for (let pulse = 0; pulse < 60; pulse++) {
        sends.send([[0xf8]]);
        await new Promise((resolve) => setTimeout(resolve, 15));
      }
    });
    await panel(page)
      .getByText(/Its clock runs at \d+(\.\d)? bpm/)
      .waitFor();
    await device.send(page, 0xfc);
    await page.getByRole("button", { name: "Play", exact: true }).waitFor();
  });

  it("measures how late an input is by strokes to a click, and takes it off", async () => {
    const page = await newTake();
    await panel(page).getByRole("button", { name: "Measure" }).click();
    await panel(page)
      .getByText(/Strike with the click/)
      .waitFor();
    // Twelve clicks, of which a slow machine may have let some pass.
    expect(await device.follow(page, 23, 38)).toBeGreaterThan(8);
    await panel(page)
      .getByText(/^Input from Test pads comes/)
      .waitFor();
    const words = await panel(page)
      .getByText(/^Input from Test pads comes/)
      .textContent();
    await panel(page).getByRole("button", { name: "Take it off" }).click();
    const ms = /(\d+(?:\.\d+)?) ms/.exec(words ?? "")?.[1];
    await panel(page)
      .getByRole("button", { name: new RegExp(`^Late by: ${ms} ms`) })
      .waitFor();
    expect(Math.abs(Number(ms) - 23)).toBeLessThanOrEqual(1);
    expect(words).toMatch(/late, within ±\s[01]\sms/);
  });
});
