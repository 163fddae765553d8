import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { readMidiFile } from "../../src/core/smf/index.ts";
import { handOf } from "./a-hand.ts";
import { usePages } from "./browser.ts";
import { exportBytes, finsOf, importBytes } from "./browser-tools.ts";

// The whole of docs/sixteen-bars.md, once by mouse and once by keyboard, with every action counted.

const pages = usePages();
const take = new Uint8Array(readFileSync("demo/ferry-lights.mid"));
const BAR = 4;

/** What the document says. */
const MOST_BY_MOUSE = 19;
const MOST_BY_KEYBOARD = 29;

const selection = (page: Page) => page.getByRole("status", { name: "Selection" });
const notes = (bytes: Uint8Array, note: number) =>
  readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status >> 4 === 9 && one.data2 > 0 && one.data1 === note
        ? [{ tick: one.tick, velocity: one.data2 }]
        : [],
    ),
  );
const { file } = readMidiFile(take);
const ppq = file.division.kind === "ppq" ? file.division.ppq : 0;
const inFirstBars = (list: readonly { tick: number; velocity: number }[]) =>
  list.filter(({ tick }) => tick < 16 * BAR * ppq);

/** What must be true of the sixteen bars afterwards, whichever hand did it. */
async function checkResult(page: Page) {
  const { bytes } = await exportBytes(page);
  const [kicksBefore, kicks] = [inFirstBars(notes(take, 36)), inFirstBars(notes(bytes, 36))];
  // Tightened: most kicks have moved; none is lost.
  expect(kicks).toHaveLength(kicksBefore.length);
  const moved = kicks.filter(({ tick }, index) => tick !== kicksBefore[index]!.tick);
  expect(moved.length).toBeGreaterThan(kicks.length / 2);
  const snares = inFirstBars(notes(bytes, 38));
  const snaresBefore = inFirstBars(notes(take, 38));
  // Eight of the burst, and one stroke muted away.
  expect(snares).toHaveLength(snaresBefore.length + 8 - 1);
  // The ride has new strokes.
  const rides = inFirstBars(notes(bytes, 51));
  expect(rides.length - inFirstBars(notes(take, 51)).length).toBeGreaterThanOrEqual(4);
}

describe("sixteen bars cleaned by hand", () => {
  it("by mouse", async () => {
    const page = await pages.open();
    await importBytes(page, "Sixteen.mid", take);
    const hand = handOf(page);
    const laneOf = (name: string) => page.getByRole("button", { name: new RegExp(`^${name}`) }).first();
    const fins = async () => (await finsOf(page).boundingBox())!;
    // 1. Everything in view, and a loop over bars 1 to 16 of 48, on the ruler.
    await page.mouse.move((await fins()).x + 14, (await fins()).y + 60);
    const overview = (await page.getByRole("region", { name: "Overview" }).boundingBox())!;
    const stripX = (share: number) => overview.x + 158 + share * (overview.width - 158 - 20);
    await hand.drag([stripX(4.06 / 48), overview.y + 25], [stripX(16.05 / 48), overview.y + 25]);
    const ruler = (await page.getByRole("img", { name: /^Bars and beats/ }).boundingBox())!;
    await hand.drag([ruler.x + 16, ruler.y + 12], [ruler.x + ruler.width - 8, ruler.y + 12]);
    await page.getByRole("button", { name: "bars 1 – 16" }).waitFor();
    // 2. Every voice on its own grid.
    await page
      .getByText(/ms (late|early)/)
      .first()
      .waitFor();
    await hand.choose("Quantize each on its own grid");
    // 3. The snare: those worth a look, one by one; the first is pinned.
    await hand.choose("Review");
    await selection(page).getByText("1 snare hit selected").waitFor();
    await hand.choose("Next");
    // 4. Mute one stroke by its menu.
    const place = await fins();
    const snareTop = (await laneOf("Snare").boundingBox())!.y;
    const perBar = (place.width - 14) / 16;
    await hand.click(place.x + 14 + perBar * 1.5 + 2, snareTop + 137, "right");
    await hand.choose(/^Mute/, "menuitem");
    // 5. A burst into bar 17, at the end of the loop.
    await hand.choose("Roll …");
    await hand.choose("Roll");
    await page.getByText("Wrote 8 hits into the bar line.").waitFor();
    // 6. A ramp over bars 13 to 14 of the snare, from free ground above its ghosts.
    await hand.drag(
      [place.x + 14 + perBar * 12, snareTop + 40],
      [place.x + 14 + perBar * 14, snareTop + 90],
      ["Alt", "Shift"],
    );
    // 7. Four strokes of the ride in bar 4, drawn in one stroke of the pointer.
    await hand.choose(/^Ride/);
    await page.getByRole("heading", { name: /^Ride \d+ hits/ }).waitFor();
    await hand.choose("Draw", "radio");
    await hand.choose(/^Draw grid/);
    await hand.choose(/^quarters/, "menuitemradio");
    const rideTop = (await laneOf("Ride").boundingBox())!.y;
    const now = await fins();
    await hand.drag([now.x + 14 + perBar * 3.02, rideTop + 60], [now.x + 14 + perBar * 3.8, rideTop + 60]);
    await selection(page)
      .getByText(/ride hits? selected/)
      .waitFor();
    await hand.key("Escape");
    // 8. Keep it.
    await hand.choose("What was done");
    await hand.choose("Keep this version");
    await page.getByRole("listitem", { name: "Version 1" }).waitFor();
    await hand.key("Escape");
    await checkResult(page);
    expect(hand.actions).toBeLessThanOrEqual(MOST_BY_MOUSE);
  });

  it("by keyboard", async () => {
    const page = await pages.open();
    await importBytes(page, "Sixteen.mid", take);
    const hand = handOf(page);
    await page
      .getByText(/ms (late|early)/)
      .first()
      .waitFor();
    // 1. Nearer and farther until 16 bars are in view, and a loop over them.
    for (let turn = 0; turn < 4; turn++) await hand.key("-");
    await hand.key("l");
    await page.getByRole("button", { name: /^bars 1 – 1[5-9]/ }).waitFor();
    // 2. Every voice on its own grid.
    await hand.key("Shift+T");
    // 3. The snare: those worth a look; the second is pinned.
    await hand.key("w");
    await hand.key("w");
    await hand.key("p");
    // 4. Mute one stroke.
    await hand.key("Escape");
    await hand.key("n");
    await hand.key("n");
    await hand.key("Shift+M");
    await page.getByText(/^Muted 1 hit/).waitFor();
    // 5. A burst into the end of the loop, by the menu of commands.
    await hand.key("/");
    await hand.type("roll");
    await hand.key("Enter");
    await page.getByText("Wrote 8 hits into the bar line.").waitFor();
    // 6. The last of them louder, typed.
    await hand.key("Enter");
    await hand.key("Tab");
    await hand.type("+5");
    await hand.key("Enter");
    // 7. The ride: its fill of the loop.
    await hand.key("PageUp");
    await hand.key("PageUp");
    await hand.key("/");
    await hand.type("fill");
    await hand.key("Enter");
    await page.getByText(/^Wrote \d+ hits on/).waitFor();
    // 8. Keep it.
    await hand.key("Control+s");
    await hand.type("Sixteen bars");
    await hand.key("Enter");
    await page.getByRole("listitem", { name: "Sixteen bars" }).waitFor();
    await hand.key("Escape");
    await checkResult(page);
    expect(hand.actions).toBeLessThanOrEqual(MOST_BY_KEYBOARD);
  });
});
