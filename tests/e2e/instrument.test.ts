import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { META, type MidiMessage, writeMidiFile, writeText } from "../../src/core/smf/index.ts";
import { fingersOf, pressBriefly } from "./a-hand.ts";
import { usePages } from "./browser.ts";
import { exportBytes, finsOf, importBytes, keptView } from "./browser-tools.ts";
import { strokesOf } from "./small-take.ts";

const pages = usePages();
const QUARTER = 480;
const BARS = 4;

/** Four bars of snare quarters, each a little louder than the one before, with kicks on one and two markers. */
function smallTake(): Uint8Array {
  const channel = (tick: number, status: number, data1: number, data2: number): MidiMessage => ({
    kind: "channel",
    tick,
    status,
    data1,
    data2,
  });
  const meta = (tick: number, metaType: number, data: Uint8Array): MidiMessage => ({
    kind: "meta",
    tick,
    metaType,
    data,
  });
  const notes = Array.from({ length: 4 * BARS }, (_, index) => {
    const tick = index * QUARTER;
    const snare = [channel(tick, 0x99, 38, 40 + 4 * index), channel(tick + 60, 0x89, 38, 64)];
    return index % 4 === 0 ? [channel(tick, 0x99, 36, 100), channel(tick + 60, 0x89, 36, 64), ...snare] : snare;
  }).flat();
  const messages = [
    meta(2 * QUARTER, META.marker, writeText("Lights")),
    meta(9 * QUARTER, META.marker, writeText("Whistle")),
    ...notes,
  ].sort((a, b) => a.tick - b.tick);
  const end = meta(BARS * 4 * QUARTER, META.endOfTrack, new Uint8Array(0));
  return writeMidiFile({
    format: 0,
    division: { kind: "ppq", ppq: QUARTER },
    headerExtra: new Uint8Array(0),
    unknownChunks: [],
    tracks: [{ messages: [...messages, end] }],
  });
}

const take = smallTake();
const selection = (page: Page) => page.getByRole("status", { name: "Selection" });
const said = (page: Page) => page.getByTestId("live-words");

/** Opens the small take with all of it in view; says where things are. */
async function openTake(page: Page) {
  await importBytes(page, "Small.mid", take);
  await page.keyboard.press("0");
  const box = (await finsOf(page).boundingBox())!;
  // The first bar stands 14 px from the left, the end as far from the right.
  const perTick = (box.width - 28) / (BARS * 4 * QUARTER);
  const x = (tick: number) => box.x + 14 + tick * perTick;
  // The snare is open: its field is 132 px high and stands 10 px below the top of the lane.
  const snareTop = (await page
    .getByRole("button", { name: /^Snare/ })
    .first()
    .boundingBox())!.y;
  const y = (velocity: number) => snareTop + 10 + 132 - (velocity / 127) * 126;
  return { x, y };
}

async function dragTo(page: Page, from: [number, number], to: [number, number], keys: readonly string[] = []) {
  await page.mouse.move(...from);
  for (const key of keys) await page.keyboard.down(key);
  await page.mouse.down();
  await page.mouse.move(...to, { steps: 20 });
  await page.mouse.up();
  for (const key of keys) await page.keyboard.up(key);
}

