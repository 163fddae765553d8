import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { usePages } from "./browser.ts";
import { importBytes } from "./browser-tools.ts";
import { type RunningServer, startServer } from "./server.ts";

// Backups, the way back to them, and everything out and in again, through the page and by command.

const pages = usePages();
const PORT = 3750;
const newFolder = () => mkdtempSync(join(tmpdir(), "marten-storage-"));
const start = (dataFolder: string): Promise<RunningServer> => startServer({ dataFolder, port: PORT });
const project = (page: Page, name: string) => page.getByRole("link", { name, exact: true });
const openSheet = (page: Page) => page.getByRole("button", { name: "Back up and move …" }).click();
const backups = (page: Page) => page.getByRole("list", { name: "Backups, the newest first" });

async function rename(page: Page, url: string, from: string, to: string): Promise<void> {
  await page.evaluate(
    async ([base, was, name]) => {
      const { value } = await (await fetch(`${base}/api/projects`)).json();
      const { id } = value.find((card: { name: string }) => card.name === was);
      const headers = { "content-type": "application/json" };
      await fetch(`${base}/api/projects/${id}`, { method: "PATCH", headers, body: JSON.stringify({ name }) });
    },
    [url, from, to] as const,
  );
  await page.reload();
  await project(page, to).waitFor();
}

describe("backups", () => {
  it("are made by a button and restored in the page, while it runs; what was there is kept", async () => {
    const folder = newFolder();
    const server = await start(folder);
    const page = await pages.open();
    await page.goto(server.url);
    await project(page, "Kettle Row").waitFor();
    await openSheet(page);
    await page.getByRole("button", { name: "Back up now" }).click();
    await page.getByText("Made a backup.").waitFor();
    await backups(page).getByText("made by you").waitFor();
    await page.keyboard.press("Escape");
    await rename(page, server.url, "Kettle Row", "Changed since");
    await openSheet(page);
    const mine = backups(page).getByRole("listitem").filter({ hasText: "made by you" });
    await mine.getByRole("button", { name: "Restore …" }).click();
    await mine.getByRole("button", { name: "Restore it" }).click();
    await page.getByText("Restored. What was there before is kept among the backups.").waitFor();
    await backups(page).getByText("before a restore").waitFor();
    await page.keyboard.press("Escape");
    await project(page, "Kettle Row").waitFor();
    await expect.poll(() => project(page, "Changed since").count()).toBe(0);
    // It goes on being saved.
    await rename(page, server.url, "Kettle Row", "After it");
    await server.stop();
    expect(statSync(folder).mode & 0o777).toBe(0o700);
  });

  it("are made by command at any moment, and restored by command when it does not run", async () => {
    const folder = newFolder();
    const run = (...args: string[]) =>
      execFileSync("npm", ["run", "-s", ...args], { env: { ...process.env, MARTEN_DATA: folder }, encoding: "utf8" });
    const server = await start(folder);
    const page = await pages.open();
    await page.goto(server.url);
    await project(page, "Kettle Row").waitFor();
    const file = join(newFolder(), "mine.sqlite");
    expect(run("backup", "--", file)).toContain(file);
    await rename(page, server.url, "Kettle Row", "Changed since");
    await server.stop();
    expect(run("restore")).toMatch(/day-.*\.sqlite/);
    expect(run("restore", "--", file)).toContain("is in place");
    const again = await start(folder);
    await page.goto(again.url);
    await project(page, "Kettle Row").waitFor();
    await again.stop();
    expect(readdirSync(join(folder, "backups")).some((name) => name.startsWith("before-restore"))).toBe(true);
  });
});

