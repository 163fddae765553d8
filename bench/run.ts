// `npm run bench`: measures what the application must hold, and writes docs/performance.md.
import { execFileSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { benchBrowser } from "./browser.ts";
import { benchCore } from "./core.ts";
import { benchLarge } from "./large.ts";
import type { Finding } from "./measure.ts";
import { benchServer } from "./server.ts";
import { benchSong } from "./song.ts";

const SECTIONS: Readonly<Record<string, () => Promise<Finding[]>>> = {
  Song: benchSong,
  Core: benchCore,
  Server: async () => benchServer(),
  Browser: benchBrowser,
  Large: benchLarge,
};

const [, script = "", only] = process.argv;
if (only !== undefined) {
  console.log(JSON.stringify(await SECTIONS[only]!()));
  process.exit(0);
}

// Each in a process of its own: what one leaves in memory would slow down the next, and in the application they are apart, too.
const sections = Object.keys(SECTIONS).map((title): [title: string, findings: Finding[]] => {
  const said = execFileSync(process.execPath, [script, title], { stdio: ["ignore", "pipe", "inherit"] });
  return [title, JSON.parse(String(said).trim().split("\n").at(-1)!)];
});

const table = (findings: readonly Finding[]) =>
  [
    "| what | budget | measured | held |",
    "| --- | --- | --- | --- |",
    ...findings.map(
      ({ what, budget, measured, isHeld }) => `| ${what} | ${budget} | ${measured} | ${isHeld ? "yes" : "**no**"} |`,
    ),
  ].join("\n");

const text = `# Performance

Written by \`npm run bench\`, last on a machine with ${cpus().length} cores (${cpus()[0]?.model.trim()}). Ratios come from runs in
turn within one process; a bare time is the middle of several runs, and depends on the machine. Where a time has its noise beside it,
it was taken in several stretches: what else the machine does only adds, so the quietest counts.

${sections.map(([title, findings]) => `## ${title}\n\n${table(findings)}`).join("\n\n")}

## What is not held, and why

- **Analysis.** A take is read twice, on time and late, and each voice with a dozen grids, its stretches and its swing; roles are told by
  places of the bar as well. It runs in a worker while the lanes are shown, and says how far it is.
- **Script of the Bench.** Of it 115 kB are the framework, 60 kB the parts of standard libraries that menus, sliders, toasts, the search
  and charts need. What a take is not opened for comes later, 61 kB: the rest is what lanes, cards and keys need at once. Reading it
  keeps the Bench within its time of opening, and no more.
- **The largest takes.** Hits come as columns ([why](decisions/2026-11-29-hits-are-stored-as-columns.md)); those of before
  open as slowly as they did, in about 8 s with a million messages. The list of messages is made in a worker from the moment the take
  comes, beside the page, of as many objects as an export writes: that is most of its time, which was 7.77, 7.83 and 8.35 s in three
  runs. Whoever waits is told how far it is, and can leave.
- **Dragging picked hits.** Thousands of them are laid over the lanes at each move, and what would become of them is counted and said.
- **Frames.** The lanes are painted in a worker. What is counted is the work of the main thread from one frame to the next: the time
  that it had a processor. Beside it stands the time on the clock, which contains waiting: headless Chromium paints without a
  graphics card, and the page, the worker, the compositor and whoever moves the pointer share two cores. Scrolling and zooming cost
  the same at 20,000 and at 50,000 hits, since only what is in view is looked at. While hits are dragged they are laid over the
  lanes and treated when they are let go; a setting that is dragged is treated by the painter on every frame, and by the page now and
  then, for what is heard and said.
- **Opening.** The pattern is on its way while the page's script is read. Most of the rest is reading the two; what helps the
  lanes (how each voice was played, the sounds of the kit, the markers) starts once they are shown.
`;
writeFileSync("docs/performance.md", text);
for (const [title, findings] of sections) {
  console.log(`\n${title}`);
  console.table(
    Object.fromEntries(
      findings.map(({ what, budget, measured, isHeld }) => [what, { budget, measured, held: isHeld ? "yes" : "NO" }]),
    ),
  );
}
