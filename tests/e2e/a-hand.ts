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
      await page.keyboard.press(keys);
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

/** Fingers on the screen, as the browser hears of them. */
export async function fingersOf(page: Page) {
  const session = await page.context().newCDPSession(page);
  const send = (type: "touchStart" | "touchMove" | "touchEnd", points: readonly (readonly [number, number])[]) =>
    session.send("Input.dispatchTouchEvent", { type, touchPoints: points.map(([x, y], id) => ({ x, y, id })) });
  return {
    send,
    async tap(x: number, y: number) {
      await send("touchStart", [[x, y]]);
      await send("touchEnd", []);
    },
    async drag([x, y]: readonly [number, number], [toX, toY]: readonly [number, number]) {
      await send("touchStart", [[x, y]]);
      for (let step = 1; step <= 8; step++) {
        await send("touchMove", [[x + ((toX - x) * step) / 8, y + ((toY - y) * step) / 8]]);
      }
      // A finger that is lifted in full movement throws the page, and the next tap only stops it: this one comes to rest first.
      const since = await page.evaluate(() => performance.now());
      await page.waitForFunction((from) => performance.now() - from > 200, since);
      await send("touchEnd", []);
    },
  };
}
