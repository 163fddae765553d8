// `npm run shots`: makes the pictures in docs/screenshots from the demo, in a data folder of its own.
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Page } from "playwright-core";
import { writeMidiFile } from "../src/core/smf/index.ts";
import { withoutClick } from "../src/standin/free-time.ts";
import { NIGHT_FERRY } from "../src/standin/night-ferry.ts";
import { perform } from "../src/standin/perform.ts";
import { createRandom } from "../src/standin/random.ts";
import { finsOf, goToScreen, importBytes, launch, openProject } from "../tests/e2e/browser-tools.ts";
import { startServer } from "../tests/e2e/server.ts";

const server = await startServer({ dataFolder: mkdtempSync(join(tmpdir(), "marten-shots-")), port: 3800 });
const browser = await launch();
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, reducedMotion: "reduce" });

function ferryWithoutClick(): Uint8Array {
  const { part, habits } = NIGHT_FERRY.find((take) => take.part.title === "Ferry Lights")!;
  const { file } = perform(part, habits, createRandom(77));
  return writeMidiFile(withoutClick(file, part, habits.ppq, createRandom(5), 5).file);
}

async function shoot(name: string): Promise<void> {
  await page.waitForTimeout(400);
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
  console.log(`docs/screenshots/${name}.png`);
}

/** Ferry Lights as somebody would have it after a few minutes: hats and kick tight, the snare looser. */
async function tidy(on: Page): Promise<void> {
  await on.getByText("eighths, 5 ms early").waitFor();
  await on.getByRole("button", { name: "Close this note" }).click();
  await on.keyboard.press("Shift+T");
  await on.getByText("Quantized 7 voices").waitFor();
  await on.getByRole("button", { name: /^Keep within/ }).click();
  await on.getByRole("textbox").fill("6");
  await on.keyboard.press("Enter");
  await on.keyboard.press("Escape");
  await on.keyboard.press("l");
  const box = (await finsOf(on).boundingBox())!;
  await on.mouse.move(box.x + 415, box.y + 225);
  await on.mouse.down();
  await on.mouse.move(box.x + 610, box.y + 270, { steps: 5 });
  await on.mouse.up();
  await on.getByText("Quantized 7 voices").waitFor({ state: "hidden" });
}

await page.goto(server.url);
await page.getByRole("link", { name: "Ferry Lights", exact: true }).waitFor();
await shoot("shelf-day");
await openProject(page, "Ferry Lights");
await tidy(page);
await shoot("bench-day");
// The fills on triplets, and the hits that are worth a look.
await page.keyboard.press("w");
await page.keyboard.press("w");
await page.getByRole("region", { name: "Doubtful hits" }).evaluate((list) => list.scrollIntoView({ block: "end" }));
await shoot("bench-looks");
await page.keyboard.press("Escape");
// The snare's loudness by role, and a rule for the hats.
await page.keyboard.press("9");
await page.getByRole("button", { name: /^Ghosts:/ }).click();
await page.getByRole("textbox").last().fill("80");
await page.keyboard.press("Enter");
await page.getByRole("button", { name: /^Range:/ }).click();
await page.getByRole("textbox").last().fill("115");
await page.keyboard.press("Enter");
await shoot("dynamics-day");
await page.keyboard.press("Control+z");
await page.keyboard.press("Control+z");
await page.keyboard.press("8");
await page.keyboard.press("Shift+g");
await page.getByRole("button", { name: /^Chore/ }).click();
await page.getByRole("menuitemradio", { name: "Every second hat softer" }).click();
await page.getByRole("button", { name: /^Another condition/ }).click();
await page.getByRole("menuitemradio", { name: "a place in the bar" }).click();
await page.getByText(/would change; the lanes show it/).waitFor();
await page
  .getByText(/^Undone/)
  .first()
  .waitFor({ state: "hidden" });
await page.getByText("38 hi-hat hits selected").waitFor();
await shoot("sift-day");
await page.keyboard.press("Shift+g");
await page.getByRole("button", { name: "Switch to night" }).click();
await shoot("bench-night");
await page.getByRole("button", { name: "Export", exact: true }).click();
await shoot("export-night");
await page.keyboard.press("Escape");
await goToScreen(page, "Shelf");
await page.getByRole("link", { name: "Ferry Lights", exact: true }).waitFor();

