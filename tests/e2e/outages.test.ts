import { execSync } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync } from "node:fs";
import { createServer, request } from "node:http";
import { connect } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import type { ProjectCard } from "../../src/api/wire.ts";
import { changeVelocityBy } from "../../src/core/commands/index.ts";
import { applyEdit } from "../../src/core/document/index.ts";
import { usePages } from "./browser.ts";
import { launch, openProject, painted, paintedFins } from "./browser-tools.ts";
import { Client } from "./client.ts";
import { baseUrl } from "./own-server.ts";
import { startServer } from "./server.ts";

const pages = usePages();

describe("the server", () => {
  /** A request with headers that a browser would not let a page set. */
  const ask = (
    method: string,
    path: string,
    headers: Record<string, string>,
    body = "",
  ): Promise<{ status: number; text: string }> =>
    new Promise((resolve, reject) => {
      const { hostname, port } = new URL(baseUrl());
      const sent = request({ hostname, port, path, method, headers }, (answer) => {
        let text = "";
        answer.on("data", (chunk) => (text += chunk));
        answer.on("end", () => resolve({ status: answer.statusCode ?? 0, text }));
      });
      sent.once("error", reject);
      sent.end(body);
    });

  it("answers only by a name of this machine, and changes nothing for another page", async () => {
    const own = new URL(baseUrl()).host;
    expect(await ask("GET", "/api/projects", { host: own })).toMatchObject({ status: 200 });
    expect(await ask("GET", "/api/projects", { host: "evil.example:3400" })).toMatchObject({
      status: 403,
      text: expect.stringContaining("host.foreign"),
    });
    expect(await ask("POST", "/api/takes?name=x.mid", { host: own, origin: "http://evil.example" }, "x")).toMatchObject(
      { status: 403 },
    );
    expect(await ask("POST", "/api/takes?name=x.mid", { host: own }, "x")).toMatchObject({ status: 403 });
    expect(await ask("POST", "/api/takes?name=x.mid", { host: own, origin: `http://${own}` }, "x")).toMatchObject({
      status: 422,
      text: expect.stringContaining("file.notMidi"),
    });
  });

  it("refuses an upload by its declared size, before reading it", async () => {
    const own = new URL(baseUrl()).host;
    const answer = await ask(
      "POST",
      "/api/takes?name=x.mid",
      { host: own, origin: `http://${own}`, "content-length": "17000000" },
      "x".repeat(17_000_000),
    );
    expect(answer).toMatchObject({ status: 413, text: expect.stringContaining("16 MiB") });
  });

  it("sends a content security policy without eval", async () => {
    const policy = (await fetch(baseUrl())).headers.get("content-security-policy") ?? "";
    expect(policy).toContain("script-src 'self' 'nonce-");
    expect(policy).not.toContain("unsafe-eval");
    expect(policy).toContain("object-src 'none'");
  });

  it("loses nothing that it has acknowledged when it is killed", async () => {
    const dataFolder = mkdtempSync(join(tmpdir(), "marten-kill-"));
    let server = await startServer({ dataFolder, port: 3500 });
    const { value: cards }: { value: ProjectCard[] } = await (await fetch(`${server.url}/api/projects`)).json();
    const { id } = cards[0]!;
    const open = () => new Client(server).open(id);
    let { pattern } = await open();
    let acknowledged = 0;
    let isKilled = false;
    const kill = () => {
      isKilled = true;
      // The whole group at once, as a crash of the machine's user session would.
      process.kill(-server.process.pid!, "SIGKILL");
    };
    for (let turn = 0; turn < 2000 && !isKilled; turn++) {
      const edit = changeVelocityBy([pattern.hits[turn % pattern.hits.length]!], turn % 2 === 0 ? 1 : -1);
      const entries = [{ id: `turn ${turn}`, kind: "do", label: "Louder: velocity up", edit }];
      const headers = { origin: server.url, "content-type": "application/json" };
      try {
        const answer = await fetch(`${server.url}/api/projects/${id}/edits`, {
          method: "POST",
          headers,
          body: JSON.stringify({ baseRevision: acknowledged, entries }),
        });
        const { value } = await answer.json();
        acknowledged = value.revision;
        pattern = applyEdit(pattern, edit);
        // In the middle of whatever comes then; how many come in a while is up to the machine.
        if (acknowledged === 20) setTimeout(kill, 40);
      } catch (error) {
        if (!isKilled) throw error;
      }
    }
    expect(acknowledged).toBeGreaterThan(10);
    server = await startServer({ dataFolder, port: 3500 });
    const after = await open();
    // The one edit that was on its way may have been written without its answer getting out.
    expect(after.revision - acknowledged).toBeLessThanOrEqual(1);
    expect(after.revision).toBeGreaterThanOrEqual(acknowledged);
    if (after.revision === acknowledged) expect(after.pattern).toEqual(pattern);
    const log = (await (await fetch(`${server.url}/api/projects/${id}/log`)).json()).value;
    expect(log).toHaveLength(after.revision);
    await server.stop();
  });

  it("may go away for a while: the page says that it is not saving, keeps on, and catches up", async () => {
    const dataFolder = mkdtempSync(join(tmpdir(), "marten-away-"));
    let server = await startServer({ dataFolder, port: 3550 });
    const page = await pages.open();
    await page.goto(server.url);
    await openProject(page, "Kettle Row");
    await page.getByText("sixteenths").first().waitFor();
    process.kill(-server.process.pid!, "SIGKILL");
    await page.keyboard.press("t");
    await page.getByRole("alert").getByText("Not saving.").waitFor();
    await page.keyboard.press("Control+a");
    await page.keyboard.press("ArrowUp");
    await page.getByRole("complementary", { name: "Lane card" }).getByText(/^now /).waitFor();
    server = await startServer({ dataFolder, port: 3550 });
    await page.getByText("Saved", { exact: true }).waitFor();
    const { value: cards }: { value: ProjectCard[] } = await (await fetch(`${server.url}/api/projects`)).json();
    const kettleRow = cards.find((card) => card.name === "Kettle Row")!;
    expect(kettleRow.treatedVoiceCount).toBe(1);
    const project = await new Client(server).open(kettleRow.id);
    expect(project.revision).toBe(2);
    expect(project.pattern.hits.filter((hit) => hit.voiceId === "snare" && hit.pinnedVelocity !== null)).toHaveLength(
      130,
    );
    await page.close();
    await server.stop();
  });

  it("may be away while the lanes are opened: they are painted when it is back", async () => {
    const page = await pages.open();
    let refused = 0;
    // What the scripts of workers ask for when they have come themselves.
    const imported = /turbopack-(?!worker)/;
    await page.route(imported, (route) => {
      refused++;
      return route.abort();
    });
    await page.getByRole("link", { name: "Kettle Row", exact: true }).first().click();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await expect.poll(() => refused).toBeGreaterThan(3);
    await expect.poll(() => painted(page)).toBeNull();
    await page.unroute(imported);
    await expect.poll(async () => (await painted(page))?.fins).toMatch(/^crash|^ride|hihat|snare/);
    await page.getByText("sixteenths").first().waitFor();
  });

  it("may answer what no page can show: the page says that it failed, and tries again", async () => {
    // A browser of its own, since here an error on the page is meant.
    const browser = await launch();
    const page = await browser.newPage();
    const project = /\/api\/projects\/[^/]+$/;
    await page.route(project, async (route) => {
      const answer = await (await route.fetch()).json();
      await route.fulfill({ json: { ...answer, value: { ...answer.value, name: { is: "no text" } } } });
    });
    await page.goto(baseUrl());
    await page.getByRole("link", { name: "Kettle Row", exact: true }).first().click();
    await page.getByRole("heading", { name: "This page tripped over something" }).waitFor();
    await page.unroute(project);
    await page.getByRole("button", { name: "Try again" }).click();
    await page.getByRole("main", { name: "Lanes" }).waitFor();
    await browser.close();
  });

  it("may be away when a sheet is wanted: that is said, the Bench goes on, and the sheet comes when it is back", async () => {
    const page = await pages.open();
    // Parts that come later are fetched when they are asked for, and here not before.
    await page.addInitScript(() => {
      const plan = window.setTimeout.bind(window);
      window.setTimeout = ((act: TimerHandler, ms?: number, ...rest: unknown[]) =>
        ms === 2500 ? 0 : plan(act, ms, ...rest)) as typeof window.setTimeout;
    });
    await page.reload();
    await openProject(page, "Ferry Lights");
    await page.route("**/_next/static/**", (route) => route.abort());
    await page.getByRole("button", { name: "Export", exact: true }).click();
    await page.getByRole("alert").getByText("could not be fetched: the server does not answer").waitFor();
    await page.keyboard.press("t");
    await page.getByText("Saved", { exact: true }).waitFor();
    await page.unroute("**/_next/static/**");
    await page.getByRole("button", { name: "Try again" }).click();
    await page.getByRole("dialog", { name: "Export" }).waitFor();
    await page.keyboard.press("Escape");
    await page.keyboard.press("Control+z");
  });

  it("may be slow with fonts: the words of the lanes are in their face all the same", async () => {
    const rulerOf = async (delayMs: number | null) => {
      const page = await pages.open();
      if (delayMs !== null) {
        await page.route(/\.woff2$/, async (route) => {
          await new Promise((resolve) => setTimeout(resolve, delayMs));
          await route.continue();
        });
      }
      await openProject(page, "Kettle Row");
      await paintedFins(page);
      const { x, y } = (await page.getByRole("img", { name: /^Bars and beats/ }).boundingBox())!;
      return async () => (await page.screenshot({ clip: { x, y, width: 600, height: 24 } })).toString("base64");
    };
    const atOnce = await (await rulerOf(null))();
    await expect.poll(await rulerOf(300)).toBe(atOnce);
  });

  it("finds another port when its own is taken, and stops cleanly", async () => {
    const blocker = createServer().listen(3600, "127.0.0.1");
    const server = await startServer({
      dataFolder: join(mkdtempSync(join(tmpdir(), "marten-port-")), "not", "there", "yet"),
      port: 3600,
    });
    expect(server.url).toBe("http://localhost:3601");
    expect((await fetch(server.url)).status).toBe(200);
    // A browser that is connected and asks for nothing must not keep it.
    const silent = connect(3601, "127.0.0.1").on("error", () => {});
    await once(silent, "connect");
    expect(await server.stop()).toBe(0);
    await expect(fetch(server.url)).rejects.toThrow();
    expect(execSync("pgrep -fc 'start -H 127.0.0.1 -p 3601' || true").toString().trim()).toMatch(/^[01]$/);
    blocker.close();
  });
});
