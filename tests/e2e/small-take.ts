import type { Page } from "playwright-core";
import { readMidiFile, writeMidiFile } from "../../src/core/smf/index.ts";
import { finsOf, importBytes, paintedFins, twoFrames } from "./browser-tools.ts";

// A small take whose every hit is known, and a hand that finds its way on it.

export const PPQ = 480;

/** Note, tick and velocity of each hit. */
export type Struck = readonly [note: number, tick: number, velocity: number];

const BAR = 4 * PPQ;

/**
 * Two bars of kick, snare and hats, on the beat to the tick: eight closed hats a bar, one of them open. A crash in the fourth bar is
 * its end, and between them is room.
 */
const TWO_BARS: readonly Struck[] = [0, 1].flatMap((bar): Struck[] => [
  [36, bar * BAR, 100],
  [36, bar * BAR + 2 * PPQ, 96],
  [38, bar * BAR + PPQ, 90],
  [38, bar * BAR + 3 * PPQ, 84],
  ...Array.from({ length: 8 }, (_, eighth): Struck => [eighth === 7 ? 46 : 42, bar * BAR + eighth * 240, 60 + eighth]),
]);

export const SMALL: readonly Struck[] = [...TWO_BARS, [49, 3 * BAR, 100]];

/** A file of one drum track at 120 bpm, with each note a sixteenth long. */
export function fileOf(struck: readonly Struck[], bars = 4): Uint8Array {
  const messages = struck
    .flatMap(([note, tick, velocity]) => [
      { kind: "channel" as const, tick, status: 0x99, data1: note, data2: velocity },
      { kind: "channel" as const, tick: tick + 60, status: 0x89, data1: note, data2: 64 },
    ])
    .sort((a, b) => a.tick - b.tick || a.status - b.status);
  const end = { kind: "meta" as const, tick: bars * BAR, metaType: 0x2f, data: new Uint8Array() };
  return writeMidiFile({
    headerExtra: new Uint8Array(),
    format: 0,
    division: { kind: "ppq", ppq: PPQ },
    tracks: [{ messages: [...messages, end] }],
    unknownChunks: [],
  });
}

/** The strikes of one note of the drums in a file. */
export const strokesOf = (bytes: Uint8Array, note: number) =>
  readMidiFile(bytes).file.tracks.flatMap(({ messages }) =>
    messages.flatMap((one) =>
      one.kind === "channel" && one.status >> 4 === 9 && one.data2 > 0 && one.data1 === note
        ? [{ tick: one.tick, velocity: one.data2 }]
        : [],
    ),
  );

/** A hit as the lanes show it. */
export interface Shown {
  readonly tick: number;
  readonly velocity: number;
}

/** What the lanes show of one voice. */
export async function shownOf(page: Page, voiceId: string): Promise<readonly Shown[]> {
  const lane = (await paintedFins(page)).split("\n").find((line) => line.startsWith(`${voiceId}: `));
  return (lane ?? "")
    .slice(voiceId.length + 2)
    .split(", ")
    .filter((hit) => hit !== "")
    .map((hit) => {
      const [tick, velocity] = hit.split(" ").map(Number);
      return { tick: Math.round(tick!), velocity: velocity! };
    });
}

/** Opens the small take on the Bench, with a lane open or none, and says where things are. */
export async function openSmall(page: Page, name: string, openLane: string | null, struck = SMALL) {
  await importBytes(page, `${name}.mid`, fileOf(struck));
  const lanes = page.getByRole("main", { name: "Lanes" });
  const head = (lane: string) => lanes.getByRole("button", { name: new RegExp(`^${lane}`) }).first();
  const opened = lanes.locator("button[aria-expanded=true]");
  if (await opened.count()) await opened.click();
  if (openLane) await head(openLane).click();
  await twoFrames(page);
  const fins = (await finsOf(page).boundingBox())!;
  const { startTick, ticksPerPx } = await page.evaluate(() => {
    window.dispatchEvent(new Event("pagehide"));
    const [, text] = Object.entries(localStorage).find(([key]) => key.startsWith("marten.view."))!;
    return JSON.parse(text as string) as { startTick: number; ticksPerPx: number };
  });
  const x = (tick: number) => fins.x + (tick - startTick) / ticksPerPx;
  /** The edge of a lane's head, from the top of the page. */
  const laneBox = async (lane: string) => {
    const box = (await head(lane).locator("xpath=..").boundingBox())!;
    return { top: box.y, bottom: box.y + box.height };
  };
  return { x, laneBox, ticksPerPx, head };
}

export const selection = (page: Page) => page.getByRole("status", { name: "Selection" });
export const ticksOf = async (page: Page, voiceId: string) => (await shownOf(page, voiceId)).map(({ tick }) => tick);
export const tool = (page: Page, name: string) => page.getByRole("radio", { name, exact: true });

export type Place = readonly [x: number, y: number];

export async function press(page: Page, [x, y]: Place, button: "left" | "right" = "left") {
  await page.mouse.move(x, y);
  await page.mouse.down({ button });
}

export async function dragTo(page: Page, from: Place, to: Place) {
  await press(page, from);
  await page.mouse.move(...to, { steps: 8 });
  await page.mouse.up();
}
