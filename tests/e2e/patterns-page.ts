import type { Page } from "playwright-core";
import type { Pattern } from "../../src/core/document/index.ts";
import { goToScreen } from "./browser-tools.ts";
import { unpacked } from "./client.ts";

// The screen of patterns, by what it is called there.

export const list = (page: Page) => page.getByRole("listbox", { name: "Patterns" });
export const options = (page: Page) => list(page).getByRole("option");
/** A pattern of the stand-in drummer: others of its name may have been put into takes. */
export const ofPlayer = (page: Page, name: string) => {
  const shipped = options(page).filter({ hasText: "the stand-in drummer" });
  return shipped.filter({ hasText: name }).first();
};
export const card = (page: Page) => page.getByRole("complementary", { name: "Pattern" });
export const knock = (page: Page) => page.getByRole("region", { name: "Knock" });
export const heard = (page: Page) => knock(page).getByRole("group", { name: "What was heard" }).getByRole("button");

export async function openPatterns(page: Page): Promise<void> {
  await goToScreen(page, "Patterns");
  await list(page).getByRole("option").first().waitFor();
  await page.waitForFunction(() => !document.body.textContent.includes("takes are still being cut"));
}

/** The take as it is on the disk, when all is saved. */
export async function savedTake(page: Page): Promise<Pattern> {
  await page.getByText("Saved", { exact: true }).waitFor();
  const id = /\/([0-9a-f-]{36})/.exec(page.url())![1]!;
  const answer = await page.evaluate(async (one) => (await fetch(`/api/projects/${one}`)).json(), id);
  return unpacked(answer.value).pattern;
}
