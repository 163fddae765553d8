import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { pressBriefly } from "./a-hand.ts";
import { usePages } from "./browser.ts";
import { dragTo, openSmall, type Place, PPQ, press, selection, shownOf, ticksOf, tool } from "./small-take.ts";

// What hands do, in the order in which they do it: keys before the press, after it, let go before the release.

const pages = usePages();

const SNARES = [480, 1440, 2400, 3360];

describe.each(["closed", "open"])("several selected hits of a lane that is %s", (how) => {
  const open = async (name: string) => {
    const page = await pages.open();
    const take = await openSmall(page, `${name} ${how}`, how === "open" ? "Snare" : null);
    const { top } = await take.laneBox("Snare");
    // Near the foot of the fins, where they are broad.
    const y = how === "open" ? top + 10 + 132 - 12 : top + 30;
    const on = (index: number): Place => [take.x(SNARES[index]!) + 2, y];
    await page.mouse.click(...on(0));
    await page.keyboard.down("Shift");
    await page.mouse.click(...on(1));
    await page.mouse.click(...on(2));
    await page.keyboard.up("Shift");
    await selection(page).getByText("3 snare hits selected").waitFor();
    return { page, take, on };
  };

  it("all move to the grid with Shift held before the press, and with Shift held after it", async () => {
    const { page, take, on } = await open("Snapped");
    const [x, y] = on(1);
    await page.keyboard.down("Shift");
    await press(page, on(1));
    await page.mouse.move(x + 400 / take.ticksPerPx, y, { steps: 6 });
    await page.getByText(/^3 hits: /).waitFor();
    await page.mouse.up();
    await page.keyboard.up("Shift");
    await expect.poll(async () => (await ticksOf(page, "snare"))[0]).toBeGreaterThan(480);
    const moved = await ticksOf(page, "snare");
    const by = moved[0]! - 480;
    expect(moved).toEqual([480 + by, 1440 + by, 2400 + by, 3360]);
    await page.keyboard.press("Control+z");
    await expect.poll(() => ticksOf(page, "snare")).toEqual(SNARES);
    await press(page, on(1));
    await page.keyboard.down("Shift");
    await page.mouse.move(x + 400 / take.ticksPerPx, y, { steps: 6 });
    await page.mouse.up();
    await page.keyboard.up("Shift");
    await expect.poll(() => ticksOf(page, "snare")).toEqual(moved);
  });

  it("move freely once Shift is let go before the pointer is", async () => {
    const { page, take, on } = await open("Let go");
    const [x, y] = on(0);
    await page.keyboard.down("Shift");
    await press(page, on(0));
    await page.mouse.move(x + 40, y, { steps: 4 });
    await page.keyboard.up("Shift");
    await page.mouse.move(x + 46, y, { steps: 3 });
    await page.mouse.up();
    const by = Math.round(46 * take.ticksPerPx);
    await expect.poll(async () => Math.abs((await ticksOf(page, "snare"))[0]! - 480 - by)).toBeLessThan(4);
    const [first, second, third, last] = await ticksOf(page, "snare");
    expect([second! - first!, third! - second!, last]).toEqual([960, 960, 3360]);
  });

  it("are copied, all, by Alt held before the press or after it", async () => {
    const { page, on } = await open("Copied");
    for (const isBefore of [true, false]) {
      const [x, y] = on(0);
      if (isBefore) await page.keyboard.down("Alt");
      await press(page, on(0));
      if (!isBefore) await page.keyboard.down("Alt");
      await page.mouse.move(x + 24, y, { steps: 6 });
      await page.getByText(/^3 hits: copy/).waitFor();
      await page.mouse.up();
      await page.keyboard.up("Alt");
      await expect.poll(async () => (await ticksOf(page, "snare")).length).toBe(7);
      await page.keyboard.press("Control+z");
      await expect.poll(() => ticksOf(page, "snare")).toEqual(SNARES);
      await page.mouse.click(...on(0));
      await page.keyboard.down("Shift");
      await page.mouse.click(...on(1));
      await page.mouse.click(...on(2));
      await page.keyboard.up("Shift");
    }
  });

  it("are one again after a plain click on one of them, and one fewer after a click with Shift", async () => {
    const { page, on } = await open("Clicked");
    await page.keyboard.down("Shift");
    await page.mouse.click(...on(2));
    await page.keyboard.up("Shift");
    await selection(page).getByText("2 snare hits selected").waitFor();
    await page.mouse.click(...on(1));
    await selection(page).getByText("1 snare hit selected").waitFor();
  });
});

