import { mkdirSync, mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { usePages } from "./browser.ts";
import { goToScreen, importBytes } from "./browser-tools.ts";
import { fileOf, PPQ, SMALL, type Struck } from "./small-take.ts";

// Files of others on the shelf of patterns.

const pages = usePages();
const list = (page: Page) => page.getByRole("listbox", { name: "Patterns" });
const words = (page: Page) => page.getByRole("searchbox", { name: "Find a pattern by its words" });
const count = async (page: Page) =>
  Number(/[\d,]+/.exec((await page.getByText(/^[\d,]+ patterns?/).textContent()) ?? "")?.[0].replace(",", ""));

async function openPatterns(page: Page): Promise<void> {
  await goToScreen(page, "Patterns");
  await filled(page);
}

async function filled(page: Page): Promise<void> {
  await page.getByText(/^[\d,]+ patterns?/).waitFor();
  await page.waitForFunction(() => !document.body.textContent.includes("takes are still being cut"));
}

/** A bar of kicks that no other file has: on the beats whose bits are set in a number. */
const kicks = (bits: number): readonly Struck[] =>
  Array.from({ length: 16 }, (_, step): Struck => [36, step * (PPQ / 4), 90]).filter((_, step) => (bits >> step) & 1);
const beats = [0, 1, 2, 3].map((beat): Struck => [56, beat * PPQ, 80]);

/** A folder of patterns, with others that are none. @param first the number of the first: other numbers are other patterns */
function makeFolder(of: number, first = 1): string {
  const folder = join(mkdtempSync(join(tmpdir(), "marten-loops-")), "Zinc loops");
  mkdirSync(join(folder, "slow"), { recursive: true });
  for (let number = first; number < first + of; number++) {
    const name = `${number % 2 === 1 ? "slow/" : ""}Loop ${number}.mid`;
    writeFileSync(join(folder, name), fileOf([...kicks(number), ...beats], 1));
  }
  writeFileSync(join(folder, "broken.mid"), "MThd and then nothing");
  writeFileSync(join(folder, "silent.mid"), fileOf([], 1));
  writeFileSync(join(folder, "cover.png"), "no music");
  return folder;
}

describe("a folder of files", () => {
  it("goes onto the shelf with what it is called, says what could not be read, stays, and is taken off file by file", async () => {
    const page = await pages.open("/");
    await importBytes(page, "Own.mid", fileOf(SMALL));
    await openPatterns(page);
    const before = await count(page);
    const folder = makeFolder(12);
    await page.getByLabel("Folder of patterns").setInputFiles(folder);
    await page.getByText("Added 12 patterns of 12 files.").waitFor();
    await expect.poll(() => count(page)).toBe(before + 12);
    const lost = page.getByRole("alert").filter({ hasText: "2 could not be read: their patterns are missing." });
    await lost.getByText("2 could not be read").click();
    await lost.getByText("Zinc loops/broken.mid").waitFor();
    await lost.getByText(/silent\.mid: /).waitFor();
    await lost.getByRole("button", { name: "Close" }).click();
    await lost.waitFor({ state: "detached" });

    // The same once more adds nothing, and each is still there after a reload.
    await page.getByLabel("Folder of patterns").setInputFiles(folder);
    await page.getByText("Added 0 patterns of 0 files. 12 files were there already.").waitFor();
    await page.reload();
    await filled(page);
    await expect.poll(() => count(page)).toBe(before + 12);
    await words(page).fill("zinc slow");
    await expect.poll(() => count(page)).toBe(6);
    await words(page).fill("zinc 7");
    await expect.poll(() => count(page)).toBe(1);
    const card = page.getByRole("complementary", { name: "Pattern" });
    await card.getByRole("heading", { name: "Loop 7" }).waitFor();
    await card.getByText(/from Zinc loops\/slow\/Loop 7\.mid/).waitFor();
    await card.getByRole("button", { name: "Take off the shelf" }).click();
    await expect.poll(() => count(page)).toBe(0);
    await page.getByRole("button", { name: "Put it back" }).click();
    await expect.poll(() => count(page)).toBe(1);
    await card.getByRole("button", { name: "Take off the shelf" }).click();
    await expect.poll(() => count(page)).toBe(0);
    await page.reload();
    await filled(page);
    await expect.poll(() => count(page)).toBe(before + 11);
    // One that was taken off comes back with its file.
    await page.getByLabel("Files of patterns").setInputFiles(join(folder, "slow/Loop 7.mid"));
    await page.getByText("Added 1 pattern of 1 file.").waitFor();
    await expect.poll(() => count(page)).toBe(before + 12);
    // One that plays the same is listed once the other is gone, and knows its own file.
    const twin = join(folder, "Twin.mid");
    const louder = [...kicks(5), ...beats].map(([note, tick, velocity]): Struck => [note, tick, velocity + 9]);
    writeFileSync(twin, fileOf(louder, 1));
    await page.getByLabel("Files of patterns").setInputFiles(twin);
    await page.getByText("Added 0 patterns of 1 file.").waitFor();
    await words(page).fill("Twin.mid");
    await expect.poll(() => count(page)).toBe(0);
    await words(page).fill("Loop 5.mid");
    await expect.poll(() => count(page)).toBe(1);
    await card.getByRole("button", { name: "Take off the shelf" }).click();
    await expect.poll(() => count(page)).toBe(0);
    await words(page).fill("Twin.mid");
    await expect.poll(() => count(page)).toBe(1);
    await words(page).fill("");
    await page.getByLabel("Files of patterns").setInputFiles(join(folder, "cover.png"));
    await page.getByText("There is no MIDI file among those.").waitFor();
  });

  it("of many is listed as it comes, and given up half-way keeps what came in", async () => {
    const page = await pages.open("/");
    await importBytes(page, "Own.mid", fileOf(SMALL));
    await openPatterns(page);
    const before = await count(page);
    // The tenth waits until it is let go, so that it can be given up in the midst of it.
    let asked = 0;
    let letGo = () => {};
    const held = new Promise<void>((resolve) => {
      letGo = resolve;
    });
    await page.route(/\/api\/patterns\/files\?path=/, async (route) => {
      asked++;
      if (asked === 10) await held;
      await route.continue();
    });
    await page.getByLabel("Folder of patterns").setInputFiles(makeFolder(24, 101));
    await expect.poll(() => asked).toBe(10);
    await page.getByText(/^Reading the files: \d+ %/).waitFor();
    await page.getByRole("button", { name: "Cancel" }).click();
    letGo();
    await page.getByText("Added 10 patterns of 10 files. The rest was left.").waitFor();
    await expect.poll(() => count(page)).toBe(before + 10);
    await list(page).getByRole("option").first().waitFor();
  });
});
