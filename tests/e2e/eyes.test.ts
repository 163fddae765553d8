import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { usePages } from "./browser.ts";
import { importBytes } from "./browser-tools.ts";
import { baseUrl } from "./own-server.ts";
import { fileOf, PPQ, type Struck } from "./small-take.ts";

// What eyes need: lines that are seen, measured in what is on the screen; the colours of a system that forces its own; large words.

const pages = usePages();
const BAR = 4 * PPQ;

/** Four bars of kicks and hats; the snare plays in the first two, ghosts and accents, so that the rest of its lane is free ground. */
const TAKE: readonly Struck[] = Array.from({ length: 4 }, (_, bar): readonly Struck[] => [
  [36, bar * BAR, 100],
  [36, bar * BAR + 2 * PPQ, 96],
  ...Array.from({ length: 8 }, (_, eighth): Struck => [42, bar * BAR + (eighth * PPQ) / 2, 70 + (eighth % 2) * 15]),
  ...(bar < 2
    ? ([
        [38, bar * BAR + PPQ, 112],
        [38, bar * BAR + 1.75 * PPQ, 24],
        [38, bar * BAR + 2.25 * PPQ, 27],
        [38, bar * BAR + 3 * PPQ, 114],
      ] as const)
    : []),
]).flat();

type Colour = readonly [number, number, number];

/** What is on the screen along one row of pixels. */
async function rowOf(page: Page, x: number, y: number, width: number): Promise<readonly Colour[]> {
  const picture = await page.screenshot({
    clip: { x: Math.round(x), y: Math.round(y), width: Math.round(width), height: 1 },
  });
  return page.evaluate(async (base64) => {
    const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
    const bitmap = await createImageBitmap(new Blob([bytes], { type: "image/png" }));
    const canvas = new OffscreenCanvas(bitmap.width, 1);
    const context = canvas.getContext("2d")!;
    context.drawImage(bitmap, 0, 0);
    const { data } = context.getImageData(0, 0, bitmap.width, 1);
    return Array.from(
      { length: bitmap.width },
      (_, at) => [data[4 * at]!, data[4 * at + 1]!, data[4 * at + 2]!] as const,
    );
  }, picture.toString("base64"));
}

