import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import type { Browser, Page } from "playwright-core";
import { finsOf, importBytes, launch } from "../tests/e2e/browser-tools.ts";
import { startServer } from "../tests/e2e/server.ts";
import { denseTake } from "./dense-take.ts";
import { type Finding, percentile } from "./measure.ts";

const MOST_SCRIPT_KB = 340;

/** The Bench with long takes in a real browser: its weight, its opening, and the main thread's work per frame. */
export async function benchBrowser(): Promise<Finding[]> {
  const server = await startServer({ dataFolder: mkdtempSync(join(tmpdir(), "marten-bench-")), port: 3700 });
  const browser = await launch();
  try {
    const floor = await canvasFloor(browser);
    const { findings, scriptKb } = await benchTake(
      browser,
      server.url,
      "20,000 hits in 5 minutes",
      denseTake(20_000).bytes,
      1500,
    );
    const long = await benchTake(browser, server.url, "50,000 hits in 30 minutes", denseTake(50_000, 67).bytes, 2000);
    return [
      {
        what: "script of the Bench, compressed",
        budget: `${MOST_SCRIPT_KB} kB`,
        measured: `${scriptKb.toFixed(0)} kB`,
        isHeld: scriptKb <= MOST_SCRIPT_KB,
      },
      {
        what: "control: main thread per frame, 95th percentile, clearing a canvas as large as the lanes",
        budget: "what is left of 8 ms",
        measured: saidWork(floor),
        isHeld: true,
      },
      ...findings,
      ...long.findings,
    ];
  } finally {
    await browser.close();
    await server.stop();
  }
}

async function benchTake(browser: Browser, url: string, name: string, bytes: Uint8Array, openBudgetMs: number) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(url);
  await importBytes(page, "Dense.mid", bytes);
  await page
    .getByText(/ms (late|early)/)
    .first()
    .waitFor();
  // Voices are looked at in a worker, and sounds are made, for a while after opening.
  const settle = async () => {
    await page
      .getByText(/ms (late|early)/)
      .first()
      .waitFor();
    await page.waitForTimeout(6000);
  };
  const openings: number[] = [];
  for (let turn = 0; turn < 3; turn++) {
    await settle();
    openings.push(await openingTime(page));
  }
  // Of the Bench alone, as it is opened: what comes later, when nothing else is to be done, keeps nobody waiting.
  const scriptKb = await scriptWeight(page);
  const openMs = percentile(openings, 50);
  await settle();
  const idle = await workPerFrame(browser, page, () => page.waitForTimeout(1500));
  const scroll = await quietWork(browser, page, () => scrollThrough(page));
  const zoom = await quietWork(browser, page, () => zoomInAndOut(page));
  await page.keyboard.press("0");
  const setting = await dragStrength(browser, page);
  const { picked, work: hits } = await dragLane(browser, page);
  const heapMiB = await heapSize(page);
  await page.close();
  const findings: Finding[] = [
    {
      what: `Bench with ${name} usable after opening`,
      budget: `${openBudgetMs / 1000} s`,
      measured: `${(openMs / 1000).toFixed(1)} s`,
      isHeld: openMs <= openBudgetMs,
    },
    ...(
      [
        ["at rest (control)", idle],
        ["scrolling", scroll],
        ["zooming", zoom],
        ["dragging a setting with all in view", setting],
        [`dragging ${picked.toLocaleString("en")} picked hits`, hits],
      ] as const
    ).map(([what, work]) => ({
      what: `${name}: main thread per frame, 95th percentile, ${what}`,
      budget: "8 ms",
      measured: saidWork(work),
      isHeld: work.workMs <= 8,
    })),
    {
      what: `${name}: memory of the page's script`,
      budget: "stated",
      measured: `${heapMiB.toFixed(0)} MiB`,
      isHeld: true,
    },
  ];
  return { findings, scriptKb };
}