describe("shaping by pointer", () => {
  it("draws loudness across with Alt, a straight ramp with Shift too, and spreads what is picked around its middle", async () => {
    const page = await pages.open();
    const { x, y } = await openTake(page);
    await dragTo(page, [x(-40), y(64)], [x(1000), y(64)], ["Alt"]);
    let velocities = strokesOf((await exportBytes(page)).bytes, 38).map(({ velocity }) => velocity);
    for (const velocity of velocities.slice(0, 3)) expect(Math.abs(velocity - 64)).toBeLessThanOrEqual(1);
    expect(velocities.slice(3)).toEqual(Array.from({ length: 13 }, (_, index) => 52 + 4 * index));
    // From free ground: on a fin, Alt would begin a copy.
    await dragTo(page, [x(0) - 8, y(20)], [x(15 * QUARTER), y(110)], ["Alt", "Shift"]);
    await page.keyboard.press("Control+s");
    await page
      .getByRole("dialog")
      .getByText(/^Ramp 16 hits of Snare/)
      .waitFor();
    await page.keyboard.press("Escape");
    velocities = strokesOf((await exportBytes(page)).bytes, 38).map(({ velocity }) => velocity);
    for (const [index, velocity] of velocities.entries()) {
      expect(Math.abs(velocity - (20 + 6 * index))).toBeLessThanOrEqual(2);
    }
    // No other lane has changed.
    expect(strokesOf((await exportBytes(page)).bytes, 36)).toEqual(strokesOf(take, 36));

    await page.keyboard.press("Control+a");
    await dragTo(page, [x(8 * QUARTER) + 2, y(60)], [x(8 * QUARTER) + 2, y(28)], ["Alt"]);
    const spread = strokesOf((await exportBytes(page)).bytes, 38).map(({ velocity }) => velocity);
    expect(spread.at(-1)! - spread[0]!).toBeLessThan(60);
    const mean = (list: readonly number[]) => list.reduce((sum, one) => sum + one, 0) / list.length;
    expect(Math.abs(mean(spread) - mean(velocities))).toBeLessThan(1.5);
    await page.keyboard.press("Shift+O");
    await page.getByText(/^Levelled 16 hits at \d+\.$/).waitFor();
    const level = strokesOf((await exportBytes(page)).bytes, 38).map(({ velocity }) => velocity);
    expect(new Set(level).size).toBe(1);
  });

  it("leaves a copy when a hit is dragged with Alt, and writes in place of others with Alt when drawing", async () => {
    const page = await pages.open();
    const { x, y } = await openTake(page);
    await page.mouse.click(x(QUARTER) + 2, y(20));
    await selection(page).getByText("1 snare hit selected at 1:2").waitFor();
    await dragTo(page, [x(QUARTER) + 2, y(20)], [x(QUARTER) + 2 + (x(QUARTER) - x(0)) / 2, y(20)], ["Alt"]);
    await page.getByText("Copied 1 hit.").waitFor();
    const copied = strokesOf((await exportBytes(page)).bytes, 38);
    expect(copied).toHaveLength(17);
    expect(copied.filter(({ velocity }) => velocity === 44)).toHaveLength(2);

    await pressBriefly(page, "d");
    await page.mouse.move(x(4 * QUARTER), y(100));
    await page.keyboard.down("Alt");
    await page.mouse.down();
    await page.getByText(/^1 drawn, in place of 1/).waitFor();
    await page.mouse.up();
    await page.keyboard.up("Alt");
    const drawn = strokesOf((await exportBytes(page)).bytes, 38);
    expect(drawn).toHaveLength(17);
    expect(Math.abs(drawn.find(({ tick }) => tick === 4 * QUARTER)!.velocity - 100)).toBeLessThanOrEqual(2);
  });

  it("mutes hits: they stay, are said to be muted, are not exported, and sound again", async () => {
    const page = await pages.open();
    await openTake(page);
    await page.keyboard.press("n");
    await page.keyboard.press("Shift+M");
    await page.getByText(/^Muted 1 hit/).waitFor();
    await selection(page)
      .getByText(/muted$/)
      .waitFor();
    await page.getByRole("button", { name: "Export", exact: true }).click();
    await page.getByRole("dialog").getByText("1 muted hit is left out").waitFor();
    await page.keyboard.press("Escape");
    expect(strokesOf((await exportBytes(page)).bytes, 38)).toHaveLength(15);
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await page.keyboard.press("Control+a");
    await selection(page)
      .getByText(/1 muted$/)
      .waitFor();
    await page.keyboard.press("Shift+M");
    await page.keyboard.press("Shift+M");
    await page.getByText("16 hits can be heard again.").waitFor();
    expect(strokesOf((await exportBytes(page)).bytes, 38)).toEqual(strokesOf(take, 38));
  });
});

