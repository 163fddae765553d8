import { type Browser, chromium, type Page } from "playwright-core";

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

/** Waits for the Bench and for what is found in the open lane, whose coming may move what is below it. */
async function waitForBench(page: Page): Promise<void> {
  await page.getByRole("main", { name: "Lanes" }).waitFor();
  await page.getByText("Looking for what nobody played …").waitFor({ state: "hidden" });
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

/** The canvas with the fins. */
export function finsOf(page: Page) {
  return page.getByTestId("fins");
}

/** What of the fins no sheet lies over, once it is painted: painting is done elsewhere, a moment after it is asked for. */
export async function paintedFins(page: Page): Promise<string> {
  const { x, y, height } = (await finsOf(page).boundingBox())!;
  const take = async () => (await page.screenshot({ clip: { x, y, width: 600, height } })).toString("base64");
  let before = "";
  for (let now = await take(); now !== before; now = await take()) {
    before = now;
    await page.waitForTimeout(150);
  }
  return before;
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