/** What this browser needs on this machine for a canvas that is all but empty. */
async function canvasFloor(browser: Browser): Promise<FrameWork> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.setContent('<canvas width="810" height="545"></canvas>');
  const work = await workPerFrame(browser, page, () =>
    page.evaluate(
      () =>
        new Promise<void>((resolve) => {
          const context = document.querySelector("canvas")?.getContext("2d");
          let left = 120;
          const draw = () => {
            context?.clearRect(0, 0, 810, 545);
            context?.fillRect(left, 10, 10, 10);
            left--;
            if (left > 0) requestAnimationFrame(draw);
            else resolve();
          };
          draw();
        }),
    ),
  );
  await page.close();
  return work;
}

/** What the page's script holds after collecting garbage. */
async function heapSize(page: Page): Promise<number> {
  const session = await page.context().newCDPSession(page);
  await session.send("HeapProfiler.collectGarbage");
  await session.send("Performance.enable");
  const { metrics } = await session.send("Performance.getMetrics");
  return (metrics.find(({ name }) => name === "JSHeapUsedSize")?.value ?? Number.NaN) / 1024 / 1024;
}

/** Picks all hits of the kick and drags them along by one of them. */
export async function dragLane(browser: Browser, page: Page): Promise<{ picked: number; work: FrameWork }> {
  const head = page.getByRole("button", { name: /^Kick/ }).first();
  await head.scrollIntoViewIfNeeded();
  await head.click();
  for (let turn = 0; turn < 40; turn++) await page.keyboard.press("+");
  for (let turn = 0; turn < 7; turn++) await page.keyboard.press("-");
  const strip = (await page.getByRole("region", { name: "Overview" }).locator("canvas").last().boundingBox())!;
  await page.mouse.click(strip.x + 1, strip.y + strip.height / 2);
  await page.keyboard.press("n");
  await page.keyboard.press("Control+a");
  const words = page.getByRole("status", { name: "Selection" });
  await words.getByText(/kick hits selected/).waitFor();
  const picked = Number((await words.textContent())?.match(/^([\d,]+) kick/)?.[1]?.replaceAll(",", ""));
  const fins = (await finsOf(page).boundingBox())!;
  const lane = (await head.boundingBox())!;
  // The first kick stands on the first beat, at the left margin of the view.
  const at = { x: fins.x + 16, y: lane.y + 10 + 132 - 12 };
  await page.mouse.move(at.x, at.y);
  await page.mouse.down();
  await page.mouse.move(at.x + 12, at.y);
  // What is said at the pointer tells that it drags hits, and not a frame around some.
  await page
    .getByRole("main", { name: "Lanes" })
    .getByText(/^[\d,]+ hits: /)
    .waitFor();
  const work = await quietWork(browser, page, () => swing(page, at));
  await page.mouse.up();
  await page.keyboard.press("Control+z");
  return { picked, work };
}

