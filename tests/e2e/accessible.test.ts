import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { usePages } from "./browser.ts";
import { openProject, twoFrames } from "./browser-tools.ts";

// Every screen, sheet and menu, by day and by night, before a checker of accessibility.

const pages = usePages();
const source = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");

interface Violation {
  readonly id: string;
  readonly nodes: readonly { readonly html: string; readonly failureSummary?: string }[];
}

/** What the checker finds on the page as it is, each with the first element it is found on. */
async function violationsOf(page: Page): Promise<readonly string[]> {
  const violations = await page.evaluate(async (text) => {
    type Checked = { axe?: { run(options: object): Promise<{ violations: Violation[] }> } };
    const checked = globalThis as unknown as Checked;
    // biome-ignore lint/security/noGlobalEval: a test puts the checker into its own page
    if (!checked.axe) globalThis.eval(text);
    // Targets of at least 24 px, or with as much room around them: left out unless it is asked for.
    const rules = { "target-size": { enabled: true } };
    return (await checked.axe!.run({ resultTypes: ["violations"], rules })).violations;
  }, source);
  // A menu that is open stands at the end of the page, outside of its landmarks: it has the focus and is left with Escape.
  const isOfMenu = ({ id, nodes }: Violation) =>
    id === "region" && nodes.every(({ html }) => /radix-popper/.test(html));
  const found = violations.filter((violation) => !isOfMenu(violation));
  return found.map(
    ({ id, nodes }) =>
      `${id}, ${nodes.length} times: ${nodes.map(({ html }) => html.slice(0, 160)).join(" ")} ${nodes[0]?.failureSummary}`,
  );
}

/** Looks at a state by day and by night. */
async function check(page: Page, state: string): Promise<void> {
  for (const theme of ["day", "night"]) {
    await page.evaluate((name) => {
      document.documentElement.dataset.theme = name;
    }, theme);
    // Colours that are still on their way from one theme to the other are no theme; what has come may set off what inherits it.
    do {
      await page.evaluate(() => Promise.allSettled(document.getAnimations().map(({ finished }) => finished)));
      await twoFrames(page);
    } while (await page.evaluate(() => document.getAnimations().length > 0));
    expect(await violationsOf(page), `${state}, by ${theme}`).toEqual([]);
  }
}

async function openScreen(page: Page, name: string) {
  await page.getByRole("navigation", { name: "Screens" }).getByRole("link", { name, exact: true }).click();
}

const close = (page: Page) => page.keyboard.press("Escape");

