import type { Page } from "playwright-core";

/** A hand that counts: a click, a drag, a key or a typed word is one action each. */
export function handOf(page: Page) {
  let actions = 0;
  return {
    get actions() {
      return actions;
    },
    async key(keys: string) {
      actions++;
      await (keys.length === 1 ? pressBriefly(page, keys) : page.keyboard.press(keys));
    },
    async type(text: string) {
      actions++;
      await page.keyboard.type(text);
    },
    async click(x: number, y: number, button: "left" | "right" = "left") {
      actions++;
      await page.mouse.click(x, y, { button });
    },
    async choose(name: string | RegExp, role: "button" | "menuitem" | "menuitemradio" | "radio" | "tab" = "button") {
      actions++;
      const exact = typeof name === "string";
      await page.getByRole(role, { name, exact }).first().click();
    },
    async drag(from: readonly [number, number], to: readonly [number, number], held: readonly string[] = []) {
      actions++;
      await page.mouse.move(...from);
      for (const key of held) await page.keyboard.down(key);
      await page.mouse.down();
      await page.mouse.move(...to, { steps: 16 });
      await page.mouse.up();
      for (const key of held) await page.keyboard.up(key);
    },
  };
}

/** Presses keys, as in `Alt+D`, and lets go of them at once, however busy the machine is: held a while, some do their work only until then. */
export async function pressBriefly(page: Page, keys: string): Promise<void> {
  const all = keys.split("+");
  const [down, up] = [all.map((key) => page.keyboard.down(key)), all.toReversed().map((key) => page.keyboard.up(key))];
  await Promise.all([...down, ...up]);
}

type Touch = readonly (readonly [number, number])[];

/**
 * Fingers on the screen, as the browser hears of them. What belongs together is sent at once: a pause between two messages, on a busy
 * machine, would make a finger rest where it only passes.
 */
export async function fingersOf(page: Page) {
  const session = await page.context().newCDPSession(page);
  const send = (type: "touchStart" | "touchMove" | "touchEnd", points: Touch) =>
    session.send("Input.dispatchTouchEvent", { type, touchPoints: points.map(([x, y], id) => ({ x, y, id })) });
  const lift = () => send("touchEnd", []);
  /** Fingers that come down and move, and stay. */
  const slide = (first: Touch, ...then: readonly Touch[]) =>
    Promise.all([send("touchStart", first), ...then.map((points) => send("touchMove", points))]);
  return {
    slide,
    lift,
    async tap(x: number, y: number) {
      await Promise.all([slide([[x, y]]), lift()]);
    },
    async drag([x, y]: readonly [number, number], [toX, toY]: readonly [number, number]) {
      const shares = Array.from({ length: 9 }, (_, index) => index / 8);
      const [first, ...then] = shares.map((share): Touch => [[x + (toX - x) * share, y + (toY - y) * share]]);
      await slide(first!, ...then);
      // A finger that is lifted in full movement throws the page, and the next tap only stops it: this one comes to rest first.
      const since = await page.evaluate(() => performance.now());
      await page.waitForFunction((from) => performance.now() - from > 200, since);
      await lift();
    },
  };
}
