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