/** Moves the pointer to and fro. */
async function swing(page: Page, at: { readonly x: number; readonly y: number }): Promise<void> {
  for (let turn = 0; turn < 120; turn++) {
    await page.mouse.move(at.x + 12 + 60 * Math.abs(Math.sin(turn / 12)), at.y);
    await page.waitForTimeout(8);
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

/** What the main thread did from one frame to the next, at the 95th percentile. */
interface FrameWork {
  /** Its work: the time that it had a processor. */
  readonly workMs: number;
  /** The time on the clock, with what it waited for meanwhile: the compositor, and whatever else two cores had to do. */
  readonly clockMs: number;
  /** Our own script alone, on the clock. */
  readonly scriptMs: number;
  /** The work in the stretch that was disturbed the most. */
  readonly noisyMs?: number;
}

const SCRIPT_EVENTS: ReadonlySet<string> = new Set(["FunctionCall", "EvaluateScript", "MinorGC", "MajorGC"]);

const STRETCHES = 3;

/** `workPerFrame` in stretches, of which the one that was disturbed the least counts, as in `quietMs`. */
async function quietWork(browser: Browser, page: Page, act: () => Promise<unknown>): Promise<FrameWork> {
  const stretches: FrameWork[] = [];
  for (let stretch = 0; stretch < STRETCHES; stretch++) {
    stretches.push(await workPerFrame(browser, page, act));
    await page.waitForTimeout(400);
  }
  const [quietest] = stretches.toSorted((a, b) => a.workMs - b.workMs);
  return { ...quietest!, noisyMs: Math.max(...stretches.map(({ workMs }) => workMs)) };
}

/** Runs something and sums the tasks of the page's main thread for each frame. */
export async function workPerFrame(browser: Browser, page: Page, act: () => Promise<unknown>): Promise<FrameWork> {
  const path = join(mkdtempSync(join(tmpdir(), "marten-trace-")), "trace.json");
  await browser.startTracing(page, {
    path,
    categories: ["toplevel", "__metadata", "devtools.timeline", "v8"],
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
      tdur?: number;
      args?: { name?: string };
    }[];
  };
  const mains = new Set(
    traceEvents
      .filter(({ name, args }) => name === "thread_name" && args?.name === "CrRendererMain")
      .map(({ pid, tid }) => `${pid} ${tid}`),
  );
  const ofMain = traceEvents.filter(({ pid, tid, dur }) => dur !== undefined && mains.has(`${pid} ${tid}`));
  const tasks = ofMain.filter(({ name }) => name === "ThreadControllerImpl::RunTask");
  // A frame begins with the task that asks the page for one, and lasts until the next is asked for.
  const asked = traceEvents.filter(
    ({ name, ph, pid, tid }) => name === "AnimationFrame::Render" && ph === "b" && mains.has(`${pid} ${tid}`),
  );
  const starts = tasks
    .filter(({ ts, dur = 0 }) => asked.some((begin) => begin.ts >= ts && begin.ts <= ts + dur))
    .map(({ ts }) => ts)
    .toSorted((a, b) => a - b);
  return {
    workMs: perFrame(
      tasks.map(({ ts, tdur = 0 }) => ({ ts, dur: tdur })),
      starts,
    ),
    clockMs: perFrame(tasks, starts),
    scriptMs: perFrame(outermost(ofMain.filter(({ name }) => SCRIPT_EVENTS.has(name))), starts),
  };
}

function saidWork({ workMs, clockMs, scriptMs, noisyMs }: FrameWork): string {
  const noise = noisyMs === undefined ? "" : `, up to ${noisyMs.toFixed(1)} ms while disturbed`;
  return `${workMs.toFixed(1)} ms of work${noise}; on the clock ${clockMs.toFixed(1)} ms, of it script ${scriptMs.toFixed(1)} ms`;
}

interface Span {
  readonly ts: number;
  readonly dur?: number;
}

/** The 95th percentile of what falls into each frame; 0 if there was none. */
function perFrame(spans: readonly Span[], starts: readonly number[]): number {
  if (starts.length === 0) return 0;
  const frames = new Float64Array(starts.length);
  let frame = -1;
  for (const { ts, dur = 0 } of spans.toSorted((a, b) => a.ts - b.ts)) {
    while (frame + 1 < starts.length && ts >= starts[frame + 1]!) frame++;
    if (frame >= 0) frames[frame]! += dur / 1000;
  }
  return percentile([...frames], 95);
}

/** Calls within calls are counted once. */
function outermost(spans: readonly Span[]): readonly Span[] {
  let endUs = Number.NEGATIVE_INFINITY;
  return spans
    .toSorted((a, b) => a.ts - b.ts)
    .filter(({ ts, dur = 0 }) => {
      if (ts < endUs) return false;
      endUs = ts + dur;
      return true;
    });
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

/** Drags the strength of the open lane to and fro. */
export async function dragStrength(browser: Browser, page: Page): Promise<FrameWork> {
  const rail = (await page.getByRole("slider", { name: "Strength" }).boundingBox())!;
  const at = { x: rail.x + rail.width / 2, y: rail.y + rail.height / 2 };
  await page.mouse.move(at.x, at.y);
  await page.mouse.down();
  const work = await quietWork(browser, page, () => swing(page, at));
  await page.mouse.up();
  await page.keyboard.press("Control+z");
  return work;
}