/** Source: WCAG 2.2, relative luminance and contrast ratio. */
function contrast(one: Colour, other: Colour): number {
  const luminance = (colour: Colour) =>
    colour
      .map((channel) => channel / 255)
      .map((share) => (share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4))
      .reduce((sum, share, index) => sum + share * [0.2126, 0.7152, 0.0722][index]!, 0);
  const [dark, light] = [luminance(one), luminance(other)].sort((a, b) => a - b) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

/** How much each upright line of a row stands out from the ground, which most of the row is. */
function linesOf(row: readonly Colour[]): readonly number[] {
  const counts = new Map<string, number>();
  for (const colour of row) counts.set(colour.join(), (counts.get(colour.join()) ?? 0) + 1);
  const [ground] = [...counts].sort((one, other) => other[1] - one[1])[0]!;
  return row.flatMap((colour, at) =>
    colour.join() !== ground && row[at - 1]?.join() !== colour.join()
      ? [contrast(colour, ground.split(",").map(Number) as unknown as Colour)]
      : [],
  );
}

async function openTake(page: Page) {
  await importBytes(page, "Free ground.mid", fileOf(TAKE));
  await page.keyboard.press("0");
  await page
    .getByRole("button", { name: /^Snare/ })
    .first()
    .waitFor();
  // The row at the top of the kick's lane shows lines once they are painted.
  const { x, y, width } = (await page.getByTestId("fins").boundingBox())!;
  await expect.poll(async () => linesOf(await rowOf(page, x, y + 3, width)).length).toBeGreaterThan(8);
  return { x, y, width };
}

describe("the lines of the lanes", () => {
  it("are seen on paper, on sheets and on tinted bands, by day and by night", async () => {
    const page = await pages.open();
    const { x, width } = await openTake(page);
    for (const theme of ["day", "night"]) {
      const labels = page.locator("main").getByText(/^(accent|ghost|late)$/);
      await expect.poll(() => labels.count()).toBe(3);
      const rows = await Promise.all((await labels.all()).map(async (label) => (await label.boundingBox())!));
      for (const { y, height } of rows) {
        // The free half of the lane: bars 3 and 4, without the names of the layers at its end.
        const lines = linesOf(await rowOf(page, x + width / 2, y + height / 2 + 1, width / 2 - 60));
        expect(lines.filter((one) => one >= 3).length, `${theme}: bars`).toBeGreaterThanOrEqual(2);
        expect(lines.filter((one) => one >= 2).length, `${theme}: beats`).toBeGreaterThanOrEqual(6);
        expect(lines.length, `${theme}: sixteenths`).toBeGreaterThan(22);
        expect(Math.min(...lines), `${theme}: the least`).toBeGreaterThanOrEqual(1.25);
      }
      // Closed lanes have bars and beats; the line that fins stand on is seen as bars are.
      const hats = (await page
        .getByRole("button", { name: /^Hi-hat/ })
        .first()
        .boundingBox())!;
      const closed = linesOf(await rowOf(page, x, hats.y + 2, width));
      expect(Math.min(...closed)).toBeGreaterThanOrEqual(2);
      if (theme === "day") await page.getByRole("button", { name: "Switch to night" }).click();
      await expect.poll(async () => (await rowOf(page, x + 3, hats.y + 2, 1))[0]![0] < 60).toBe(true);
    }
  });
});

describe("a system that forces its colours", () => {
  it("is followed by the lanes too, and what is chosen can be told", async () => {
    const page = await pages.open();
    const { x, width } = await openTake(page);
    const colours = async () => {
      const hats = (await page
        .getByRole("button", { name: /^Hi-hat/ })
        .first()
        .boundingBox())!;
      return new Set((await rowOf(page, x, hats.y + hats.height - 18, width)).map(String));
    };
    const own = await colours();
    await page.emulateMedia({ forcedColors: "active" });
    const [ink, ground] = await page.evaluate(() => {
      const probe = document.body.appendChild(document.createElement("p"));
      const of = (name: string) => {
        probe.style.color = name;
        return getComputedStyle(probe).color.match(/\d+/g)!.slice(0, 3).join();
      };
      const found = [of("CanvasText"), of("Canvas")];
      probe.remove();
      return found;
    });
    await expect.poll(async () => (await colours()).has(ink!)).toBe(true);
    const forced = await colours();
    expect(forced.has(ground!)).toBe(true);
    // Nothing of the own palette is left.
    expect([...own].filter((colour) => forced.has(colour) && colour !== ink && colour !== ground)).toEqual([]);
    const backgroundOf = (name: string) =>
      page.getByRole("radio", { name, exact: true }).evaluate((one) => getComputedStyle(one).backgroundColor);
    await expect.poll(() => backgroundOf("Cleaned")).not.toBe(await backgroundOf("Recorded"));
    await expect.poll(() => backgroundOf("Select")).not.toBe(await backgroundOf("Draw"));
    const linkOf = (name: string) =>
      page.getByRole("link", { name, exact: true }).evaluate((one) => getComputedStyle(one).backgroundColor);
    await expect.poll(() => linkOf("Bench")).not.toBe(await linkOf("Song"));
  });
});

describe("large words", () => {
  it("leave five lanes in sight at twice the size, and everything in reach at four times", async () => {
    const page = await pages.open();
    await page.setViewportSize({ width: 640, height: 400 });
    await importBytes(page, "Free ground.mid", fileOf([...TAKE, [49, 0, 100], [51, BAR, 80], [45, 2 * BAR, 90]]));
    const id = new URL(page.url()).pathname.split("/").at(-1);
    const footTop = (await page.getByRole("contentinfo").boundingBox())!.y;
    const names = await page.locator("[data-lane-name]").all();
    const inSight = await Promise.all(
      names.map(async (name) => {
        const box = await name.boundingBox();
        return box !== null && box.y + box.height <= footTop;
      }),
    );
    expect(inSight.filter(Boolean).length).toBeGreaterThanOrEqual(5);
    // A song with its patterns is wider than one that is not cut yet.
    await page.goto(`${baseUrl()}/song/${id}`);
    await page.getByRole("button", { name: "Split every", exact: true }).click();
    await page.getByText("Split the take into 1 pattern.").waitFor();
    for (const [width, height, drum] of [
      [640, 400, "Kick"],
      [320, 256, "Snare"],
    ] as const) {
      await page.setViewportSize({ width, height });
      for (const screen of ["bench", "maps", "patterns", "song", "messages", "grooves"]) {
        await page.goto(`${baseUrl()}/${screen}/${id}`);
        await page.getByRole("button", { name: "All keys" }).waitFor();
        const overhang = () => page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
        await expect.poll(overhang, { message: `${screen} at ${width}` }).toBeLessThanOrEqual(0);
      }
      await page.goto(`${baseUrl()}/bench/${id}`);
      await page.getByRole("main", { name: "Lanes" }).waitFor();
      await page.getByRole("button", { name: "Play", exact: true }).click();
      await page.getByRole("button", { name: "Stop", exact: true }).click();
      await page.getByRole("button", { name: "Export", exact: true }).click();
      await page
        .getByRole("dialog", { name: /^Export/ })
        .getByRole("button", { name: "Close" })
        .click();
      await page
        .getByRole("button", { name: new RegExp(`^${drum}`) })
        .first()
        .click();
      // Over the lanes, where there is no room beside them.
      await page.getByRole("button", { name: drum, exact: true, expanded: false }).click();
      await page.getByRole("complementary", { name: "Lane card" }).getByRole("tab", { name: "Dynamics" }).click();
      await page.getByRole("button", { name: "Back to the lanes" }).click();
    }
  });

  it("grow with the size that is set in the browser", async () => {
    const page = await pages.open();
    await importBytes(page, "Free ground.mid", fileOf(TAKE));
    const sizeOf = (name: string) =>
      page
        .getByRole("link", { name, exact: true })
        .evaluate((one) => Number.parseFloat(getComputedStyle(one).fontSize));
    const smallOf = () =>
      page.getByRole("radio", { name: "Select" }).evaluate((one) => Number.parseFloat(getComputedStyle(one).fontSize));
    expect([await sizeOf("Bench"), Math.round(await smallOf())]).toEqual([14, 13]);
    const session = await page.context().newCDPSession(page);
    await session.send("Page.setFontSizes", { fontSizes: { standard: 24 } });
    await expect.poll(() => sizeOf("Bench")).toBe(21);
    await expect.poll(() => smallOf()).toBeGreaterThan(19);
  });
});
