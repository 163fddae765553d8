import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import type { Browser, Page } from "playwright-core";
import { finsOf, importBytes, launch } from "../tests/e2e/browser-tools.ts";
import { startServer } from "../tests/e2e/server.ts";
import { denseTake } from "./dense-take.ts";
import { type Finding, percentile } from "./measure.ts";

const FRAME_MS = 1000 / 60;

/** The Bench with 20,000 hits in a real browser: its weight, its opening, and the main thread's work per frame. */
export async function benchBrowser(): Promise<Finding[]> {
  const server = await startServer({ dataFolder: mkdtempSync(join(tmpdir(), "marten-bench-")), port: 3700 });
  const browser = await launch();
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  try {
    await page.goto(server.url);
    await importBytes(page, "Dense.mid", denseTake(20_000).bytes);
    await page
      .getByText(/ms (late|early)/)
      .first()
      .waitFor();
    const scriptKb = await scriptWeight(page);
    const openMs = await openingTime(page);
    const idle = await workPerFrame(browser, page, () => page.waitForTimeout(1500));
    const scroll = await workPerFrame(browser, page, () => scrollThrough(page));
    const zoom = await workPerFrame(browser, page, () => zoomInAndOut(page));
    const drag = await workPerFrame(browser, page, () => dragStrength(page));
    return [
      {
        what: "script of the Bench, compressed",
        budget: "350 kB",
        measured: `${scriptKb.toFixed(0)} kB`,
        isHeld: scriptKb <= 350,
      },
      {
        what: "Bench with 20,000 hits usable after opening",
        budget: "1.5 s",
        measured: `${(openMs / 1000).toFixed(1)} s`,
        isHeld: openMs <= 1500,
      },
      ...(
        [
          ["at rest (control)", idle],
          ["scrolling 20,000 hits", scroll],
          ["zooming over 20,000 hits", zoom],
          ["dragging a setting with 20,000 hits", drag],
        ] as const
      ).map(([what, ms]) => ({
        what: `main thread per frame, 95th percentile, ${what}`,
        budget: "8 ms",
        measured: `${ms.toFixed(1)} ms`,
        isHeld: ms <= 8,
      })),
    ];
  } finally {
    await browser.close();
    await server.stop();
  }
}

async function scriptWeight(page: Page): Promise<number> {
  const paths = await page.evaluate(() =>
    performance
      .getEntriesByType("resource")
      .map((entry) => entry.name)
      .filter((name) => name.endsWith(".js") && !name.includes("worker")),
  );
  const bytes = await Promise.all(
    paths.map(async (path) => gzipSync(Buffer.from(await (await fetch(path)).arrayBuffer())).length),
  );
  return bytes.reduce((sum, size) => sum + size, 0) / 1024;
}

async function openingTime(page: Page): Promise<number> {
  const start = performance.now();
  await page.reload();
  await finsOf(page).waitFor();
  await page.getByRole("button", { name: /^Strength/ }).waitFor();
  return performance.now() - start;
}

/** Runs something and sums the tasks of the page's main thread for each sixtieth of a second. */
export async function workPerFrame(browser: Browser, page: Page, act: () => Promise<unknown>): Promise<number> {
  const path = join(mkdtempSync(join(tmpdir(), "marten-trace-")), "trace.json");
  await browser.startTracing(page, {
    path,
    categories: ["toplevel", "__metadata"],
  });
  await act();
  await browser.stopTracing();
  const { traceEvents } = JSON.parse(readFileSync(path, "utf8")) as {
    traceEvents: {
      name: string;
      ph: string;
      pid: number;
      tid: number;
      ts: number;
      dur?: number;
      args?: { name?: string };
    }[];
  };
  const mains = new Set(
    traceEvents
      .filter(({ name, args }) => name === "thread_name" && args?.name === "CrRendererMain")
      .map(({ pid, tid }) => `${pid} ${tid}`),
  );
  const frames: number[] = [];
  const firstUs = Math.min(...traceEvents.flatMap(({ ts, dur }) => (dur === undefined ? [] : [ts])));
  for (const { name, pid, tid, ts, dur } of traceEvents) {
    if (name !== "ThreadControllerImpl::RunTask" || dur === undefined || !mains.has(`${pid} ${tid}`)) continue;
    const frame = Math.floor((ts - firstUs) / 1000 / FRAME_MS);
    frames[frame] = (frames[frame] ?? 0) + dur / 1000;
  }
  // Frames in which nothing was done count as well.
  return percentile(
    Array.from(frames, (ms) => ms ?? 0),
    95,
  );
}

export async function scrollThrough(page: Page): Promise<void> {
  await finsOf(page).hover({ position: { x: 400, y: 100 } });
  for (let turn = 0; turn < 120; turn++) {
    await page.mouse.wheel(90, 0);
    await page.waitForTimeout(8);
  }
}

export async function zoomInAndOut(page: Page): Promise<void> {
  await page.keyboard.down("Control");
  for (let turn = 0; turn < 120; turn++) {
    await page.mouse.wheel(0, turn < 60 ? 40 : -40);
    await page.waitForTimeout(8);
  }
  await page.keyboard.up("Control");
}

async function dragStrength(page: Page): Promise<void> {
  await page.getByRole("button", { name: /^Strength/ }).click();
  const thumb = (await page.getByRole("slider", { name: "Strength" }).boundingBox())!;
  await page.mouse.move(thumb.x + 8, thumb.y + 8);
  await page.mouse.down();
  for (let turn = 0; turn < 100; turn++) {
    await page.mouse.move(thumb.x + 8 - 80 * Math.abs(Math.sin(turn / 12)), thumb.y + 8);
    await page.waitForTimeout(10);
  }
  await page.mouse.up();
  await page.keyboard.press("Escape");
}