describe("versions", () => {
  it("are kept under a name, compared with now, picked and gone back to, as a step that can be undone", async () => {
    const page = await pages.open();
    await openTake(page);
    await page.keyboard.press("Control+s");
    const sheet = page.getByRole("dialog", { name: "What was done" });
    await sheet.getByLabel("Name of the version").fill("As played");
    await sheet.getByRole("button", { name: "Keep this version" }).click();
    const version = sheet.getByRole("listitem", { name: "As played" });
    await version.getByText("The same as now.").waitFor();
    await page.keyboard.press("Escape");

    await page.keyboard.press("n");
    await page.keyboard.press("Delete");
    await page.keyboard.press("n");
    await page.keyboard.press("ArrowUp");
    await page.keyboard.press("t");
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await page.keyboard.press("Control+s");
    await version
      .getByText("2 hits differ: 1 removed since, 1 louder or softer; and the settings of 1 voice.")
      .waitFor();
    await version.getByRole("button", { name: "Select what differs" }).click();
    await selection(page).getByText("1 snare hit selected").waitFor();
    await page.keyboard.press("Control+s");
    await version.getByRole("button", { name: "Go back to it" }).click();
    await page.getByText("Back at “As played”. Undo brings the rest again.").waitFor();
    expect(Buffer.compare((await exportBytes(page)).bytes, take)).toBe(0);
    await page.keyboard.press("Control+z");
    await page.getByText("Undone: Go back to “As played”.").waitFor();
    expect(strokesOf((await exportBytes(page)).bytes, 38)).toHaveLength(15);
    await page.keyboard.press("Control+s");
    await version.getByRole("button", { name: "Forget it" }).click();
    await sheet.getByText(/^Nothing is kept under a name yet/).waitFor();
  });
});

describe("the menu at the pointer", () => {
  it("holds what fits a hit or a lane, with the keys, and works by keyboard", async () => {
    const page = await pages.open();
    const { x, y } = await openTake(page);
    await page.mouse.click(x(QUARTER) + 2, y(20), { button: "right" });
    const menu = page.getByRole("menu");
    await menu.getByRole("menuitem", { name: /^Pin:/ }).waitFor();
    await expect.poll(() => menu.getByRole("menuitem", { name: /^Unpin/ }).count()).toBe(0);
    await menu.getByRole("menuitem", { name: /^Pin:/ }).click();
    await page.mouse.click(x(QUARTER) + 2, y(20), { button: "right" });
    await menu.getByRole("menuitem", { name: /^Unpin/ }).click();
    // Between two hits it is about the lane and the bar.
    await page.mouse.click(x(QUARTER * 5.5), y(100), { button: "right" });
    await menu.getByRole("menuitem", { name: "Loop bar 2" }).click();
    await page.getByRole("button", { name: "bar 2" }).waitFor();
    await page.mouse.click(x(QUARTER * 5.5), y(100), { button: "right" });
    await menu.getByRole("menuitem", { name: "Write a hit here" }).click();
    expect(strokesOf((await exportBytes(page)).bytes, 38)).toHaveLength(17);
    // The menu key, in the grid, is about what is picked.
    await page.getByRole("grid", { name: "Hits of all lanes" }).focus();
    await page.keyboard.press("ArrowRight");
    await page.keyboard.press("ContextMenu");
    await menu.getByRole("menuitem", { name: /^Remove/ }).waitFor();
    await page.keyboard.press("End");
    await page.keyboard.press("Escape");
    await menu.waitFor({ state: "hidden" });
  });

  it("stays when it is asked for in the moment in which another closes", async () => {
    const page = await pages.open();
    const { x, y } = await openTake(page);
    const place = { clientX: x(QUARTER * 5.5), clientY: y(100) };
    await page.mouse.click(place.clientX, place.clientY, { button: "right" });
    const menu = page.getByRole("menu");
    await menu.getByRole("menuitem", { name: "Loop bar 2" }).evaluate((item: HTMLElement, at) => {
      item.click();
      // Before any timer of the one that closes: what a press of the button is on a machine that is busy.
      queueMicrotask(() => {
        const asked = { ...at, bubbles: true, cancelable: true, button: 2, pointerType: "mouse" };
        document.querySelector("main [role=grid]")?.dispatchEvent(new PointerEvent("contextmenu", asked));
      });
    }, place);
    await page.getByRole("button", { name: "bar 2" }).waitFor();
    await menu.getByRole("menuitem", { name: "Write a hit here" }).click();
    expect(strokesOf((await exportBytes(page)).bytes, 38)).toHaveLength(17);
  });
});