describe("Alt on empty ground", () => {
  it("draws a velocity line in a closed lane as in an open one", async () => {
    const page = await pages.open();
    const { x, laneBox } = await openSmall(page, "Line", null);
    const { top, bottom } = await laneBox("Hi-hat");
    const base = bottom - 11;
    const high = base - (bottom - top - 16) * 0.85;
    await page.keyboard.down("Alt");
    // Above the fins, which are half as tall as the lane is.
    await dragTo(page, [x(100), high], [x(1300), high]);
    await page.keyboard.up("Alt");
    await expect
      .poll(async () => (await shownOf(page, "hat")).slice(0, 7).map(({ velocity }) => velocity > 95))
      .toEqual([false, true, true, true, true, true, false]);
  });
});

describe("the rows of an open lane", () => {
  const hats = async (name: string) => {
    const page = await pages.open();
    const take = await openSmall(page, name, "Hi-hat");
    const { top } = await take.laneBox("Hi-hat");
    const labels = page.getByRole("main", { name: "Lanes" });
    const row = async (stroke: string) => {
      const box = (await labels.getByText(stroke, { exact: true }).first().boundingBox())!;
      return box.y + box.height / 2;
    };
    return { page, ...take, top, row };
  };

  it("write their own stroke, by click and by drag", async () => {
    const { page, x, row } = await hats("Row drawn");
    await tool(page, "Draw").click();
    await page.mouse.click(x(9 * PPQ + 1), await row("open"));
    await page.getByRole("button", { name: "Undo" }).first().waitFor();
    await page.keyboard.press("Escape");
    await selection(page)
      .getByText(/^1 hi-hat hit selected/)
      .waitFor();
    await page.getByRole("button", { name: "Hi-hat, open" }).waitFor();
  });

  it("take a mark from closed to open, and a fin that is dragged down to them, as loud as it was", async () => {
    const { page, x, row, top } = await hats("Row moved");
    const before = await shownOf(page, "hat");
    await dragTo(page, [x(480) + 1, await row("closed")], [x(480) + 1, await row("open")]);
    await page.getByText("Moved 1 hit to Hi-hat, open.").waitFor();
    await dragTo(page, [x(960) + 2, top + 10 + 132 - 8], [x(960) + 2, await row("open")]);
    await expect.poll(() => page.getByText("Moved 1 hit to Hi-hat, open.").count()).toBeGreaterThan(0);
    await expect.poll(() => shownOf(page, "hat")).toEqual(before);
    // Let go between the field and the rows, nothing is done.
    await dragTo(page, [x(1200) + 2, top + 10 + 132 - 8], [x(1200) + 2, (await row("closed")) - 30]);
    await expect.poll(() => shownOf(page, "hat")).toEqual(before);
  });
});

