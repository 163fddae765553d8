import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { usePages } from "./browser.ts";
import { goToScreen } from "./browser-tools.ts";

const pages = usePages();
const orchard = readFileSync("demo/tin-orchard.mid");
const list = (page: Page) => page.getByRole("complementary", { name: "Grooves on the shelf" });
const profile = (page: Page) => page.getByRole("application", { name: /^Profile of/ });

async function save(page: Page, button: string): Promise<Buffer> {
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: button }).click(),
  ]);
  return readFileSync((await download.path())!);
}

async function open(page: Page) {
  await goToScreen(page, "Grooves");
  await list(page)
    .getByText(/^\d+ grooves$/)
    .waitFor();
}

describe("grooves on the shelf", () => {
  it("are searched, changed place by place by key and pointer, kept under a name, and taken off", async () => {
    const page = await pages.open();
    await open(page);
    await list(page).getByRole("searchbox").fill("behind");
    await list(page)
      .getByRole("button", { name: /^Late mooring/ })
      .waitFor();
    expect(
      await list(page)
        .getByRole("button", { name: /^Early tide/ })
        .count(),
    ).toBe(0);
    await list(page).getByRole("searchbox").fill("");
    await list(page)
      .getByRole("button", { name: /^Tight rigging/ })
      .click();
    await page.getByRole("heading", { name: "Tight rigging", exact: true }).waitFor();
    await profile(page).focus();
    for (const key of ["ArrowRight", "ArrowRight", "ArrowUp", "ArrowUp", "+"]) await page.keyboard.press(key);
    await page.getByText(/Place 2, all drums: 3.1 ms late, 77 % as loud as the mean/).waitFor();
    await page.getByText("not saved yet").waitFor();
    const box = (await profile(page).boundingBox())!;
    // The first place of the second beat, dragged up.
    const x = box.x + ((72 + (772 / 16) * 4) / 900) * box.width;
    await page.mouse.move(x, box.y + (106 / 260) * box.height);
    await page.mouse.down();
    await page.mouse.move(x, box.y + (60 / 260) * box.height, { steps: 4 });
    await page.mouse.up();
    await page.getByText(/Place 5, all drums: (9|10)(\.\d)? ms late/).waitFor();
    await page.getByRole("textbox", { name: "Name of the groove" }).fill("Rigging, second late");
    await page.getByRole("button", { name: "Keep" }).click();
    await list(page)
      .getByRole("button", { name: /^Rigging, second late/ })
      .click();
    await page.getByRole("button", { name: "Delete" }).click();
    await list(page)
      .getByRole("button", { name: /^Rigging, second late/ })
      .waitFor({ state: "detached" });
    await page.getByRole("button", { name: "Undo" }).last().click();
    await list(page)
      .getByRole("button", { name: /^Rigging, second late/ })
      .waitFor();
  });

  it("are heard on a plain part and on the open take, and found by tags", async () => {
    const page = await pages.open("/");
    await page.getByRole("link", { name: "Kettle Row", exact: true }).click();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await open(page);
    await page.getByRole("button", { name: "Listen" }).click();
    await page.getByRole("button", { name: "Stop" }).waitFor();
    // It goes on while another is chosen, and on the take.
    await list(page)
      .getByRole("button", { name: /^Long shuffle/ })
      .click();
    await page.getByRole("button", { name: /^Heard on/ }).click();
    await page.getByRole("menuitemradio", { name: "the open take" }).click();
    await page.getByRole("button", { name: "Stop" }).click();
    await page.getByRole("button", { name: "Listen" }).waitFor();
    const only = page.getByRole("group", { name: "Only with the tag" });
    await only.getByRole("button", { name: "shuffle" }).click();
    await expect.poll(() => list(page).getByRole("listitem").count()).toBe(2);
    await only.getByRole("button", { name: "shuffle" }).click();
    // One of one's own.
    const make = page.getByRole("region", { name: "Make a groove" });
    await make.getByRole("button", { name: "Show it" }).click();
    await page.getByRole("textbox", { name: "Name of the groove" }).fill("Tagged one");
    await page.getByRole("button", { name: "Keep" }).click();
    await list(page)
      .getByRole("button", { name: /^Tagged one/ })
      .click();
    await page.getByRole("textbox", { name: "Add a tag" }).fill("For the Finale");
    await page.keyboard.press("Enter");
    await only.getByRole("button", { name: "for the finale" }).click();
    await expect.poll(() => list(page).getByRole("listitem").count()).toBe(1);
    await page.getByRole("button", { name: "Remove the tag for the finale" }).click();
    await only.getByRole("button", { name: "for the finale" }).waitFor({ state: "detached" });
  });

  it("are made of numbers and of two others", async () => {
    const page = await pages.open();
    await open(page);
    const make = page.getByRole("region", { name: "Make a groove" });
    await make.getByRole("button", { name: "Swing: straight" }).click();
    await page.getByRole("textbox").last().fill("62");
    await page.keyboard.press("Enter");
    await make.getByRole("button", { name: "Show it" }).click();
    await page
      .getByText(/^swung sixteenths, 62 %/)
      .first()
      .waitFor();
    await page.getByRole("button", { name: "Cancel" }).click();
    await list(page)
      .getByRole("button", { name: /^Tight rigging/ })
      .click();
    await make.getByRole("button", { name: /^The other groove/ }).click();
    await page.getByRole("menuitemradio", { name: "Heavy cargo" }).click();
    await make.getByRole("button", { name: "Mix them" }).click();
    // Half of a swing of 61 %.
    await page
      .getByText(/^swung sixteenths, 5[56] %/)
      .first()
      .waitFor();
    await page.getByRole("heading", { name: /^Tight rigging and Heavy cargo/ }).waitFor();
  });

  it("are written to files and read from them, and taken from any recording", async () => {
    const page = await pages.open();
    await open(page);
    await list(page)
      .getByRole("button", { name: /^River sixteenths/ })
      .click();
    const json = await save(page, "Export JSON");
    const midi = await save(page, "Export MIDI");
    const give = (name: string, buffer: Buffer) =>
      list(page).getByLabel("File of a groove").setInputFiles({ name, mimeType: "application/octet-stream", buffer });
    await give("River, by mail.json", Buffer.from(json.toString("utf8").replace("River sixteenths", "River, by mail")));
    await page.getByRole("heading", { name: "River, by mail", exact: true }).waitFor();
    await give("River as notes.mid", midi);
    await page.getByRole("heading", { name: "River as notes", exact: true }).waitFor();
    await page
      .getByText(/^swung sixteenths, 57 %/)
      .first()
      .waitFor();
    await give("Orchard shuffle.mid", orchard);
    await page.getByRole("heading", { name: "Orchard shuffle", exact: true }).waitFor();
    await page
      .getByText(/^straight eighth triplets/)
      .first()
      .waitFor();
    await give("letter.txt", Buffer.from("dear drummer"));
    await list(page)
      .getByText(/There is no groove in this file/)
      .waitFor();
  });
});
