import { describe, expect, it } from "vitest";
import { fingersOf } from "./a-hand.ts";
import { usePages } from "./browser.ts";
import { restingBox, twoFrames } from "./browser-tools.ts";
import { openSmall, selection, shownOf, ticksOf, tool } from "./small-take.ts";

// What fingers do in the lanes, where there is no key to hold and no other button.

const pages = usePages();

describe("fingers", () => {
  it("draw, erase and set cells with the tools that are tapped, and move what is selected, all of it", async () => {
    const page = await pages.open();
    const { x, laneBox, ticksPerPx } = await openSmall(page, "Fingers", null);
    const { tap, drag } = await fingersOf(page);
    const { bottom } = await laneBox("Kick");
    const y = bottom - 20;
    const tapOn = async (name: string) => {
      const { x: left, y: top, width, height } = (await tool(page, name).boundingBox())!;
      await tap(left + width / 2, top + height / 2);
      await expect.poll(() => tool(page, name).getAttribute("aria-checked")).toBe("true");
    };
    await tapOn("Draw");
    await tap(x(480) + 3, y);
    await expect.poll(() => ticksOf(page, "kick")).toEqual([0, 480, 960, 1920, 2880]);
    await tapOn("Erase");
    await drag([x(400), y], [x(1100), y]);
    await expect.poll(() => ticksOf(page, "kick")).toEqual([0, 1920, 2880]);
    await tapOn("Draw");
    const cells = page.getByRole("switch", { name: "Step cells" });
    await cells.click();
    await drag([x(3840) + 4, y], [x(5760) - 6, y]);
    await expect
      .poll(async () => (await ticksOf(page, "kick")).filter((tick) => tick >= 3840).length)
      .toBeGreaterThan(3);
    await cells.click();
    await page.keyboard.press("Control+z");
    await tapOn("Select");
    await page.keyboard.press("Escape");
    await tap(x(1920) + 2, bottom - 16);
    await selection(page).getByText("1 kick hit selected").waitFor();
    await page.keyboard.down("Shift");
    await page.mouse.click(x(2880) + 2, bottom - 16);
    await page.keyboard.up("Shift");
    await selection(page).getByText("2 kick hits selected").waitFor();
    await drag([x(1920) + 2, bottom - 16], [x(1920) + 2 + 60, bottom - 16]);
    await expect.poll(async () => (await ticksOf(page, "kick"))[1]).not.toBe(1920);
    const [first, second, third] = await ticksOf(page, "kick");
    expect(first).toBe(0);
    expect(third! - second!).toBe(960);
    expect(Math.abs(second! - 1920 - 60 * ticksPerPx)).toBeLessThan(2 * ticksPerPx);
  });

  it("open the menu of a place by resting there, filled, and it stays when they are lifted", async () => {
    const page = await pages.open();
    const { x, laneBox } = await openSmall(page, "Resting finger", null);
    const { slide, lift, tap } = await fingersOf(page);
    const { bottom } = await laneBox("Kick");
    const menu = page.getByRole("menu");
    await slide([[x(1920) + 2, bottom - 16]]);
    const item = menu.getByRole("menuitem", { name: "Remove" });
    await item.waitFor();
    await lift();
    // Two frames are enough for what would close it.
    await twoFrames(page);
    const { x: left, y: top } = (await item.boundingBox())!;
    await tap(left + 20, top + 8);
    await expect.poll(() => ticksOf(page, "kick")).toEqual([0, 960, 2880]);
    await menu.waitFor({ state: "detached" });
    // On free ground it is about the place.
    await slide([[x(5000), bottom - 16]]);
    await menu.getByRole("menuitem", { name: "Write a hit here" }).waitFor();
    await lift();
    await page.keyboard.press("Escape");
    await menu.waitFor({ state: "detached" });
  });

  it("have Shift and Alt beside the tools: more are selected, copied, and a velocity line is drawn", async () => {
    const page = await pages.open();
    const session = await page.context().newCDPSession(page);
    await session.send("Emulation.setTouchEmulationEnabled", { enabled: true });
    const { x, laneBox } = await openSmall(page, "Finger keys", null);
    const { tap, drag } = await fingersOf(page);
    const { top, bottom } = await laneBox("Kick");
    const key = (name: string) => page.getByRole("group", { name: "Keys for fingers" }).getByRole("button", { name });
    const press = async (name: string) => {
      const { x: left, y, width, height } = (await key(name).boundingBox())!;
      await tap(left + width / 2, y + height / 2);
    };
    await tap(x(1920) + 2, bottom - 16);
    await press("Shift");
    await tap(x(2880) + 2, bottom - 16);
    await selection(page).getByText("2 kick hits selected").waitFor();
    await press("Shift");
    await expect.poll(() => key("Shift").getAttribute("aria-pressed")).toBe("false");
    await press("Alt");
    await drag([x(2880) + 2, bottom - 16], [x(4800) + 2, bottom - 16]);
    await expect.poll(async () => (await ticksOf(page, "kick")).length).toBe(6);
    const snare = await laneBox("Snare");
    await drag([x(240), snare.top + 12], [x(3600), snare.bottom - 20]);
    await expect
      .poll(async () => (await shownOf(page, "snare")).map(({ velocity }) => velocity))
      .toSatisfy((line: number[]) => line.every((velocity, at) => at === 0 || velocity < line[at - 1]!));
    expect(top).toBeGreaterThan(0);
  });

  it("take a mark to the row of another stroke, and a lane's edge to make it taller", async () => {
    const page = await pages.open();
    const { x, laneBox, head } = await openSmall(page, "Finger rows", "Hi-hat");
    const { drag } = await fingersOf(page);
    const { top } = await laneBox("Hi-hat");
    const row = async (stroke: string) => {
      const box = (await page.getByText(stroke, { exact: true }).first().boundingBox())!;
      return box.y + box.height / 2;
    };
    await drag([x(480) + 1, await row("closed")], [x(480) + 1, await row("open")]);
    await page.getByText("Moved 1 hit to Hi-hat, open.").waitFor();
    expect(top).toBeGreaterThan(0);
    await head("Hi-hat").click();
    // What is below and beside moves as the lane closes and what was said goes: a finger waits, too.
    await page
      .getByRole("main", { name: "Lanes" })
      .locator("button[aria-expanded=true]")
      .waitFor({ state: "detached" });
    const { x: left, y: at } = await restingBox(page.getByTestId("edge-of-Kick"));
    const before = await laneBox("Kick");
    await drag([left + 40, at + 4], [left + 40, at + 34]);
    await expect
      .poll(async () => {
        const { top: from, bottom: to } = await laneBox("Kick");
        return Math.round(to - from - (before.bottom - before.top));
      })
      .toBe(30);
  });
});
