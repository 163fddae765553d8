import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { usePages } from "./browser.ts";
import { goToScreen, importBytes, keptView, openProject } from "./browser-tools.ts";
import { fileOf, type Struck } from "./small-take.ts";

// Small things that hands and eyes expect without being told.

const pages = usePages();
const deck = new Uint8Array(readFileSync("demo/slack-water-deck-kit.mid"));
const BAR = 1920;

describe("a take", () => {
  it("opens where its playing begins", async () => {
    const page = await pages.open();
    const backBeats = [4, 5, 6, 7].flatMap((bar): Struck[] => [
      [36, bar * BAR, 100],
      [38, bar * BAR + 480, 90],
    ]);
    await importBytes(page, "After a rest.mid", fileOf(backBeats, 8));
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    const { startTick } = await keptView(page);
    expect(startTick).toBeGreaterThan(3 * BAR);
    expect(startTick).toBeLessThanOrEqual(4 * BAR);
  });

  it("that may have come in a step later is put on the slots of the other reading, which is taken back", async () => {
    const page = await pages.open();
    const hats = Array.from({ length: 64 }, (_, step): Struck => [42, BAR + step * 120 + 20 + ((step * 5) % 7), 90]);
    await importBytes(page, "Only hats.mid", fileOf(hats, 6));
    const card = page.getByRole("complementary", { name: "Lane card" });
    await card.getByText(/^A close call: the take is/).waitFor();
    await card.getByRole("button", { name: "Use the other" }).click();
    await page.getByText(/^Every voice is on the slots of a take that came in/).waitFor();
    await card.getByText(/the take is 96 ms early or/).waitFor();
    await page.keyboard.press("Control+z");
    await card.getByText(/the take is 28 ms late or/).waitFor();
  });
});

describe("the Shelf", () => {
  it("is sorted by what is asked for", async () => {
    const page = await pages.open("/");
    const songs = page.getByRole("link", { name: /^(Ferry Lights|Kettle Row|Moth Parade|Tin Orchard)$/ });
    const names = () => songs.allTextContents();
    await expect.poll(async () => (await names()).length).toBe(4);
    await expect.poll(() => names()).not.toEqual((await names()).toSorted());
    await page.getByRole("button", { name: /^Sorted by:/ }).click();
    await page.getByRole("menuitemradio", { name: "name", exact: true }).click();
    await expect.poll(names).toEqual(["Ferry Lights", "Kettle Row", "Moth Parade", "Tin Orchard"]);
  });
});

describe("a song", () => {
  it("of ten voices and fourteen patterns fits the window: only its matrix scrolls", async () => {
    const page = await pages.open();
    await importBytes(page, "Deck.mid", deck);
    await goToScreen(page, "Song");
    await page
      .getByRole("button", { name: /4 bars$/ })
      .first()
      .click();
    await page.getByRole("textbox").fill("2");
    await page.keyboard.press("Enter");
    await page.getByRole("button", { name: "Split every" }).click();
    await page.getByText("27 bars, 14 places").waitFor();
    const heads = page.getByRole("columnheader");
    await expect.poll(() => heads.count()).toBeGreaterThanOrEqual(10);
    for (const head of await heads.all()) {
      const box = (await head.boundingBox())!;
      expect(box.x + box.width).toBeLessThan(1280);
    }
    const [high, wide] = await page.evaluate(() => {
      const { scrollHeight, clientHeight, scrollWidth, clientWidth } = document.documentElement;
      return [scrollHeight - clientHeight, scrollWidth - clientWidth];
    });
    expect([high, wide]).toEqual([0, 0]);
  });
});

describe("a place of the song", () => {
  it("is told of by its name while it is moved by keys", async () => {
    const page = await pages.open();
    await importBytes(page, "Moved.mid", deck);
    await goToScreen(page, "Song");
    await page.getByRole("button", { name: "Split every" }).click();
    await page.getByRole("button", { name: "Move Bars 1 to 4, place 1" }).focus();
    await page.keyboard.press("Space");
    await page.getByText("Bars 1 to 4 is over place 1 of 7.").waitFor({ state: "attached" });
    await page.keyboard.press("ArrowRight");
    await page.getByText("Bars 1 to 4 is over place 2 of 7.").waitFor({ state: "attached" });
    await page.keyboard.press("Space");
    await page.getByRole("button", { name: "Move Bars 1 to 4, place 2" }).waitFor();
  });
});

describe("a chore", () => {
  it("that is kept stays chosen once it is done", async () => {
    const page = await pages.open("/");
    await openProject(page, "Ferry Lights");
    await page.keyboard.press("Shift+G");
    await page.getByRole("button", { name: /what is said below/ }).click();
    await page.getByRole("menuitemradio", { name: "Every second hat softer" }).click();
    await page.getByRole("button", { name: "Apply", exact: true }).click();
    await page.getByRole("button", { name: "Apply again" }).waitFor();
    await page.getByRole("button", { name: /Every second hat softer$/ }).waitFor();
  });
});

describe("note 60", () => {
  it("is called as somebody is used to, wherever notes have names", async () => {
    const page = await pages.open();
    await importBytes(page, "Octaves.mid", deck);
    await goToScreen(page, "Note maps");
    const named = page.getByText(/^[A-G][♯#]?-?\d$/).first();
    const before = (await named.textContent())!;
    await page.getByRole("button", { name: "Note 60 is: C4" }).click();
    await page.getByRole("menuitemradio", { name: "C3", exact: true }).click();
    const lower = before.replace(/-?\d$/, (octave) => String(Number(octave) - 1));
    await expect.poll(() => named.textContent()).toBe(lower);
    await page.reload();
    await expect.poll(() => named.textContent()).toBe(lower);
    await expect.poll(() => page.getByRole("button", { name: "Note 60 is: C3" }).count()).toBe(1);
  });
});

describe("what the page tells", () => {
  it("can be read however long the page could not show it, and waits while the pointer is on it", async () => {
    // The clock is that of a context, which goes with the page of it.
    await pages.open();
    const page = await pages.open();
    await page.clock.install();
    await openProject(page, "Ferry Lights");
    await page.keyboard.press("Shift+T");
    const told = page.getByText(/^Quantized \d voices/);
    await told.waitFor();
    // A machine that slept, or was busy: no time in which somebody could read.
    await page.clock.fastForward(60_000);
    await told.hover();
    await page.clock.runFor(60_000);
    await told.hover();
    await page.mouse.move(640, 300);
    await page.clock.runFor(12_000);
    await told.waitFor({ state: "detached" });
  });
});