// The groove of Tin Orchard, family by family.
await page.getByRole("button", { name: "Switch to day" }).click();
await goToScreen(page, "Grooves");
await page.getByLabel("File of a groove").setInputFiles("demo/tin-orchard.mid");
await page.getByRole("heading", { name: "tin-orchard", exact: true }).waitFor();
await page.getByText(/is on the shelf/).waitFor({ state: "hidden" });
await shoot("grooves-day");
await goToScreen(page, "Shelf");

// Ferry Lights as a song: the feel of its verse taken, and laid on all of it.
await openProject(page, "Ferry Lights");
await goToScreen(page, "Song");
await page.getByRole("button", { name: "Split by repeats" }).click();
const settings = page.getByRole("complementary", { name: "Settings of the selection" });
for (const [part, name] of [
  ["Part A 1", "Verse 1"],
  ["Part B 1", "Chorus 1"],
  ["Part A 2", "Verse 2"],
  ["Part B 2", "Chorus 2"],
  ["Part A 3", "Verse 3"],
  ["Part B 3", "Last chorus"],
] as const) {
  await page.getByRole("button", { name: new RegExp(`^Snare in ${part}`) }).click();
  await settings.getByRole("button", { name: part, exact: true }).click();
  await page.getByRole("textbox", { name: "Name of the pattern" }).fill(name);
  await page.keyboard.press("Enter");
}
await page.getByRole("button", { name: /^Hi-hat in Verse 1/ }).click();
await page.keyboard.press("Shift+ArrowRight");
await settings.getByRole("button", { name: "Extract groove …" }).click();
await settings.getByRole("textbox", { name: "Name of the groove" }).fill("The verse");
await page.getByText(/^Split the take/).waitFor({ state: "hidden" });
await settings.evaluate((card) => card.scrollTo(0, 90));
await shoot("song-groove");
await settings.getByRole("button", { name: "Extract", exact: true }).click();
await page.getByRole("button", { name: "All cells" }).click();
await settings.getByRole("button", { name: /^Groove of the cells/ }).click();
await page
  .getByRole("menuitemradio", { name: /^The verse/ })
  .last()
  .click();
await page.getByRole("button", { name: /^Snare in Chorus 2/ }).click();
await settings.getByRole("button", { name: /^Push/ }).click();
await page.getByRole("textbox").last().fill("8");
await page.keyboard.press("Enter");
await page.getByRole("button", { name: /^Snare in Verse 2/ }).click();
await page.keyboard.press("Shift+ArrowDown");
await page.getByText(/is on the shelf/).waitFor({ state: "hidden" });
await shoot("song-day");
await goToScreen(page, "Shelf");

// Ferry Lights once more, played to no click.
await importBytes(page, "Ferry Lights, no click.mid", ferryWithoutClick());
await page.getByRole("button", { name: "Find its tempo" }).click();
const tempo = page.getByRole("application", { name: /^Tempo by bar/ });
await tempo.focus();
for (let bar = 0; bar < 9; bar++) await page.keyboard.press("ArrowRight");
await shoot("tempo-day");
await page.keyboard.press("Escape");
await goToScreen(page, "Shelf");

// The take from an odd kit: guessed, named, listened to, and its messages.
await openProject(page, "Slack Water, deck kit");
await goToScreen(page, "Note maps");
await page.getByText("Doubtful names").waitFor();
await shoot("maps-day");
await page.getByRole("button", { name: "Take 5 of 7" }).click();
await page.getByRole("button", { name: "Listen", exact: true }).click();
await page.keyboard.press("3");
await page.getByRole("button", { name: "Stop listening" }).click();
await goToScreen(page, "Messages");
await page.getByText("669 of 669 messages").waitFor();
await page.getByRole("row").nth(8).click();
await shoot("messages-day");
await goToScreen(page, "Bench");
await page
  .getByRole("button", { name: /^Hi-hat/ })
  .first()
  .click();
await page.getByRole("button", { name: "Close this note" }).click();
// Two lanes open, slots as cells, and where a press would write a hit.
await page.getByRole("button", { name: "Keep open: Hi-hat" }).click();
await page
  .getByRole("button", { name: /^Snare/ })
  .first()
  .click();
