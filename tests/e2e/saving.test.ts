import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, renameSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { BrowserContext, Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import type { OpenProject, ProjectCard } from "../../src/api/wire.ts";
import type { LogEntry } from "../../src/core/document/index.ts";
import { usePages } from "./browser.ts";
import {
  goToScreen,
  importBytes,
  openProject,
  paintedFins,
  screenLink,
  setNumber,
  twoFrames,
} from "./browser-tools.ts";
import { baseUrl } from "./own-server.ts";
import { type RunningServer, startServer } from "./server.ts";

// What is done is saved, or it is said why not, what to do, and what is being done about it; and nothing is lost on the way.

const pages = usePages();
const kettle = new Uint8Array(readFileSync("demo/kettle-row.mid"));
const card = (page: Page) => page.getByRole("complementary", { name: "Lane card" });
const isSaved = (page: Page) => page.getByText("Saved", { exact: true }).waitFor();
const trouble = (page: Page) => page.getByRole("alert").filter({ hasText: "Not saving." });

/** The press that saves again, where saving has not begun again by itself: then what is pressed is gone. */
async function saveAgain(page: Page): Promise<void> {
  await Promise.race([trouble(page).getByRole("button", { name: "Try now" }).click(), isSaved(page)]);
  await isSaved(page);
}

const get = async <Value>(url: string): Promise<Value> => (await (await fetch(url)).json()).value;
const idOf = (page: Page) => new URL(page.url()).pathname.split("/").at(-1)!;
const logOf = (page: Page) => get<readonly LogEntry[]>(`${new URL(page.url()).origin}/api/projects/${idOf(page)}/log`);
const keysOf = (page: Page, beginning: string) =>
  page.evaluate((start) => Object.keys(localStorage).filter((key) => key.startsWith(start)), beginning);

/** A second window of the same browser on the same project. */
async function another(page: Page): Promise<Page> {
  const second = await (page.context() as BrowserContext).newPage();
  await second.goto(page.url());
  await second.getByRole("main", { name: "Lanes" }).waitFor();
  return second;
}

/** Both change the same thing while the saving of the second is held up: it says 90 %, and 70 % is saved. */
async function disagree(page: Page, other: Page): Promise<void> {
  await other.route(/\/edits$/, (route) => route.abort());
  await other.route(/\/log\?/, (route) => route.abort());
  await setNumber(other, "Strength", "90");
  await trouble(other).waitFor();
  await setNumber(page, "Strength", "70");
  await isSaved(page);
}

describe("a take whose grids are still being found", () => {
  it("is seen and heard at once, says so, and takes changes as soon as they are found", async () => {
    const page = await pages.open();
    await importBytes(page, "Kettle.mid", kettle);
    let find = () => {};
    const found = new Promise<void>((resolve) => {
      find = resolve;
    });
    await page.route("**/api/projects/*/lanes", async (route) => {
      if (route.request().method() === "GET") await found;
      await route.continue();
    });
    await page.route("**/api/projects/*/lanes?share", (route) => route.fulfill({ json: { ok: true, value: 0.37 } }));
    await page.route(`**/api/projects/${idOf(page)}`, async (route) => {
      const response = await route.fetch();
      const answer = await response.json();
      await route.fulfill({ response, json: { ...answer, value: { ...answer.value, isPlanned: false } } });
    });
    await page.reload();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await page.getByText("Finding grids …").waitFor();
    await expect.poll(() => paintedFins(page)).not.toBe("");
    await page.keyboard.press("m");
    await card(page).getByRole("switch").first().click();
    await page.getByText(/was not done yet: the grids are still being found\. Try again in a moment\./).waitFor();
    // How much is found is told, and they need not be waited for.
    await page.getByText("37 %").waitFor();
    const given = page.waitForRequest((request) => request.method() === "DELETE" && request.url().endsWith("/lanes"));
    await page.getByRole("status").getByRole("button", { name: "Cancel" }).click();
    await given;
    find();
    await page.getByText("Finding grids …").waitFor({ state: "hidden" });
    await card(page).getByRole("switch").first().click();
    await isSaved(page);
    await expect.poll(() => logOf(page)).toHaveLength(1);
  });
});

describe("a setting", () => {
  it("that would be beyond what can be saved is refused in words, and everything else is saved", async () => {
    const page = await pages.open();
    // Half as fast, so that ticks are long.
    const slow = new Uint8Array(readFileSync("demo/slack-water.mid"));
    await importBytes(page, "Far.mid", slow);
    await page.getByRole("button", { name: /^Ride/ }).first().click();
    await setNumber(page, "Push", "20");
    await card(page).getByRole("button", { name: "Unit of the push: ms" }).click();
    await page.getByRole("menuitemradio", { name: "ticks", exact: true }).click();
    // However soon it comes after the last one, the card says it at once: what is set next is set in ticks.
    await twoFrames(page);
    expect(
      await card(page)
        .getByRole("button", { name: /^Push: \d+ ticks/ })
        .count(),
    ).toBe(1);
    await setNumber(page, "Push", "120");
    await card(page)
      .getByRole("button", { name: /^Push: 120 ticks/ })
      .waitFor();
    await card(page).getByRole("button", { name: "Unit of the push: ticks" }).click();
    await page.getByRole("menuitemradio", { name: "ms", exact: true }).click();
    await page.getByText(/^120 ticks are 1\d\d ms at this tempo, and a push can be 100 ms at most/).waitFor();
    await card(page)
      .getByRole("button", { name: /^Push: 120 ticks/ })
      .waitFor();
    await setNumber(page, "Strength", "90");
    await isSaved(page);
    await page.reload();
    await card(page).getByRole("button", { name: "Strength: 90 %" }).waitFor();
  });
});

describe("two windows of one project", () => {
  it("leave each other what is being typed", async () => {
    const page = await pages.open();
    await importBytes(page, "Typed.mid", kettle);
    const other = await another(page);
    await card(page)
      .getByRole("button", { name: /^Strength:/ })
      .click();
    const sheet = page.getByRole("dialog", { name: "Strength" });
    await sheet.getByRole("textbox").fill("77");
    await setNumber(other, "Strength", "60");
    // It has come in, and the field is as it was.
    await expect.poll(() => sheet.getByRole("slider").inputValue()).toBe("60");
    await expect.poll(() => sheet.getByRole("textbox").inputValue()).toBe("77");
    await sheet.getByRole("textbox").press("Enter");
    for (const one of [page, other]) await card(one).getByRole("button", { name: "Strength: 77 %" }).waitFor();

    // Where nothing is typed yet, what comes in is shown, and what is typed then takes its place.
    await card(page).getByRole("button", { name: "Strength: 77 %" }).click();
    await setNumber(other, "Strength", "55");
    await expect.poll(() => sheet.getByRole("textbox").inputValue()).toBe("55");
    await page.keyboard.type("66");
    await page.keyboard.press("Enter");
    for (const one of [page, other]) await card(one).getByRole("button", { name: "Strength: 66 %" }).waitFor();
  });

  it("show what the other saves, say that it is open twice, and lose nothing when they disagree", async () => {
    const page = await pages.open();
    await importBytes(page, "Twice.mid", kettle);
    const other = await another(page);
    await page.getByText("Open twice").waitFor();
    await other.getByText("Open twice").waitFor();
    await setNumber(page, "Strength", "60");
    await card(other).getByRole("button", { name: "Strength: 60 %" }).waitFor();

    await disagree(page, other);
    // More work on other things.
    await other.keyboard.press("Control+a");
    await other.keyboard.press("ArrowUp");
    await other.unrouteAll({ behavior: "wait" });
    await saveAgain(other);
    await other.getByText(/1 change here did not fit what was changed elsewhere/).waitFor();
    await card(other).getByRole("button", { name: "Strength: 70 %" }).waitFor();
    expect((await logOf(page)).map(({ label }) => label.replace(/ \d+ hits/, ""))).toHaveLength(3);

    // What did not fit can be looked at and taken, after a reload as well.
    await other.reload();
    await card(other).getByRole("button", { name: "Strength: 70 %" }).waitFor();
    await other.getByRole("button", { name: "What was done" }).click();
    const version = other.getByRole("listitem", { name: /^Conflicted version/ });
    await version.getByText("the settings of 1 voice").waitFor();
    await version.getByRole("button", { name: "Go back to it" }).click();
    await card(other).getByRole("button", { name: "Strength: 90 %" }).waitFor();
    await isSaved(other);
    await card(page).getByRole("button", { name: "Strength: 90 %" }).waitFor();
    await other.close();
    await page.getByText("Open twice").waitFor({ state: "hidden" });
  });
});

describe("a conflicted version that the server will not have", () => {
  it("is said, shown among the versions with the reason, taken, and kept on the server once that goes", async () => {
    const page = await pages.open();
    await importBytes(page, "Refused.mid", kettle);
    const other = await another(page);
    await disagree(page, other);
    await other.unrouteAll({ behavior: "wait" });
    const problem = { code: "version.refused", message: "There is no place for it.", remedy: "" };
    const refuse = { status: 400, contentType: "application/json", body: JSON.stringify({ ok: false, problem }) };
    await other.route(/\/versions$/, (route) =>
      route.request().method() === "POST" ? route.fulfill(refuse) : route.continue(),
    );
    await saveAgain(other);
    await other.getByText(/could not be kept with the project: There is no place for it/).waitFor();
    await card(other).getByRole("button", { name: "Strength: 70 %" }).waitFor();

    await other.reload();
    await other.getByRole("button", { name: "What was done" }).click();
    const version = other.getByRole("listitem", { name: /^Conflicted version/ });
    await version.getByText(/In this browser alone.*There is no place for it/).waitFor();
    await version.getByRole("button", { name: "Go back to it" }).click();
    await card(other).getByRole("button", { name: "Strength: 90 %" }).waitFor();
    await isSaved(other);
    await other.getByRole("button", { name: "What was done" }).click();
    // The same words were there before: what tells that it was refused once more is the answer.
    const answer = other.waitForResponse((one) => one.url().endsWith("/versions") && one.request().method() === "POST");
    await version.getByRole("button", { name: "Try again" }).click();
    expect((await answer).status()).toBe(400);
    await other.unrouteAll({ behavior: "wait" });
    await version.getByRole("button", { name: "Try again" }).click();
    await version.getByText(/In this browser alone/).waitFor({ state: "hidden" });
    await expect.poll(() => version.count()).toBe(1);
    await expect.poll(() => keysOf(other, "marten.refused-version")).toEqual([]);
  });
});

describe("what could not be saved", () => {
  it("is kept for each window by itself, also when both are closed, and is there at the next opening", async () => {
    const page = await pages.open();
    await importBytes(page, "Closed.mid", kettle);
    const other = await another(page);
    const address = page.url();
    await page.context().route(/\/edits$/, (route) => route.abort());
    await setNumber(page, "Strength", "60");
    await other.keyboard.press("Control+a");
    await other.keyboard.press("ArrowUp");
    await Promise.all([trouble(page).waitFor(), trouble(other).waitFor()]);
    const third = await page.context().newPage();
    await Promise.all([page.close({ runBeforeUnload: false }), other.close({ runBeforeUnload: false })]);
    await third.context().unrouteAll({ behavior: "wait" });
    await third.goto(address);
    await third
      .getByText(/1 change from an earlier window that could not be saved is there again/)
      .first()
      .waitFor();
    await isSaved(third);
    await expect.poll(async () => (await logOf(third)).length).toBe(2);
    await card(third).getByRole("button", { name: "Strength: 60 %" }).waitFor();
    await expect.poll(() => keysOf(third, "marten.unsaved")).toEqual([]);
  });

  it("holds a link of the page until it is saved, or asks", async () => {
    const page = await pages.open();
    await importBytes(page, "Leaving.mid", kettle);
    await page.route(/\/edits$/, (route) => route.abort());
    await setNumber(page, "Strength", "60");
    await trouble(page).waitFor();
    await screenLink(page, "Song").click();
    const question = page.getByRole("alertdialog", { name: "Leave before everything is saved?" });
    await question.getByRole("button", { name: "Stay" }).click();
    await question.waitFor({ state: "hidden" });
    expect(page.url()).toContain("/bench/");
    await page.unrouteAll({ behavior: "wait" });
    await saveAgain(page);
    await goToScreen(page, "Song");
  });

  it("is said to be in this window alone when the browser has no room", async () => {
    const page = await pages.open();
    await importBytes(page, "Full browser.mid", kettle);
    await page.evaluate(() => {
      for (let size = 2 ** 22; size > 8; size /= 2) {
        try {
          for (let turn = 0; ; turn++) localStorage.setItem(`ballast ${size} ${turn}`, "x".repeat(size));
        } catch {
          // The next smaller piece may still fit.
        }
      }
    });
    await page.route(/\/edits$/, (route) => route.abort());
    await setNumber(page, "Strength", "60");
    await trouble(page)
      .getByText(/The browser has no room to keep your changes either/)
      .waitFor();
    await page.unrouteAll({ behavior: "wait" });
    await isSaved(page);
  });
});

describe("what the browser keeps", () => {
  it("never keeps a screen from opening, whatever it has become", async () => {
    const page = await pages.open();
    await importBytes(page, "Broken.mid", kettle);
    const id = idOf(page);
    await setNumber(page, "Strength", "60");
    await isSaved(page);
    for (const text of ["{oh", "null", "[]", '"x"', "{}", '{"viewport":3,"muted":7}']) {
      await page.evaluate(
        ([project, broken]) => {
          const keys = ["view", "unsaved", "importNote"].map((name) => `marten.${name}.${project}`);
          for (const key of [...keys, `${keys[1]}.a window`, "marten.keys", "marten.kit", "marten.copied-settings"]) {
            localStorage.setItem(key, broken!);
          }
        },
        [id, text] as const,
      );
      for (const screen of ["bench", "song", "messages", "maps"]) {
        await page.goto(`${baseUrl()}/${screen}/${id}`);
        await page.getByText("Broken", { exact: true }).first().waitFor();
        await isSaved(page);
      }
    }
    await page.goto(`${baseUrl()}/bench/${id}`);
    await card(page).getByRole("button", { name: "Strength: 60 %" }).waitFor();
  });
});

describe("the data folder", () => {
  const start = async (at: string): Promise<RunningServer> => startServer({ dataFolder: at, port: 3700 });
  const kettleRow = async (url: string) =>
    (await get<ProjectCard[]>(`${url}/api/projects`)).find(({ name }) => name === "Kettle Row")!;

  it("that is taken away stops the writing, loudly: a whole copy can be saved, and nothing is acknowledged that is gone", async () => {
    const folder = join(mkdtempSync(join(tmpdir(), "marten-moved-")), "data");
    const server = await start(folder);
    const page = await pages.open();
    await page.goto(server.url);
    await openProject(page, "Kettle Row");
    await setNumber(page, "Strength", "60");
    await isSaved(page);
    renameSync(folder, `${folder}-elsewhere`);
    await setNumber(page, "Strength", "90");
    await trouble(page)
      .getByText(/was deleted, moved or replaced while Idle Marten was running/)
      .waitFor();
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      page.evaluate(() => {
        const link = document.createElement("a");
        link.href = "/api/storage/copy";
        link.download = "";
        link.click();
      }),
    ]);
    const copy = (await download.path())!;
    const other = mkdtempSync(join(tmpdir(), "marten-copy-"));
    execFileSync("npm", ["run", "-s", "restore", "--", copy], { env: { ...process.env, MARTEN_DATA: other } });
    // Put back, it goes on by itself.
    rmSync(folder, { recursive: true, force: true });
    renameSync(`${folder}-elsewhere`, folder);
    await saveAgain(page);
    expect(await server.stop()).toBe(0);

    const fromCopy = await startServer({ dataFolder: other, port: 3720 });
    const restored = await kettleRow(fromCopy.url);
    const { revision } = await get<OpenProject>(`${fromCopy.url}/api/projects/${restored.id}`);
    expect(revision).toBe(1);
    await fromCopy.stop();
  });

  it("is one whole file after every orderly stop", async () => {
    const folder = mkdtempSync(join(tmpdir(), "marten-stop-"));
    const server = await start(folder);
    const { id } = await kettleRow(server.url);
    const page = await pages.open();
    await page.goto(`${server.url}/bench/${id}`);
    for (const value of ["60", "70", "90"]) {
      await setNumber(page, "Strength", value);
      await isSaved(page);
    }
    expect(await server.stop()).toBe(0);
    expect(existsSync(join(folder, "marten.sqlite-wal"))).toBe(false);
    const alone = mkdtempSync(join(tmpdir(), "marten-alone-"));
    execFileSync("cp", [join(folder, "marten.sqlite"), alone]);
    const again = await start(alone);
    expect((await get<OpenProject>(`${again.url}/api/projects/${id}`)).revision).toBe(3);
    await again.stop();
  });
});
