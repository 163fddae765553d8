import { type Browser, type BrowserContext, chromium, type Locator, type Page } from "playwright-core";
import type { PictureDesk } from "../../src/features/bench/lanes/paint/picture-desk.ts";
import type { Viewport } from "../../src/store/bench/viewport.ts";
import type { LoopRange } from "../../src/store/playback/playing.ts";

const ARGUMENTS = [
  "--no-sandbox",
  "--disable-gpu",
  "--disable-background-networking",
  "--disable-component-update",
  "--disable-sync",
  "--no-first-run",
];

export function launch(): Promise<Browser> {
  return chromium.launch({ executablePath: "/usr/bin/chromium", args: ARGUMENTS });
}

/**
 * Makes the pages of a context wait up to some time for whatever they ask of the server or of a worker, each question for another time. A
 * test that looks at what was there before, and not at what it has asked for, fails then.
 */
export async function slowDown(context: BrowserContext, most_ms: number): Promise<void> {
  await context.addInitScript((most) => {
    const wait = () => new Promise((resolve) => setTimeout(resolve, Math.random() * most));
    const { fetch } = window;
    // What is sent as the page goes cannot wait.
    window.fetch = async (...asked) => {
      if (!asked[1]?.keepalive) await wait();
      return fetch(...asked);
    };
    const { postMessage } = Worker.prototype;
    // Calls alone (a path and a number): they are answered in any order. The painter is told what to paint one after the other.
    Worker.prototype.postMessage = function (this: Worker, ...told: [unknown, never]) {
      const [message] = told;
      const isCall = typeof message === "object" && message !== null && "path" in message && "id" in message;
      if (isCall) void wait().then(() => postMessage.apply(this, told));
      else postMessage.apply(this, told);
    };
  }, most_ms);
}

/** Waits for the Bench and for what is found in the open lane, whose coming may move what is below it. */
async function waitForBench(page: Page): Promise<void> {
  await page.getByRole("main", { name: "Lanes" }).waitFor();
  await page.getByText("Finding grids …").waitFor({ state: "hidden" });
  await page.getByText("Looking for double triggers and crosstalk …").waitFor({ state: "hidden" });
}

/** Imports a file through the shelf's own input, and waits for the Bench. */
export async function importBytes(page: Page, name: string, bytes: Uint8Array): Promise<void> {
  await page
    .getByLabel("Recording to import")
    .setInputFiles({ name, mimeType: "audio/midi", buffer: Buffer.from(bytes) });
  await waitForBench(page);
}

/** Opens a project of the shelf by its name. */
export async function openProject(page: Page, name: string): Promise<void> {
  await page.getByRole("link", { name, exact: true }).first().click();
  await waitForBench(page);
}

export const screenLink = (page: Page, name: string) =>
  page.getByRole("navigation", { name: "Screens" }).getByRole("link", { name, exact: true });

/** Goes to a screen by its link, and waits until the page is that one: until then what both have is still of the one before. */
export async function goToScreen(page: Page, name: string): Promise<void> {
  await screenLink(page, name).click();
  await page.locator("[aria-current=page]", { hasText: name }).waitFor();
  await page.getByRole("button", { name: "All keys" }).waitFor();
}

/** The canvas with the fins. */
export function finsOf(page: Page) {
  return page.getByTestId("fins");
}

/** What the painter says that the lanes show; null while it has not painted what it was told. */
export async function painted(page: Page): Promise<ReturnType<PictureDesk["painted"]>> {
  type Painter = { readonly painted?: PictureDesk["painted"] };
  for (const worker of page.workers()) {
    try {
      const shown = await worker.evaluate(() => (self as unknown as Painter).painted?.() ?? null);
      if (shown) return shown;
    } catch (error) {
      // A painter that did not start is ended and another one tried: while it is asked, it may go.
      if (!/closed|destroyed|detached/i.test(String(error))) throw error;
    }
  }
  return null;
}

/** Waits until what the page has set is told to the painter, at the latest with the frame after the next. */
export function twoFrames(page: Page): Promise<void> {
  return page.evaluate(
    () => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(() => resolve()))),
  );
}

/** The fins that are painted: painting is done elsewhere, a moment after it is asked for. */
export async function paintedFins(page: Page): Promise<string> {
  let before: string | null = null;
  for (;;) {
    await twoFrames(page);
    const now = (await painted(page))?.fins ?? null;
    if (now !== null && now === before) return now;
    before = now;
  }
}

/** What the page keeps of its view, which it does whenever it may go away. */
export async function keptView(
  page: Page,
): Promise<Pick<Viewport, "startTick" | "ticksPerPx"> & { readonly loop: LoopRange | null }> {
  await twoFrames(page);
  return page.evaluate(() => {
    window.dispatchEvent(new Event("pagehide"));
    const [, text] = Object.entries(localStorage).find(([key]) => key.startsWith("marten.view."))!;
    return JSON.parse(text as string);
  });
}

/** Exports through the sheet, in the layout that it has or in another. */
export async function exportBytes(page: Page, layout?: string): Promise<{ name: string; bytes: Uint8Array }> {
  await page.getByRole("button", { name: "Export", exact: true }).click();
  if (layout) await page.getByRole("radio", { name: layout }).click();
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Save the file" }).click(),
  ]);
  const chunks: Buffer[] = [];
  for await (const chunk of await download.createReadStream()) chunks.push(chunk as Buffer);
  return { name: download.suggestedFilename(), bytes: new Uint8Array(Buffer.concat(chunks)) };
}

/** Where something is once it stays there: what opens is put in its place a moment after it is there. */
export async function restingBox(what: Locator) {
  await what.hover({ trial: true });
  return (await what.boundingBox())!;
}

/** Opens what is behind lines such as “More” on the lane card. */
export async function openMore(page: Page, name: RegExp = /^More: /): Promise<void> {
  const closed = page.getByRole("complementary", { name: "Lane card" }).getByRole("button", { name, expanded: false });
  while ((await closed.count()) > 0) await closed.first().click();
}

/** Opens a step of the lane card. */
export async function openStep(page: Page, name: "Repair" | "Quantize" | "Dynamics" | "Groove"): Promise<void> {
  await page.getByRole("tab", { name: new RegExp(`^${name}`) }).click();
}

/** Types a number on the lane card, also where it is behind “More”. */
export async function setNumber(page: Page, label: string, value: string): Promise<void> {
  const number = page
    .getByRole("complementary", { name: "Lane card" })
    .getByRole("button", { name: new RegExp(`^${label}:`) });
  if (!(await number.first().isVisible())) await openMore(page);
  await number.first().click();
  await page.getByRole("textbox", { name: label }).fill(value);
  // What is taken closes with it; what is refused stays to be mended.
  await page.keyboard.press("Enter");
}