await page.getByRole("radio", { name: "Draw" }).click();
await page.getByRole("switch", { name: "Step cells" }).click();
const field = (await finsOf(page).boundingBox())!;
await page.mouse.move(field.x + 330, field.y + 160);
await shoot("lane-hats");
await page.keyboard.press("Escape");

// Drawing into the open lane, and the list of what was done.
await goToScreen(page, "Shelf");
await openProject(page, "Moth Parade");
await page.getByRole("button", { name: "Close this note" }).click();
await page.getByRole("button", { name: /^Kick/ }).first().click();
await page.keyboard.press("d");
const fins = (await finsOf(page).boundingBox())!;
await page.mouse.move(fins.x + 190, fins.y + 335);
await page.mouse.down();
await page.mouse.move(fins.x + 400, fins.y + 262, { steps: 14 });
await shoot("bench-draw");
await page.mouse.up();
await page.keyboard.press("Escape");
await goToScreen(page, "Shelf");

// A new part from fingers: the stand-in player plays it in, pass by pass; then the best bars of each, and a roll on a held key.
await page.getByRole("button", { name: "New take …" }).click();
await page.getByLabel("Name").fill("Gangway");
await page.getByLabel("Tempo").fill("112");
await page.getByLabel("Bars").fill("4");
await page.getByRole("button", { name: "Create" }).click();
await page.getByRole("main", { name: "Lanes" }).waitFor();
await page.getByRole("button", { name: "Close this note" }).click();
await page.keyboard.press("Shift+F2");
const playIn = page.getByRole("region", { name: "Play in" });
async function choose(label: string, name: string): Promise<void> {
  await playIn.getByRole("button", { name: new RegExp(`^${label}`) }).click();
  await page.getByRole("menuitemradio", { name, exact: true }).click();
}
await choose("Who plays", "the stand-in player");
await choose("How tight", "loose");
await page.keyboard.press("F2");
await playIn.getByText("Pass 3").waitFor();
await playIn.getByText(/^recording, [4-9] hits/).waitFor();
await shoot("play-in-day");
await page.getByText(/^3[0-9] hits so far/).waitFor();
await page.keyboard.press("F2");
await choose("What the stand-in player plays", "kick and snare");
await page.keyboard.press("F2");
await playIn.getByText("Pass 4").waitFor();
await page.waitForTimeout(4000);
await page.keyboard.press("F2");
await playIn.getByRole("button", { name: "Best bars of each" }).click();
await playIn.getByRole("button", { name: /^Bar 2 of pass 4/ }).click();
await page.getByText(/^Bar 2 plays pass 4/).waitFor({ state: "hidden" });
await playIn
  .getByRole("button", { name: /^Bar 2 of pass 4/ })
  .evaluate((cell) => cell.closest("table")?.scrollIntoView({ block: "end" }));
await shoot("play-in-passes");
await choose("Who plays", "pads, keys or a device");
await choose("Repeat", "Repeat a held pad");
await page.keyboard.press("F2");
await page.getByText("Recording", { exact: true }).waitFor();
await page.keyboard.down("s");
await page.waitForTimeout(1500);
await shoot("play-in-repeat");
await page.keyboard.up("s");
await page.keyboard.press("F2");
await goToScreen(page, "Shelf");

// A rhythm knocked, and the patterns that are like it.
await openProject(page, "Tin Orchard");
await goToScreen(page, "Patterns");
const patterns = page.getByRole("listbox", { name: "Patterns" });
await patterns.getByRole("option").nth(3).click();
await page.getByText(/still being cut/).waitFor({ state: "hidden" });
await page.getByRole("button", { name: "Let the stand-in player knock it" }).click();
await page.getByText(/are like it/).waitFor();
await patterns.getByRole("option").nth(1).click();
const more = page.getByRole("slider", { name: "Snare", exact: true });
await more.focus();
for (let stroke = 0; stroke < 3; stroke++) await page.keyboard.press("ArrowRight");
await page.getByRole("slider", { name: "Kick velocity" }).focus();
for (let step = 0; step < 8; step++) await page.keyboard.press("ArrowLeft");
await shoot("patterns-day");

await browser.close();
await server.stop();
