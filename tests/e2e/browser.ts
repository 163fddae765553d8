import type { Browser, Page } from "playwright-core";
import { afterAll, afterEach, beforeAll, expect, inject } from "vitest";
import { launch } from "./browser-tools.ts";

/** Gives each test a fresh page on the shelf, and fails it on any error that the page reports. */
export function usePages(): { open(path?: string): Promise<Page> } {
  let browser: Browser;
  const faults: string[] = [];
  beforeAll(async () => {
    browser = await launch();
  });
  afterAll(() => browser.close());
  afterEach(async () => {
    for (const context of browser.contexts()) await context.close();
    const found = faults.splice(0);
    expect(found).toEqual([]);
  });
  return {
    async open(path = "/") {
      const context = await browser.newContext({
        viewport: { width: 1280, height: 800 },
        reducedMotion: "reduce",
        acceptDownloads: true,
      });
      const page = await context.newPage();
      page.on("pageerror", (error) => faults.push(`${error.message}\n${error.stack}`));
      page.on("console", (line) => {
        // Refused requests are part of some tests; the page says them in its own words.
        if (line.type() === "error" && !line.text().startsWith("Failed to load resource")) faults.push(line.text());
      });
      await page.goto(inject("baseUrl") + path);
      return page;
    },
  };
}
