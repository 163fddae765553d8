import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { readMidiFile } from "../../src/core/smf/index.ts";
import { pressBriefly } from "./a-hand.ts";
import { usePages } from "./browser.ts";
import { exportBytes, finsOf, importBytes, keptView } from "./browser-tools.ts";
import { openSmall, ticksOf, tool } from "./small-take.ts";

const pages = usePages();
const moth = new Uint8Array(readFileSync("demo/moth-parade.mid"));
const selection = (page: Page) => page.getByRole("status", { name: "Selection" });
const claps = (bytes: Uint8Array) =>
  readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status >> 4 === 9 && one.data2 > 0 && one.data1 === 39 ? [one] : [],
    ),
  );
/** The hand claps are the last of seven lanes; their lane is empty in the first bars. */
async function clapLane(page: Page) {
  await page
    .getByRole("button", { name: /^Snare/ })
    .first()
    .click(); // close it: all lanes are slim
  const box = (await finsOf(page).boundingBox())!;
  return { left: box.x, y: box.y + 6 * 44 + 20 };
}

describe("writing on the Bench", () => {
  it("draws by click and by stroke on the lane's grid, off it with Shift, and takes nothing's place", async () => {
    const page = await pages.open();
    await importBytes(page, "Draw.mid", moth);
    const { left, y } = await clapLane(page);
    await pressBriefly(page, "d");
    await expect.poll(() => page.getByRole("radio", { name: "Draw" }).getAttribute("aria-checked")).toBe("true");
    await page.mouse.move(left + 60, y);
    await page.mouse.down();
    await page.mouse.move(left + 300, y, { steps: 12 });
    await page.getByText(/drawn, velocity/).waitFor();
    await page.mouse.up();
    await selection(page)
      .getByText(/hand clap hits selected/)
      .waitFor();
    const drawn = claps((await exportBytes(page)).bytes);
    const added = drawn.length - claps(moth).length;
    expect(added).toBeGreaterThan(2);
    const grid = 480 / 1; // the claps were played on quarters
    const fresh = drawn.slice(0, added).map(({ tick }) => tick);
    expect(fresh.every((tick) => tick % (grid / 4) === 0)).toBe(true);
    // Over the same ground nothing is doubled.
    await page.mouse.move(left + 60, y);
    await page.mouse.down();
    await page.mouse.move(left + 300, y, { steps: 12 });
    await page.mouse.up();
    expect(claps((await exportBytes(page)).bytes)).toHaveLength(drawn.length);
    await page.keyboard.down("Shift");
    await page.mouse.click(left + 487, y);
    await page.keyboard.up("Shift");
    await expect.poll(async () => claps((await exportBytes(page)).bytes).length).toBe(drawn.length + 1);
    await page.keyboard.press("Escape");
    await page.keyboard.press("Control+z");
    await page.keyboard.press("Control+z");
    await page.getByText(/^Undone: Draw \d+ hits/).waitFor();
    expect(Buffer.compare((await exportBytes(page)).bytes, moth)).toBe(0);
  });

  it("writes notes as long as the strip says, and copies of them as long", async () => {
    const page = await pages.open();
    const { x, laneBox } = await openSmall(page, "Lengths", "Snare");
    const { bottom } = await laneBox("Kick");
    await tool(page, "Draw").click();
    await page.getByRole("button", { name: "Length of drawn notes: 1/32" }).click();
    await page.getByRole("menuitemradio", { name: "1/8", exact: true }).click();
    await page.mouse.click(x(3360) + 2, bottom - 16);
    await expect.poll(() => ticksOf(page, "kick")).toContain(3360);
    await page.keyboard.press("Escape");
    await page.keyboard.press("u");
    await page.getByText("Repeated 1 hit.").waitFor();
    const { tracks } = readMidiFile((await exportBytes(page)).bytes).file;
    const ends = tracks.flatMap(({ messages }) =>
      messages.flatMap((one) =>
        one.kind === "channel" && one.status >> 4 === 8 && one.data1 === 36 ? [one.tick] : [],
      ),
    );
    expect(ends).toEqual(expect.arrayContaining([3360 + 240, 3840 + 240]));
  });

  it("fills and bursts by sentence, repeats, copies and pastes by key", async () => {
    const page = await pages.open();
    await importBytes(page, "Fill.mid", moth);
    await page
      .getByRole("button", { name: /^Hand clap/ })
      .first()
      .click();
    await page.getByRole("button", { name: "Fill …" }).click();
    await page.getByRole("dialog", { name: "Fill" }).getByRole("button", { name: "Fill", exact: true }).click();
    await page.getByText(/^Wrote \d+ hits on /).waitFor();
    const filled = claps((await exportBytes(page)).bytes).length;
    expect(filled).toBeGreaterThan(claps(moth).length);
    await page.keyboard.press("Control+z");
    await page.getByRole("button", { name: "Roll …" }).click();
    await page.getByRole("dialog", { name: "Roll" }).getByRole("button", { name: "Roll", exact: true }).click();
    await page.getByText("Wrote 8 hits into the bar line.").waitFor();
    const burst = claps((await exportBytes(page)).bytes).filter(({ tick }) => tick < 1920);
    expect(burst.map(({ tick }) => tick)).toEqual([1440, 1500, 1560, 1620, 1680, 1740, 1800, 1860]);
    expect([burst[0]!.data2, burst[7]!.data2]).toEqual([40, 110]);
    await page.keyboard.press("u");
    await page.getByText("Repeated 8 hits.").waitFor();
    await page.keyboard.press("Control+c");
    await page.keyboard.press("Home");
    await page.keyboard.press("Control+v");
    await page.getByText(/^Pasted 8 hits/).waitFor();
    expect(claps((await exportBytes(page)).bytes)).toHaveLength(claps(moth).length + 24);
  });

  it("types place and loudness, and drags dots of the drift rail and the wheel over a picked fin", async () => {
    const page = await pages.open();
    await importBytes(page, "Type.mid", moth);
    await page.keyboard.press("n");
    await selection(page)
      .getByText(/1 snare hit selected/)
      .waitFor();
    await page.keyboard.press("Enter");
    const sheet = page.getByRole("dialog", { name: "Position and velocity" });
    await sheet.getByLabel("Place").fill("somewhere");
    await sheet.getByRole("button", { name: "Take" }).click();
    await sheet.getByText(/^Type a place such as/).waitFor();
    await sheet.getByLabel("Place").fill("1:3:10");
    await sheet.getByLabel("Velocity").fill("77");
    await sheet.getByRole("button", { name: "Take" }).click();
    await selection(page).getByText("1 snare hit selected at 1:3:10").waitFor();
    await selection(page)
      .getByText(/velocity 77/)
      .waitFor();

    // Its dot in the rail is dragged up, which is later; with the wheel over its fin it is louder.
    await page.keyboard.press("0"); // everything in view, then near: the first bar starts 14 px from the left
    for (let turn = 0; turn < 30; turn++) await page.keyboard.press("-");
    const view = () => keptView(page);
    await page.keyboard.press("Home");
    for (let turn = 0; turn < 9; turn++) await page.keyboard.press("+");
    await page.keyboard.press("Home");
    const { startTick, ticksPerPx } = await view();
    const box = (await finsOf(page).boundingBox())!;
    const x = box.x + (970 - startTick) / ticksPerPx;
    const laneTop = box.y + 4 * 44;
    await page.mouse.move(x + 2, laneTop + 10 + 132 - 20);
    await page.mouse.wheel(0, -100);
    await selection(page)
      .getByText(/velocity 79/)
      .waitFor();
    const zero = laneTop + 10 + 132 + 16 + 28 + 4;
    const driftY = zero - (10 * (60_000 / 140 / 480) * 28) / 40;
    await page.mouse.move(x, driftY);
    await page.mouse.down();
    await page.mouse.move(x, driftY - 7, { steps: 4 });
    await page.mouse.up();
    await selection(page)
      .getByText(/selected at 1:3:2\d/)
      .waitFor();
  });

  it("finds commands by what they do, and goes back to any step", async () => {
    const page = await pages.open();
    await importBytes(page, "Menu.mid", moth);
    await page.keyboard.press("/");
    await page.getByPlaceholder(/What do you want to do/).fill("quantize every");
    await page.keyboard.press("Enter");
    await page.getByText("Quantized 7 voices, each on its own grid.").waitFor();
    await page.keyboard.press("n");
    await page.keyboard.press("ArrowUp");
    await page.keyboard.press("ArrowRight");
    await page.getByRole("button", { name: "What was done" }).click();
    const steps = page.getByRole("list", { name: "Steps" });
    await expect.poll(() => steps.getByRole("listitem").count()).toBe(4);
    await steps.getByRole("button", { name: /^Velocity of 1 hit \+4/ }).click();
    await expect
      .poll(() => steps.getByRole("listitem").allTextContents())
      .toEqual([
        expect.stringMatching(/^Nudge 1 hit \+2 ms undone/),
        expect.stringMatching(/^Velocity of 1 hit \+4 undone/),
        "Now",
        expect.stringMatching(/^Quantize 7 voices/),
      ]);
    await steps.getByRole("button", { name: /^Nudge 1 hit \+2 ms/ }).click();
    await expect.poll(() => steps.getByRole("listitem").count()).toBe(4);
    await expect.poll(() => steps.getByRole("listitem").first().textContent()).toBe("Now");
    await page.keyboard.press("Escape");
  });

  it("picks what is alike by key, and says how many", async () => {
    const page = await pages.open();
    await importBytes(page, "Alike.mid", moth);
    await page.keyboard.press("n");
    await page.keyboard.press("e");
    await selection(page)
      .getByText(/\d\d snare hits selected/)
      .waitFor();
    await page.keyboard.press("i");
    await selection(page)
      .getByText(/3\d\d snare hits selected/)
      .waitFor();
    await page.keyboard.press("g");
    await selection(page).getByText("383 snare hits selected").waitFor();
  });
});