describe("a checker of accessibility finds nothing", () => {
  it("on the Shelf and its sheets", async () => {
    const page = await pages.open("/");
    await page.getByRole("link", { name: "Kettle Row", exact: true }).waitFor();
    await check(page, "the Shelf");
    await page.getByRole("button", { name: "New take …" }).click();
    await check(page, "New take");
    await close(page);
    await page.getByRole("button", { name: "Back up and move …" }).click();
    await page.getByRole("dialog").waitFor();
    await check(page, "Back up and move");
  });

  it("on the Bench, with every tool, every step and the card of the part", async () => {
    const page = await pages.open("/");
    await openProject(page, "Kettle Row");
    await check(page, "the Bench");
    for (const step of ["Repair", "Quantize", "Dynamics", "Groove"]) {
      await page.getByRole("tab", { name: new RegExp(`^${step}`) }).click();
      await check(page, step);
    }
    await page.getByRole("radio", { name: "Draw" }).click();
    await check(page, "drawing");
    await page.getByRole("button", { name: "Roll …" }).click();
    await check(page, "Roll");
    await close(page);
    await page.getByRole("radio", { name: "Erase" }).click();
    await check(page, "erasing");
    await page.getByRole("radio", { name: "Select" }).click();
    await page.keyboard.press("n");
    await check(page, "a hit selected");
    await page.getByRole("button", { name: "Velocity", exact: true }).click();
    await check(page, "what can be done to its velocity");
    await close(page);
    await page.keyboard.press("Shift+G");
    await page.getByRole("complementary", { name: "Sift" }).waitFor();
    await check(page, "Sift");
    await page.getByRole("button", { name: "Close the rule" }).click();
    await page.locator("button[aria-expanded=true]").first().click();
    await check(page, "the whole part");
  });

  it("on the sheets and menus of the Bench", async () => {
    const page = await pages.open("/");
    await openProject(page, "Kettle Row");
    await page.keyboard.press("Shift+K");
    await page.getByRole("application", { name: /^Tempo by bar/ }).waitFor();
    await check(page, "tempo and bars");
    await close(page);
    for (const name of ["Search", "All keys", "What was done", "Tracks of the take", "Export"]) {
      await page.getByRole("button", { name, exact: true }).click();
      await page.getByRole("dialog").waitFor();
      await check(page, name);
      await close(page);
      await page.getByRole("dialog").waitFor({ state: "detached" });
    }
    await page.getByRole("button", { name: "Lanes", exact: true }).click();
    await check(page, "the menu of the lanes");
    await close(page);
    await page.getByRole("button", { name: "Lane menu" }).click();
    await check(page, "the menu of a lane");
  });

  it("on Play in and Patterns", async () => {
    const page = await pages.open("/");
    await openProject(page, "Slack Water");
    await page.keyboard.press("Shift+F2");
    await page.getByRole("region", { name: "Play in" }).waitFor();
    await check(page, "Play in");
    await page.getByRole("button", { name: "Lanes", exact: true }).click();
    await page.getByRole("menuitem", { name: /^Sound and mix/ }).click();
    await page.getByRole("dialog", { name: "Sound and mix" }).waitFor();
    await check(page, "Sound and mix");
    await close(page);
    await page.getByRole("button", { name: "Close Play in" }).click();
    await openScreen(page, "Patterns");
    await page.getByRole("listbox", { name: "Patterns" }).getByRole("option").first().waitFor();
    await page.getByRole("button", { name: "Let the stand-in player knock it" }).click();
    await page.getByText(/are like it/).waitFor();
    await check(page, "Patterns");
  });

  it("on Note maps, Grooves, Song and Messages", async () => {
    const page = await pages.open("/");
    await openProject(page, "Slack Water, deck kit");
    await expect.poll(() => page.title()).toBe("Slack Water, deck kit · Bench · Idle Marten");
    await openScreen(page, "Note maps");
    await expect.poll(() => page.title()).toBe("Slack Water, deck kit · Note maps · Idle Marten");
    await page.getByText("Doubtful names").waitFor();
    await page.getByRole("button", { name: "Listen", exact: true }).click();
    await check(page, "Note maps");
    await openScreen(page, "Grooves");
    await page.getByRole("complementary", { name: "Grooves on the shelf" }).waitFor();
    await check(page, "Grooves");
    await openScreen(page, "Song");
    await page.getByRole("button", { name: "Split every", exact: true }).waitFor();
    await check(page, "a take that is not split");
    await page.getByRole("button", { name: "Split every", exact: true }).click();
    await page
      .getByRole("button", { name: /in Bars 1 to 4:/ })
      .first()
      .click();
    await page.getByRole("region", { name: "Pattern Bars 1 to 4" }).waitFor();
    await check(page, "Song");
    for (const name of ["Search", "All keys"]) {
      await page.getByRole("button", { name, exact: true }).click();
      await page.getByRole("dialog").waitFor();
      await check(page, `${name} of Song`);
      await close(page);
      await page.getByRole("dialog").waitFor({ state: "detached" });
    }
    await openScreen(page, "Messages");
    await page.getByText("669 of 669 messages").waitFor();
    await page.keyboard.press("ArrowDown");
    await check(page, "Messages");
  });
});

