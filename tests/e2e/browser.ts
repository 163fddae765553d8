import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { Browser, BrowserContext, Page } from "playwright-core";
import { afterAll, afterEach, beforeAll, beforeEach, expect } from "vitest";
import { launch, slowDown } from "./browser-tools.ts";
import { baseUrl } from "./own-server.ts";

/** Where a failed test leaves what there was to see. */
const FAILURES = "build/failed-tests";

/** How long pages wait at most for an answer besides: what depends on the speed of the machine shows itself. */
const SLOW_MS = Number(process.env.SLOW_MS ?? 0);

/**
 * Gives each test an empty page on the Shelf, and fails it on any error that the page reports. The first page of a test is the one that
 * the test before it had, emptied: what it has loaded and compiled need not be loaded and compiled again. Further pages are in a context
 * of their own, as in another browser.
 */
export function usePages(): { open(path?: string): Promise<Page> } {
  let browser: Browser;
  let shared: BrowserContext | null = null;
  let isSharedTaken = false;
  const faults: string[] = [];
  const said: string[] = [];

  async function newContext(): Promise<BrowserContext> {
    const context = await browser.newContext({
      viewport: { width: 1280, height: 800 },
      reducedMotion: "reduce",
      acceptDownloads: true,
    });
    context.setDefaultTimeout(60_000);
    if (SLOW_MS > 0) await slowDown(context, SLOW_MS);
    await context.tracing.start({ snapshots: false });
    context.on("page", (page) => {
      listenTo(page);
      for (const name of LASTING) noteCalls(page, name, () => changed.add(page));
    });
    // Fingers and other sizes of letters, which no method of a page sets.
    noteCalls(context, "newCDPSession", () => context.pages().map((page) => changed.add(page)));
    return context;
  }

  function listenTo(page: Page): void {
    page.on("pageerror", (error) => faults.push(`${error.message}\n${error.stack}`));
    page.on("console", (line) => {
      said.push(`${line.type()}: ${line.text()}`);
      // Refused requests are part of some tests; the page says them in its own words.
      if (line.type() === "error" && !line.text().startsWith("Failed to load resource")) faults.push(line.text());
    });
  }

  /** The page that the test before left, or a new one. */
  async function firstPage(context: BrowserContext): Promise<Page> {
    const [left] = context.pages();
    if (left) listenTo(left);
    return left ?? (await context.newPage());
  }

  beforeAll(async () => {
    browser = await launch();
  });
  afterAll(() => browser?.close());
  beforeEach(() => {
    isSharedTaken = false;
  });
  afterEach(async ({ task }) => {
    const found = faults.splice(0);
    const lines = said.splice(0);
    const hasFailed = task.result?.state === "fail" || found.length > 0;
    for (const [index, context] of browser.contexts().entries()) {
      if (hasFailed) await leaveTraces(context, `${task.name.replace(/\W+/g, "-").slice(0, 80)} ${index}`, lines);
      if (context === shared && !hasFailed) await empty(context);
      else await context.close();
    }
    if (hasFailed) shared = null;
    expect(found).toEqual([]);
  });
  return {
    async open(path = "/") {
      shared ??= await newContext();
      const context = isSharedTaken ? await newContext() : shared;
      if (context === shared) await context.tracing.startChunk();
      isSharedTaken = true;
      const page = await firstPage(context);
      await page.goto(baseUrl() + path);
      return page;
    },
  };
}

/** What a test can do to a page that outlasts its emptying. */
const LASTING = ["addInitScript", "emulateMedia", "setViewportSize"] as const;
/** Pages that were made other than they were: the next test gets a new one. */
const changed = new WeakSet<Page>();

/** Calls something besides whenever a method is called. */
function noteCalls<Name extends string>(owner: { [name in Name]: unknown }, name: Name, note: () => void): void {
  const method = owner[name] as (...args: unknown[]) => unknown;
  const noting = (...args: unknown[]) => {
    note();
    return method.apply(owner, args);
  };
  Object.assign(owner, { [name]: noting });
}

/** Closes the pages of a context but the last, and takes all that they have kept, so that the next test begins as in a new browser. */
async function empty(context: BrowserContext): Promise<void> {
  await context.unrouteAll({ behavior: "ignoreErrors" });
  const [last, ...others] = context.pages();
  for (const page of others) await page.close();
  if (!last) return;
  await last.unrouteAll({ behavior: "ignoreErrors" });
  const isChanged = changed.has(last);
  // Nothing that is said from here on belongs to a test.
  for (const event of ["dialog", "pageerror", "console"]) last.removeAllListeners(event);
  await letGo(last);
  // What a page keeps when it goes is gone then, too.
  await last.goto("about:blank");
  const session = await context.newCDPSession(last);
  await session.send("Storage.clearDataForOrigin", {
    origin: baseUrl(),
    storageTypes: "local_storage,indexeddb,cookies",
  });
  await session.detach();
  // This session of ours was noted too, and changes nothing.
  changed.delete(last);
  if (isChanged) await last.close();
}

/** Keys and buttons that a test left held are let go, and the pointer is put where nothing is. */
async function letGo(page: Page): Promise<void> {
  for (const key of ["Shift", "Alt", "Control", "Meta"]) await page.keyboard.up(key);
  await page.mouse.up();
  await page.mouse.move(0, 0);
}

/** A trace of what was done, and of each page a picture, its content by role, and what it keeps in the browser. */
async function leaveTraces(context: BrowserContext, name: string, lines: readonly string[]): Promise<void> {
  mkdirSync(FAILURES, { recursive: true });
  const path = (ending: string) => join(FAILURES, `${name}${ending}`);
  for (const [index, page] of context.pages().entries()) {
    try {
      await page.screenshot({ path: path(` ${index}.png`), timeout: 10_000 });
      const content = await page.locator("body").ariaSnapshot({ timeout: 10_000 });
      const kept = await page.evaluate(() => JSON.stringify({ ...localStorage }, null, 2));
      writeFileSync(path(` ${index}.txt`), [page.url(), content, kept, ...lines].join("\n\n"));
    } catch (error) {
      // A page that hangs is what failed: the trace says more.
      writeFileSync(path(` ${index}.txt`), [page.url(), String(error), ...lines].join("\n\n"));
    }
  }
  await context.tracing.stop({ path: path(" trace.zip") });
  console.log(`What the failed test left: ${FAILURES}/${name} …`);
}
