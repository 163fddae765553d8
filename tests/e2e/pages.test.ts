import type { Page, Route } from "playwright-core";
import { describe, expect, it } from "vitest";
import { usePages } from "./browser.ts";
import { goToScreen, importBytes, screenLink } from "./browser-tools.ts";
import { baseUrl } from "./own-server.ts";
import { fileOf, PPQ, type Struck, selection } from "./small-take.ts";

// What every page has: its search, its keys, and a way back that closes first what lies over it.

const pages = usePages();
const QUARTERS = Array.from({ length: 16 }, (_, quarter): Struck => [38, quarter * PPQ, 40 + 4 * quarter]);
const OTHERS = ["Shelf", "Note maps", "Grooves", "Patterns", "Song", "Messages"] as const;

const search = (page: Page) => page.getByRole("dialog", { name: "Search" });
const keySheet = (page: Page) => page.getByRole("dialog", { name: "Keys" });

describe("every page", () => {
  it("has its keys on a sheet, and a search that knows the page, the screens, the takes and the Bench", async () => {
    const page = await pages.open();
    await importBytes(page, "Small fry.mid", fileOf(QUARTERS));
    for (const name of OTHERS) {
      await goToScreen(page, name);
      await page.getByRole("button", { name: "All keys" }).click();
      await keySheet(page).getByText("On all screens").waitFor();
      await page.keyboard.press("Escape");
      await keySheet(page).waitFor({ state: "detached" });
      await page.getByRole("button", { name: "Search", exact: true }).click();
      await search(page)
        .getByRole("option", { name: /^Small fry/ })
        .first()
        .waitFor();
      await page.keyboard.press("Escape");
      await search(page).waitFor({ state: "detached" });
    }
    // To another screen by a word for it, as it is by key.
    await page.keyboard.press("/");
    await page.keyboard.type("arranger");
    await page.keyboard.press("Enter");
    await page.waitForURL(/\/song\//);
    await page.getByRole("heading", { level: 1, name: "Song" }).waitFor({ state: "attached" });
    // What the page does is done from its search.
    await page.keyboard.press("/");
    await page.keyboard.type("hear recorded");
    await page.keyboard.press("Enter");
    await expect.poll(() => page.getByRole("radio", { name: "Recorded" }).getAttribute("aria-checked")).toBe("true");
    // What it does not know is looked for on the Bench, in the words that were typed.
    await page.keyboard.press("/");
    await page.keyboard.type("humanize");
    await search(page).getByRole("option", { name: "Search the Bench for “humanize”" }).click();
    await page.waitForURL(/\/bench\//);
    await expect.poll(() => search(page).getByRole("combobox").inputValue()).toBe("humanize");
    await search(page)
      .getByRole("option", { name: /^Humanize/ })
      .first()
      .waitFor();
  });

  it("lets its own keys be others, and leads to the Bench for those of all screens", async () => {
    const page = await pages.open();
    await importBytes(page, "Small fry.mid", fileOf(QUARTERS));
    await goToScreen(page, "Messages");
    await page.keyboard.press("?");
    await keySheet(page)
      .getByRole("button", { name: /another key for Select all that are shown/ })
      .click();
    await page.keyboard.press("e");
    await keySheet(page)
      .getByRole("alert")
      .getByText(/^E is for “Change the selected messages”/)
      .waitFor();
    await page.keyboard.press("F8");
    await keySheet(page)
      .getByRole("button", { name: /^F8, another key/ })
      .waitFor();
    await page.keyboard.press("Escape");
    await page.keyboard.press("F8");
    await page
      .getByRole("status", { name: "Selected" })
      .getByText(/[1-9]\d* messages selected/)
      .waitFor();
    await page.keyboard.press("?");
    await keySheet(page).getByRole("link", { name: "Bench" }).click();
    await page.waitForURL(/\/bench\/.+keys/);
    await keySheet(page)
      .getByRole("button", { name: /another key for Play, stop/ })
      .waitFor();
  });
});

/** Holds back requests, each until it is let go by name. */
async function holdBack(page: Page, url: RegExp) {
  const waiting: Route[] = [];
  await page.route(url, (route) => {
    waiting.push(route);
  });
  return {
    async next(end: (route: Route) => Promise<void>) {
      await expect.poll(() => waiting.length).toBe(1);
      await end(waiting.pop()!);
    },
  };
}

describe("an opening", () => {
  it("that takes a while says how far it is, and is cancelled", async () => {
    const page = await pages.open();
    await importBytes(page, "Small fry.mid", fileOf(QUARTERS));
    await goToScreen(page, "Shelf");
    const held = await holdBack(page, /\/api\/projects\/[^/?]+$/);
    await page.getByRole("link", { name: "Small fry", exact: true }).first().click();
    const note = page.getByRole("status").filter({ hasText: "Opening the take: 0 %" });
    const given = page.waitForEvent("requestfailed");
    await note.getByRole("button", { name: "Cancel" }).click();
    await page.getByRole("heading", { name: "Drop a recording here" }).waitFor();
    await given;
    await held.next(() => Promise.resolve());
    await page.getByRole("link", { name: "Small fry", exact: true }).first().click();
    await held.next((route) => route.continue());
    await page.getByRole("main", { name: "Lanes" }).waitFor();
  });
});

describe("listening for repeats", () => {
  it("says how far it is in a long take, is cancelled without a trace, and begun again", async () => {
    const page = await pages.open();
    const bar: readonly Struck[] = Array.from({ length: 16 }, (_, step): Struck => [42, step * 120, 60 + step]);
    const bars = 2400;
    const hats = Array.from({ length: bars }, (_, at) =>
      bar.map(([note, tick, vel]): Struck => [note, tick + at * 1920, vel]),
    );
    await importBytes(page, "Long.mid", fileOf(hats.flat(), bars));
    await goToScreen(page, "Song");
    const split = page.getByRole("button", { name: "Split by repeats" });
    await page.getByText("This take is not split yet").waitFor();
    // Whatever the machine: it is cancelled in the moment in which that can be done.
    await page.evaluate(() => {
      new MutationObserver((_, watching) => {
        const note = [...document.querySelectorAll("[role=status]")].find((one) =>
          /^Listening for repeats: \d+ %/.test(one.textContent ?? ""),
        );
        if (!note) return;
        watching.disconnect();
        document.title = "seen";
        note.querySelector("button")!.click();
      }).observe(document.body, { subtree: true, childList: true });
    });
    await split.click();
    await expect.poll(() => page.title()).toBe("seen");
    await page.getByRole("status").filter({ hasText: "Listening for repeats" }).waitFor({ state: "detached" });
    await page.getByText("This take is not split yet").waitFor();
    await split.click();
    await page.getByText("Split the take into 150 patterns. The take stays whole.").waitFor();
  });
});

describe("an export", () => {
  it("goes on under the top bar when its sheet is closed, and is cancelled there", async () => {
    const page = await pages.open();
    await importBytes(page, "Small fry.mid", fileOf(QUARTERS));
    const held = await holdBack(page, /\/api\/projects\/[^/]+\/export/);
    const ask = async () => {
      await page.getByRole("button", { name: "Export", exact: true }).click();
      const sheet = page.getByRole("dialog", { name: "Export" });
      await sheet.getByRole("button", { name: "Save the file" }).click();
      await sheet.getByText("Writing the file").waitFor();
      await page.keyboard.press("Escape");
      await sheet.waitFor({ state: "detached" });
    };
    const note = page.getByRole("status").filter({ hasText: "Writing the file" });
    await ask();
    // Work goes on meanwhile.
    await page.keyboard.press("Control+a");
    await selection(page).getByText("16 snare hits selected").waitFor();
    await note.waitFor();
    const [download] = await Promise.all([page.waitForEvent("download"), held.next((route) => route.continue())]);
    expect(download.suggestedFilename()).toMatch(/\.mid$/);
    await note.waitFor({ state: "detached" });
    await ask();
    await note.getByRole("button", { name: "Cancel" }).click();
    await note.waitFor({ state: "detached" });
    await held.next((route) => route.continue());
    // What fails after the sheet is closed is said there, too.
    await ask();
    await held.next((route) => route.abort());
    const alert = page.getByRole("alert").filter({ hasText: "No file was written." });
    await alert.getByRole("button", { name: "Close" }).click();
    await alert.waitFor({ state: "detached" });
  });
});

describe("Back", () => {
  it("closes what lies over the page first, and only then leaves it", async () => {
    const page = await pages.open();
    await importBytes(page, "Small fry.mid", fileOf(QUARTERS));
    await goToScreen(page, "Song");
    await screenLink(page, "Bench").click();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    const address = page.url();
    for (const [button, sheet] of [
      ["All keys", "Keys"],
      ["Search", "Search"],
      ["Export", "Export"],
    ] as const) {
      await page.getByRole("button", { name: button, exact: true }).click();
      const opened = page.getByRole("dialog", { name: sheet });
      await opened.waitFor();
      await page.evaluate(() => history.back());
      await opened.waitFor({ state: "detached" });
      expect(page.url()).toBe(address);
    }
    await page.keyboard.press("Control+a");
    await selection(page).getByText("16 snare hits selected").waitFor();
    await page.goBack();
    await page.waitForURL(/\/song\//);
    expect(page.url().startsWith(baseUrl())).toBe(true);
  });
});