describe("data that was lost", () => {
  it.each([
    ["empty", (path: string) => writeFileSync(path, ""), /is empty, but there are traces of earlier work/],
    ["garbage", (path: string) => writeFileSync(path, "y".repeat(50_000)), /is damaged: it is not a database/],
    ["gone", (path: string) => rmSync(path), /is missing, but there are traces of earlier work/],
  ])("since its file is %s is no first start: the page says so and goes back to a backup", async (_, harm, words) => {
    const folder = newFolder();
    const first = await start(folder);
    await first.stop();
    const path = join(folder, "marten.sqlite");
    harm(path);
    const before = existsSync(path) ? readFileSync(path) : null;
    const server = await start(folder);
    const page = await pages.open();
    await page.goto(server.url);
    const alert = page.getByRole("alert").filter({ hasText: "Something is wrong with the data on the disk" });
    await alert.getByText(words).waitFor();
    if (before) expect(readFileSync(path)).toEqual(before);
    await alert.getByRole("button", { name: "Backups …" }).click();
    await backups(page).getByRole("button", { name: "Restore …" }).first().click();
    await page.getByRole("button", { name: "Restore it" }).click();
    await page.getByText("Restored.").waitFor();
    await page.keyboard.press("Escape");
    await project(page, "Kettle Row").waitFor();
    await alert.waitFor({ state: "hidden" });
    await server.stop();
  });

  it("in one page of the database is one project: it is named, and the others open", async () => {
    const folder = newFolder();
    const first = await start(folder);
    await first.stop();
    const path = join(folder, "marten.sqlite");
    const bytes = readFileSync(path);
    const pageSize = bytes.readUInt16BE(16);
    // A page in the middle of the hits of one project: long text has pages of its own.
    const at = bytes.indexOf('"voiceId":"ride"', Math.floor(bytes.length / 2));
    const harmed = Math.floor(at / pageSize) * pageSize;
    bytes.fill(0, harmed, harmed + pageSize);
    writeFileSync(path, bytes);
    const server = await start(folder);
    const page = await pages.open();
    await page.goto(server.url);
    await page.getByRole("heading", { name: "Projects" }).waitFor();
    const links = page.getByRole("main").getByRole("link");
    await links.first().waitFor();
    let opened = 0;
    const names = await links.allTextContents();
    for (const name of names) {
      await page.goto(server.url);
      await project(page, name).click();
      await Promise.race([
        page.getByRole("main", { name: "Lanes" }).waitFor(),
        page.getByText("This project could not be opened").waitFor(),
      ]);
      if (await page.getByRole("main", { name: "Lanes" }).isVisible()) opened++;
    }
    expect(opened).toBeGreaterThanOrEqual(5);
    await server.stop();
  });
});

describe("everything", () => {
  it("goes out as one file and comes in on another machine, beside what is there", async () => {
    const here = await start(newFolder());
    const page = await pages.open();
    await page.goto(here.url);
    await importBytes(page, "Moved.mid", new Uint8Array(readFileSync("demo/kettle-row.mid")));
    await page.keyboard.press("t");
    await page.getByText("Saved", { exact: true }).waitFor();
    // One project from the Bench.
    await page.getByRole("button", { name: "Export", exact: true }).click();
    const [one] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("button", { name: "The whole project" }).click(),
    ]);
    expect(one.suggestedFilename()).toBe("Moved.marten.zip");
    const onePath = (await one.path())!;
    // And the whole shelf.
    await page.goto(here.url);
    await openSheet(page);
    const [all] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("button", { name: "Export as one file" }).click(),
    ]);
    const allPath = (await all.path())!;
    await here.stop();

    const there = await start(newFolder());
    await page.goto(there.url);
    const drop = (name: string, path: string) =>
      page
        .getByLabel("Recording to import")
        .setInputFiles({ name, mimeType: "application/zip", buffer: readFileSync(path) });
    await drop(one.suggestedFilename(), onePath);
    await page.getByText("Brought in 1 project.").waitFor();
    await project(page, "Moved").click();
    await page.getByRole("switch", { name: "Quantize" }).waitFor();
    await expect.poll(() => page.getByRole("switch", { name: "Quantize" }).getAttribute("aria-checked")).toBe("true");
    await page.getByRole("button", { name: "Undo", disabled: false }).click();
    await expect.poll(() => page.getByRole("switch", { name: "Quantize" }).getAttribute("aria-checked")).toBe("false");
    await page.getByText("Saved", { exact: true }).waitFor();
    await page.goto(there.url);
    await drop("Shelf.zip", allPath);
    // The demo is there already; the project that was undone is another by now.
    await page.getByText("Brought in 1 project; 6 projects were here already.").waitFor();
    await project(page, "Moved, brought in").waitFor();
    await drop("Broken.zip", "package.json");
    await page
      .getByRole("alert")
      .filter({ hasText: "Broken.zip was not imported" })
      .getByText("cannot be unpacked")
      .waitFor();
    await there.stop();
  });
});