describe("tools", () => {
  it("are seen, show what they will write, and the other button erases while drawing", async () => {
    const page = await pages.open();
    const { x, laneBox } = await openSmall(page, "Tools", null);
    const { bottom } = await laneBox("Kick");
    const y = bottom - 20;
    await tool(page, "Draw").click();
    const settings = page.getByRole("region", { name: "Drawing" });
    await settings.getByRole("switch", { name: "Snap" }).waitFor();
    await page.mouse.move(x(480) + 3, y);
    await page.getByText("1:2:0 ", { exact: false }).waitFor();
    await page.mouse.click(x(480) + 3, y);
    await expect.poll(() => ticksOf(page, "kick")).toEqual([0, 480, 960, 1920, 2880]);
    await page.mouse.click(x(480) + 2, y, { button: "right" });
    await expect.poll(() => ticksOf(page, "kick")).toEqual([0, 960, 1920, 2880]);
    await expect.poll(() => page.getByRole("menu").count()).toBe(0);
    // Off the grid with the switch, and on it for as long as Shift is held.
    await settings.getByRole("switch", { name: "Snap" }).click();
    await page.mouse.click(x(1210), y);
    await expect.poll(async () => (await ticksOf(page, "kick")).includes(1200)).toBe(false);
    await page.keyboard.press("Control+z");
    await page.keyboard.down("Shift");
    await page.mouse.click(x(1450), y);
    await page.keyboard.up("Shift");
    await expect.poll(() => ticksOf(page, "kick")).toEqual([0, 960, 1440, 1920, 2880]);
    await tool(page, "Erase").click();
    await dragTo(page, [x(900), y], [x(2000), y]);
    await expect.poll(() => ticksOf(page, "kick")).toEqual([0, 2880]);
    await page.keyboard.press("Control+z");
    await expect.poll(async () => (await ticksOf(page, "kick")).length).toBe(5);
  });

  it("are left with Escape, and what was selected stays selected", async () => {
    const page = await pages.open();
    const { x, laneBox } = await openSmall(page, "Escape", null);
    const { bottom } = await laneBox("Kick");
    await page.mouse.click(x(0) + 2, bottom - 16);
    await selection(page).getByText("1 kick hit selected").waitFor();
    await pressBriefly(page, "d");
    await expect.poll(() => tool(page, "Draw").getAttribute("aria-checked")).toBe("true");
    await page.keyboard.press("Escape");
    await expect.poll(() => tool(page, "Select").getAttribute("aria-checked")).toBe("true");
    await selection(page).getByText("1 kick hit selected").waitFor();
    // Held, the key draws for a moment.
    await page.keyboard.down("d");
    await page.mouse.click(x(480) + 2, bottom - 16);
    await page.waitForFunction(
      (since) => performance.now() - since > 500,
      await page.evaluate(() => performance.now()),
    );
    await page.keyboard.up("d");
    await expect.poll(() => tool(page, "Select").getAttribute("aria-checked")).toBe("true");
    await expect.poll(() => ticksOf(page, "kick")).toContain(480);
  });

  it("set and clear cells, one by click and many by swipe", async () => {
    const page = await pages.open();
    const { x, laneBox } = await openSmall(page, "Cells", null);
    const { bottom } = await laneBox("Kick");
    const y = bottom - 20;
    await tool(page, "Draw").click();
    await page.getByRole("switch", { name: "Step cells" }).click();
    await page.getByRole("switch", { name: "Step cells", checked: true }).waitFor();
    const slots = await ticksOf(page, "kick");
    await page.mouse.click(x(0) + 6, y);
    await expect.poll(() => ticksOf(page, "kick")).toEqual(slots.slice(1));
    await page.mouse.click(x(0) + 6, y);
    await expect.poll(() => ticksOf(page, "kick")).toEqual(slots);
    await dragTo(page, [x(3840) + 4, y], [x(5760) - 6, y]);
    const set = async () => (await ticksOf(page, "kick")).filter((tick) => tick >= 3840);
    await expect.poll(async () => (await set()).length).toBeGreaterThan(3);
    expect((await set()).every((tick) => tick % 240 === 0)).toBe(true);
    await dragTo(page, [x(3840) + 4, y], [x(5760) - 6, y]);
    await expect.poll(() => ticksOf(page, "kick")).toEqual(slots);
  });

  it("write rolls that lead into the selected hit, at the strip", async () => {
    const page = await pages.open();
    const { x, laneBox } = await openSmall(page, "Roll", "Snare");
    const { top } = await laneBox("Snare");
    await page.mouse.click(x(1440) + 2, top + 10 + 132 - 10);
    await selection(page).getByText("1 snare hit selected").waitFor();
    await tool(page, "Draw").click();
    await page.getByRole("button", { name: "Roll …" }).click();
    const roll = page.getByRole("dialog", { name: "Roll" });
    await roll.getByRole("button", { name: /^Where the roll goes/ }).click();
    await page.getByRole("menuitemradio", { name: "into the selected hit" }).click();
    await roll.getByRole("button", { name: "Roll", exact: true }).click();
    await page.getByText("Wrote 8 hits into the selected hit.").waitFor();
    expect((await ticksOf(page, "snare")).slice(1, 10)).toEqual([960, 1020, 1080, 1140, 1200, 1260, 1320, 1380, 1440]);
  });
});