describe("for everyone", () => {
  it("reads the lanes out as a grid: hits by left and right, lanes by up and down", async () => {
    const page = await pages.open();
    await openTake(page);
    const grid = page.getByRole("grid", { name: "Hits of all lanes" });
    await grid.focus();
    await page.keyboard.press("ArrowRight");
    await expect
      .poll(() => said(page).textContent())
      .toMatch(/^Snare, bar 1 beat 1, velocity 40, normal, on the slot, 1 of \d+$/);
    await page.keyboard.press("ArrowRight");
    await expect.poll(() => said(page).textContent()).toMatch(/^Snare, bar 1 beat 2, velocity 44/);
    await page.keyboard.press("Shift+ArrowRight");
    await expect.poll(() => said(page).textContent()).toBe("2 hits selected, velocity 44 to 48");
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("ArrowRight");
    await expect.poll(() => said(page).textContent()).toMatch(/^Kick, bar 1 beat 1/);
    const cell = await grid.getAttribute("aria-activedescendant");
    await expect.poll(() => page.locator(`#${cell}`).textContent()).toMatch(/^Kick, bar 1 beat 1, velocity 100/);
    await expect.poll(() => grid.getByRole("row").count()).toBe(2);
    // Louder, softer and nudged without leaving it, by the keys that its foot says.
    await page.getByText("from lane to lane").waitFor();
    await page.keyboard.press("Control+ArrowUp");
    await expect.poll(() => said(page).textContent()).toMatch(/^Kick, bar 1 beat 1, velocity 10[1-9]/);
    await page.keyboard.press("Control+ArrowRight");
    await expect.poll(() => said(page).textContent()).toMatch(/late, pinned/);
    await expect.poll(() => grid.evaluate((element) => element === document.activeElement)).toBe(true);
  });

  it("is reached at once by whoever works by key", async () => {
    const page = await pages.open();
    await openTake(page);
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await page.keyboard.press("Tab");
    await page.keyboard.press("Enter");
    await expect
      .poll(() => page.evaluate(() => document.activeElement?.getAttribute("aria-label")))
      .toBe("Hits of all lanes");
  });

  it("can be worked at 200 % zoom: nothing is out of reach", async () => {
    const page = await pages.open();
    await openTake(page);
    await page.setViewportSize({ width: 640, height: 400 });
    for (const name of ["Play", "Export"]) {
      const button = page.getByRole("button", { name, exact: true });
      await button.scrollIntoViewIfNeeded();
      const box = (await button.boundingBox())!;
      expect(box.x + box.width).toBeLessThanOrEqual(640);
      expect(box.y + box.height).toBeLessThanOrEqual(400);
    }
    const lanes = (await page.getByRole("main", { name: "Lanes" }).boundingBox())!;
    expect(lanes.height).toBeGreaterThan(120);
    expect(lanes.width).toBeGreaterThan(240);
  });

  it("travels and zooms by fingers, and picks by a tap", async () => {
    const page = await pages.open();
    const { x, y } = await openTake(page);
    const { slide, lift, tap } = await fingersOf(page);
    const startTick = async () => {
      const { startTick, ticksPerPx } = await keptView(page);
      return { startTick, ticksPerPx };
    };
    await tap(x(QUARTER) + 2, y(20));
    await selection(page).getByText("1 snare hit selected at 1:2").waitFor();
    const before = await startTick();
    const middle = x(8 * QUARTER);
    const apart = (px: number) => [[middle - px, y(100)] as const, [middle + px, y(100)] as const];
    await slide(apart(40), apart(60), apart(80), apart(120), apart(160));
    await lift();
    const zoomed = await startTick();
    expect(before.ticksPerPx / zoomed.ticksPerPx).toBeCloseTo(4, 1);
    await slide([[middle, y(120)]], ...[20, 60, 100].map((way) => [[middle - way, y(120)] as const]));
    await lift();
    const travelled = await startTick();
    expect(travelled.startTick).toBeCloseTo(zoomed.startTick + 100 * zoomed.ticksPerPx, -1);
    expect(travelled.ticksPerPx).toBe(zoomed.ticksPerPx);
  });

  it("goes from marker to marker, and makes all lanes slim and back", async () => {
    const page = await pages.open();
    await openTake(page);
    const height = async () => (await page.getByRole("button", { name: /^Kick/ }).first().boundingBox())!.height;
    await expect
      .poll(async () => {
        await page.keyboard.press("Home");
        await page.keyboard.press("q");
        return page.getByTestId("place").textContent();
      })
      .toBe("1:3");
    await page.getByText("“Lights”").waitFor();
    await page.keyboard.press("q");
    await expect.poll(() => page.getByTestId("place").textContent()).toBe("3:2");
    await page.keyboard.press("q");
    await page.getByText("That was the last marker.").waitFor();
    await page.keyboard.press("Shift+Q");
    await expect.poll(() => page.getByTestId("place").textContent()).toBe("1:3");
    const normal = await height();
    await page.keyboard.press("y");
    await expect.poll(height).toBeLessThan(normal * 0.7);
    await page.keyboard.press("y");
    await expect.poll(height).toBe(normal);
  });
});