describe("the focus", () => {
  const focused = (page: Page) => page.evaluate(() => document.activeElement?.tagName ?? "BODY");

  it("goes from the lanes to the transport and then to the card, and all heads of lanes are one stop with arrows inside", async () => {
    const page = await pages.open();
    await openProject(page, "Kettle Row");
    const focused = () =>
      page.evaluate(() => {
        const { activeElement: at } = document;
        return at?.getAttribute("aria-label") ?? at?.textContent ?? "";
      });
    const stops: string[] = [];
    // Round once, from wherever it begins.
    await page.keyboard.press("Tab");
    for (const first = await focused(); stops.length < 150; await page.keyboard.press("Tab")) {
      const name = await focused();
      if (name === first && stops.length > 0) break;
      stops.push(name);
    }
    const place = (name: RegExp) => stops.findIndex((stop) => name.test(stop));
    const inOrder = [/^Snare/, /^Hits of all lanes$/, /^Play$/, /^Lane menu$/].map(place);
    expect(inOrder).toEqual(inOrder.toSorted((one, other) => one - other));
    expect(inOrder[0]).toBeGreaterThan(0);
    expect(inOrder[2]).toBeLessThan(32);
    expect(stops.filter((stop) => /^(Mute|Solo|Keep open)/.test(stop))).toEqual([]);
    // Arrows go from head to head, and sideways over what a head has; louder and softer they mean elsewhere.
    const heads = page.getByRole("toolbar", { name: "Lane heads" });
    const names = await heads.locator("[data-lane-name]").allTextContents();
    await heads
      .getByRole("button", { name: /^Snare/ })
      .first()
      .focus();
    await page.keyboard.press("Shift+Tab");
    await page.keyboard.press("Tab");
    await page.keyboard.press("ArrowRight");
    await expect.poll(() => focused()).toBe("Mute Snare");
    await page.keyboard.press("ArrowDown");
    const next = names[names.indexOf("Snare") + 1]!;
    await expect.poll(focused).toMatch(new RegExp(`^${next}`));
    await page.keyboard.press("Enter");
    await page
      .getByRole("complementary", { name: "Lane card" })
      .getByRole("button", { name: next, exact: true })
      .waitFor();
  });

  it("never falls to the page: what closes gives it back", async () => {
    const page = await pages.open("/");
    await openProject(page, "Kettle Row");
    for (const name of ["Search", "All keys", "What was done", "Tracks of the take", "Export"]) {
      const button = page.getByRole("button", { name, exact: true });
      await button.focus();
      await page.keyboard.press("Enter");
      await page.getByRole("dialog").waitFor();
      await close(page);
      await page.getByRole("dialog").waitFor({ state: "detached" });
      await expect
        .poll(() => button.evaluate((element) => element === document.activeElement), { message: name })
        .toBe(true);
    }
    // Opened by a key while nothing had the focus, it goes to the lanes.
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    for (const key of ["?", "/", "Shift+K", "Shift+G"]) {
      await page.keyboard.press(key);
      await expect.poll(() => focused(page), { message: key }).not.toBe("BODY");
      await close(page);
      await expect
        .poll(() => page.evaluate(() => document.activeElement?.getAttribute("aria-label")), {
          message: `after ${key}`,
        })
        .toBe("Lanes");
      await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    }
  });

  it("comes back from a number as soon as it is taken, and stays while it is refused", async () => {
    const page = await pages.open("/");
    await openProject(page, "Kettle Row");
    const strength = page.getByRole("complementary", { name: "Lane card" }).getByRole("button", { name: /^Strength/ });
    await strength.click();
    const field = page.getByRole("dialog", { name: "Strength" }).getByRole("textbox", { name: "Strength" });
    await field.fill("300");
    await page.keyboard.press("Enter");
    await page.getByText(/^300 is out of range/).waitFor();
    await field.fill("70");
    await page.keyboard.press("Enter");
    await field.waitFor({ state: "detached" });
    await page.getByRole("button", { name: "Strength: 70 %" }).waitFor();
    await expect.poll(() => strength.evaluate((element) => element === document.activeElement)).toBe(true);
  });
});