describe("lanes at any size", () => {
  const heights = async (page: Page) =>
    page
      .getByRole("main", { name: "Lanes" })
      .evaluate((main) =>
        [...main.querySelectorAll("[data-lane-name]")].map((name) =>
          Math.round(name.closest(".group")!.getBoundingClientRect().height),
        ),
      );

  it("are dragged taller by their edge, all of them by wheel and key, and fitted into view", async () => {
    const page = await pages.open();
    const { laneBox } = await openSmall(page, "Sizes", null);
    const [crash, hat, snare, kick] = await heights(page);
    expect([crash, snare, kick]).toEqual([hat, hat, hat]);
    const edge = (await page.getByTestId("edge-of-Snare").boundingBox())!;
    await dragTo(page, [edge.x + 40, edge.y + 4], [edge.x + 40, edge.y + 44]);
    await expect.poll(() => heights(page)).toEqual([hat, hat, hat! + 40, hat]);
    // What a hand made stays as it is.
    const { top } = await laneBox("Kick");
    await page.mouse.move(edge.x + 400, top + 20);
    await page.keyboard.down("Alt");
    await page.mouse.wheel(0, -120);
    await page.keyboard.up("Alt");
    await expect.poll(async () => (await heights(page))[0]! > hat!).toBe(true);
    expect((await heights(page))[2]).toBe(hat! + 40);
    await page.getByRole("button", { name: "Lanes", exact: true }).click();
    await page.getByRole("menuitem", { name: "Fit all lanes" }).click();
    await expect.poll(async () => new Set(await heights(page)).size).toBe(1);
    const view = (await page.locator("[data-scrolls-lanes]").boundingBox())!;
    const total = (await heights(page)).reduce((sum, height) => sum + height, 0);
    expect(total).toBeLessThanOrEqual(view.height + 1);
    const fitted = await heights(page);
    await page.keyboard.press("Control+ArrowDown");
    await expect.poll(async () => (await heights(page))[0]! < fitted[0]!).toBe(true);
    // Kept over a reload.
    const kept = await heights(page);
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await expect.poll(() => heights(page)).toEqual(kept);
  });

  it("stay open beside one another, and the card follows the one that is worked on", async () => {
    const page = await pages.open();
    const { head } = await openSmall(page, "Several", "Snare");
    await page.getByRole("button", { name: "Keep open: Snare" }).click();
    await head("Kick").click();
    const open = page.getByRole("main", { name: "Lanes" }).locator("button[aria-expanded=true]");
    await expect.poll(() => open.count()).toBe(2);
    await page.getByRole("complementary", { name: "Lane card" }).getByRole("heading", { name: /^Kick/ }).waitFor();
    await page.getByRole("button", { name: "Keep open: Snare" }).click();
    await expect.poll(() => open.count()).toBe(1);
  });

  it("are coloured by velocity and by note", async () => {
    const page = await pages.open();
    await openSmall(page, "Colours", "Hi-hat");
    await page.getByRole("button", { name: "Lanes", exact: true }).click();
    await page.getByRole("menuitemradio", { name: "note" }).click();
    const legend = page.getByRole("list", { name: "Colours of the fins, by note" });
    await expect.poll(() => legend.getByRole("listitem").allTextContents()).toEqual(["note 42", "note 46"]);
    await page.getByRole("button", { name: "Lanes", exact: true }).click();
    await page.getByRole("menuitemradio", { name: "velocity" }).click();
    await expect.poll(() => legend.count()).toBe(0);
  });
});
