import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { type MidiMessage, readMidiFile } from "../../src/core/smf/index.ts";
import { usePages } from "./browser.ts";
import { exportBytes, finsOf, goToScreen, importBytes, paintedFins } from "./browser-tools.ts";

const pages = usePages();
const moth = new Uint8Array(readFileSync("demo/moth-parade.mid"));
const ferry = new Uint8Array(readFileSync("demo/ferry-lights.mid"));
const card = (page: Page) => page.getByRole("complementary", { name: "Lane card" });
const heads = (page: Page) => page.getByRole("main", { name: "Lanes" }).locator("[data-lane-name]").allTextContents();
const countNotes = (bytes: Uint8Array, key: number) =>
  readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.filter(
      (one: MidiMessage) => one.kind === "channel" && one.status >> 4 === 9 && one.data2 > 0 && one.data1 === key,
    ),
  ).length;

describe("lanes", () => {
  it("are renamed, moved by key, put away and shown again, and keep all that over a reload", async () => {
    const page = await pages.open();
    await importBytes(page, "Lanes.mid", moth);
    await page.getByRole("button", { name: /^Kick/ }).first().click();
    await card(page).getByRole("button", { name: "Kick", exact: true }).click();
    await card(page).getByRole("textbox", { name: "Kick" }).fill("Big drum");
    await page.keyboard.press("Enter");
    await page.getByRole("heading", { name: "Big drum 321 hits" }).waitFor();
    await page.keyboard.press("Shift+PageUp");
    await expect.poll(async () => (await heads(page)).slice(-3)).toEqual(["Big drum", "Snare", "Hand clap"]);
    await page
      .getByRole("button", { name: /^Hand clap/ })
      .first()
      .click();
    await page.keyboard.press("a");
    await page.getByText(/^Hand clap is hidden/).waitFor();
    await expect.poll(() => heads(page)).not.toContain("Hand clap");
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await page.getByRole("button", { name: "Lanes, 1 hidden" }).click();
    await page.getByRole("menuitem", { name: "Show Hand clap again" }).click();
    await expect.poll(async () => (await heads(page)).slice(-3)).toEqual(["Big drum", "Snare", "Hand clap"]);
    // Nothing of this changes what goes out.
    expect(Buffer.compare((await exportBytes(page)).bytes, moth)).toBe(0);
  });

  it("take hits that are clearly dragged to them, and say so; undo brings them back", async () => {
    const page = await pages.open();
    await importBytes(page, "Drag.mid", moth);
    await page
      .getByRole("button", { name: /^Snare/ })
      .first()
      .click(); // close it: all lanes are slim
    const box = (await finsOf(page).boundingBox())!;
    const lane = (index: number) => box.y + index * 44 + 28;
    const snare = 4;
    const kick = 5;
    // The first kick sounds on bar 1.
    await page.mouse.move(box.x + 15, lane(kick));
    await page.mouse.down();
    await page.mouse.move(box.x + 16, lane(kick) - 24, { steps: 4 });
    await page.getByText(/^velocity/).waitFor();
    await page.mouse.move(box.x + 16, lane(snare) - 20, { steps: 6 });
    await page.getByText("to Snare, centre").waitFor();
    await page.mouse.up();
    await page.getByText("Moved 1 hit to Snare, centre.").waitFor();
    const { bytes } = await exportBytes(page);
    expect([countNotes(bytes, 36), countNotes(bytes, 38)]).toEqual([
      countNotes(moth, 36) - 1,
      countNotes(moth, 38) + 1,
    ]);
    await page.keyboard.press("Control+z");
    await page.getByText("Undone: Move 1 hit to Snare, centre.").waitFor();
    expect(Buffer.compare((await exportBytes(page)).bytes, moth)).toBe(0);
  });

  it("give all their hits away in one step, and take a drum that nothing plays", async () => {
    const page = await pages.open();
    await importBytes(page, "Give.mid", moth);
    await page
      .getByRole("button", { name: /^Hand clap/ })
      .first()
      .click();
    await card(page).getByRole("button", { name: "Lane menu" }).click();
    await page.getByRole("button", { name: "Reassign all hits to: another drum" }).click();
    await page.getByRole("menuitemradio", { name: "Cowbell" }).click();
    await page.getByText("Moved 32 hits to Cowbell.").waitFor();
    await page.getByRole("heading", { name: "Cowbell 32 hits" }).waitFor();
    await page.getByRole("button", { name: "Lanes", exact: true }).click();
    await page.getByText("Add a lane").hover();
    await page.getByRole("menuitem", { name: "Claves" }).click();
    await page.getByRole("heading", { name: "Claves 0 hits" }).waitFor();
    await page.getByRole("button", { name: "Lanes", exact: true }).click();
    await page.getByRole("menuitem", { name: "Hide lanes without hits" }).click();
    await page.getByText("Hid Claves.").waitFor();
  });

  it("say in their colours what is asked, with a legend, and show their controls when they shall", async () => {
    const page = await pages.open();
    await importBytes(page, "Colours.mid", moth);
    const menu = page.getByRole("button", { name: "Lanes", exact: true });
    // How a voice was played is drawn, too, once it is known.
    await card(page)
      .getByRole("radio", { name: /, best$/ })
      .first()
      .waitFor();
    const before = await paintedFins(page);
    await menu.click();
    await page.getByRole("menuitemradio", { name: "role" }).click();
    const legend = page.getByRole("list", { name: "Colours of the fins, by role" });
    await expect.poll(() => legend.getByRole("listitem").allTextContents()).toEqual(["ghost", "normal", "accent"]);
    await expect.poll(() => paintedFins(page)).not.toBe(before);
    await menu.click();
    await page.getByRole("menuitemradio", { name: "family" }).click();
    await legend.waitFor({ state: "detached" });
    await expect.poll(() => paintedFins(page)).toBe(before);
    const solo = page.getByRole("button", { name: "Solo Kick" });
    const opacity = () => solo.evaluate((element) => getComputedStyle(element).opacity);
    await expect.poll(() => opacity()).toBe("0");
    await menu.click();
    await page.getByRole("menuitemcheckbox", { name: "Mute and solo on every lane" }).click();
    await expect.poll(opacity).toBe("1");
  });

  it("are taken out to a project and to a file", async () => {
    const page = await pages.open();
    await importBytes(page, "Whole.mid", moth);
    await card(page).getByRole("button", { name: "Lane menu" }).click();
    const menu = page.getByRole("dialog", { name: "Lane of Snare" });
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      menu.getByRole("button", { name: "To a file" }).click(),
    ]);
    expect(download.suggestedFilename()).toBe("Whole Snare.mid");
    const bytes = new Uint8Array(readFileSync((await download.path())!));
    expect([countNotes(bytes, 38), countNotes(bytes, 36)]).toEqual([countNotes(moth, 38), 0]);

    await menu.getByRole("button", { name: "What becomes of it here: keep it here" }).click();
    await page.getByRole("menuitemradio", { name: "remove it here" }).click();
    // Two quick clicks make one.
    await menu.getByRole("button", { name: "To a project" }).dblclick();
    await expect.poll(async () => heads(page)).not.toContain("Snare");
    await page.getByRole("button", { name: "Open", exact: true }).click();
    await page.getByRole("heading", { name: "Snare 383 hits" }).waitFor();
    await expect.poll(() => heads(page)).toEqual(["Snare"]);
    await goToScreen(page, "Shelf");
    await page.getByRole("searchbox", { name: "Search projects" }).fill("whole snare");
    await expect.poll(() => page.getByRole("link", { name: "Whole, Snare" }).count()).toBe(1);
    await page.getByRole("searchbox", { name: "Search projects" }).fill("nothing like it");
    await page.getByText("Nothing found for “nothing like it”.").waitFor();
  });

  it("stand beside tracks that are not drums, which can be heard", async () => {
    const page = await pages.open();
    await importBytes(page, "Bass.mid", ferry);
    await page.getByRole("button", { name: "Tracks of the take" }).click();
    const hear = page.getByRole("button", { name: /^Heard? / });
    await hear.click();
    await expect.poll(() => hear.getAttribute("aria-pressed")).toBe("true");
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: "Play", exact: true }).click();
    await expect.poll(() => page.getByTestId("place").textContent()).not.toBe("1:1");
    await page.getByRole("button", { name: "Stop" }).click();
  });
});
