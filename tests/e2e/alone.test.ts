import { readFileSync } from "node:fs";
import type { Locator, Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { readMidiFile } from "../../src/core/smf/index.ts";
import { fingersOf } from "./a-hand.ts";
import { usePages } from "./browser.ts";
import { restingBox } from "./browser-tools.ts";

// The job from a file to a file by keys alone, by fingers alone, and by what a screen reader is told alone.

const pages = usePages();
const SNARE = 38;
const ferry = readFileSync("demo/ferry-lights.mid");

/** One way to work: how something that is there is chosen, and what is typed into. */
interface Way {
  choose(what: Locator): Promise<void>;
  type(text: string): Promise<void>;
}

const MOST_TABS = 220;
const hasFocus = (what: Locator) => what.evaluate((one) => one === document.activeElement);

/** Tab goes on until it is reached; within a group that is one stop, arrows do. No element is focused but by keys. */
function byKeys(page: Page): Way {
  const reach = async (what: Locator) => {
    await what.waitFor();
    const role = await what.getAttribute("role");
    const isGrouped = role === "radio" || role === "tab" || role?.startsWith("menuitem");
    for (let press = 0; press < MOST_TABS; press++) {
      if (await hasFocus(what)) return;
      const isInGroup =
        isGrouped &&
        (await what.evaluate((one) => {
          const group = one.closest("[role=radiogroup], [role=group], [role=tablist], [role=menu]");
          return group?.contains(document.activeElement) ?? false;
        }));
      await page.keyboard.press(isInGroup ? (role?.startsWith("menu") ? "ArrowDown" : "ArrowRight") : "Tab");
    }
    throw new Error(`Not reached by key: ${what}`);
  };
  return {
    async choose(what) {
      await reach(what);
      await page.keyboard.press("Enter");
    },
    type: (text) => page.keyboard.type(text),
  };
}

function byFingers(page: Page): Way {
  const hand = fingersOf(page);
  return {
    async choose(what) {
      await what.waitFor();
      await what.scrollIntoViewIfNeeded();
      const { x, y, width, height } = await restingBox(what);
      await (await hand).tap(x + width / 2, y + height / 2);
    },
    // A keyboard on the screen puts words in.
    type: (text) => page.keyboard.insertText(text),
  };
}

/** What is found by role and name is pressed there, as a screen reader does for whoever asks for it. */
function byTree(page: Page): Way {
  return {
    async choose(what) {
      await what.click();
    },
    type: (text) => page.keyboard.insertText(text),
  };
}

const snares = (bytes: Uint8Array) =>
  readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status === 0x99 && one.data2 > 0 && one.data1 === SNARE
        ? [{ tick: one.tick, velocity: one.data2 }]
        : [],
    ),
  );

/** Everything is found by role and name, and heard of in regions that speak. */
async function doTheJob(page: Page, way: Way): Promise<void> {
  const button = (name: string | RegExp) => page.getByRole("button", { name, exact: typeof name === "string" });
  const said = (text: string | RegExp) => page.getByRole("status").filter({ hasText: text }).first();
  const [chooser] = await Promise.all([page.waitForEvent("filechooser"), way.choose(button("Choose a file"))]);
  await chooser.setFiles({ name: "Alone.mid", mimeType: "audio/midi", buffer: ferry });
  await page.getByRole("main", { name: "Lanes" }).waitFor();
  await page.getByRole("region", { name: "What was imported" }).getByText("855 hits").waitFor();
  await said("Saved").waitFor();
  await way.choose(button("Quantize each on its own grid"));
  await page.getByText(/^Quantized \d voices/).waitFor();
  const card = page.getByRole("complementary", { name: "Lane card" });
  // The line that tells of doubtful hits stands over the tabs, and comes when they are known.
  await card.getByText(/^\d+ doubtful hits$/).waitFor();
  await way.choose(card.getByRole("tab", { name: /^Dynamics/ }));
  await way.choose(card.getByRole("button", { name: "Ghosts: as played" }));
  const field = page.getByRole("textbox").last();
  await field.waitFor();
  await expect.poll(() => hasFocus(field)).toBe(true);
  await way.type("80");
  await page.keyboard.press("Enter");
  await card.getByRole("button", { name: /^Ghosts: × 80 %/ }).waitFor();
  const side = (name: string) => page.getByRole("radio", { name, exact: true });
  for (const name of ["Recorded", "Cleaned"]) {
    await way.choose(side(name));
    await expect.poll(() => side(name).getAttribute("aria-checked")).toBe("true");
  }
  await way.choose(button("Play"));
  await way.choose(button("Stop"));
  await way.choose(page.getByRole("link", { name: "Song", exact: true }));
  await way.choose(button("Split by repeats"));
  await page.getByText("Split the take into 6 patterns. The take stays whole.").waitFor();
  await way.choose(page.getByRole("link", { name: "Bench", exact: true }));
  await page.getByRole("main", { name: "Lanes" }).waitFor();
  await way.choose(button("Export"));
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    way.choose(page.getByRole("dialog", { name: "Export" }).getByRole("button", { name: "Save the file" })),
  ]);
  const before = snares(ferry);
  const after = snares(readFileSync((await download.path())!));
  expect(after).toHaveLength(before.length);
  expect(Math.min(...after.map(({ velocity }) => velocity))).toBeLessThan(
    Math.min(...before.map(({ velocity }) => velocity)),
  );
  const off = (hits: typeof before) =>
    hits.reduce((sum, { tick }) => sum + Math.abs(tick - 120 * Math.round(tick / 120)), 0);
  expect(off(after)).toBeLessThan(0.5 * off(before));
}

describe("the job from a file to a file", () => {
  it("is done by keys alone", async () => {
    const page = await pages.open();
    await doTheJob(page, byKeys(page));
  });

  it("is done by fingers alone", async () => {
    const page = await pages.open();
    await doTheJob(page, byFingers(page));
  });

  it("is done by roles, names and what is spoken, and the hits are told one by one", async () => {
    const page = await pages.open();
    await doTheJob(page, byTree(page));
    const grid = page.getByRole("grid", { name: "Hits of all lanes" });
    await grid.focus();
    await page.keyboard.press("ArrowRight");
    const spoken = page.getByText(/^Snare.*, 1 of 246$/);
    await spoken.first().waitFor();
    const row = grid.getByRole("row").filter({ hasText: "Snare" });
    await row.getByRole("gridcell", { name: /1 of 246$/ }).waitFor();
    await page.keyboard.press("Control+ArrowUp");
    await page
      .getByText(/velocity \d+.*1 of 246$/)
      .first()
      .waitFor();
  });
});
