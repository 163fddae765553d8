import { execSync } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Database from "better-sqlite3";
import { gunzipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { changeVelocityBy } from "../../src/core/commands/index.ts";
import { applyEdit, type LogEntry } from "../../src/core/document/index.ts";
import { usePages } from "./browser.ts";
import { Client, writeLongLog } from "./client.ts";
import { type RunningServer, startServer } from "./server.ts";

// What was acknowledged is there after any end, and a long day makes nothing grow.

const PORT = 3650;

/** The whole group at once, as a crash of the machine's user session would. */
const kill = (server: RunningServer) => process.kill(-server.process.pid!, "SIGKILL");
const isWhole = (path: string) => {
  const db = new Database(path, { readonly: true });
  const [found] = db.pragma("integrity_check") as { integrity_check: string }[];
  db.close();
  return found?.integrity_check === "ok";
};

describe("a server that is killed", () => {
  it("in the midst of edits, imports, exports and backups has lost nothing that it acknowledged, and doubled nothing", async () => {
    const folder = mkdtempSync(join(tmpdir(), "marten-killed-"));
    const acknowledged = { edits: 0, imports: [] as string[], backups: [] as string[] };
    let id = "";
    for (let round = 0; round < 4; round++) {
      const server = await startServer({ dataFolder: folder, port: PORT });
      const client = new Client(server);
      if (!id) id = (await client.cards()).find(({ name }) => name === "Kettle Row")!.id;
      let { pattern, revision } = await client.open(id);
      expect(revision).toBeGreaterThanOrEqual(acknowledged.edits);
      // The one that was on its way may have been written without its answer getting out.
      expect(revision - acknowledged.edits).toBeLessThanOrEqual(1);
      acknowledged.edits = revision;
      const names = (await client.cards()).map(({ name }) => name);
      for (const name of acknowledged.imports) expect(names.filter((one) => one === name)).toEqual([name]);
      const log = await client.ask<readonly LogEntry[]>(`/api/projects/${id}/log`);
      expect(new Set(log.map((entry) => entry.id)).size).toBe(revision);
      let isKilled = false;
      const until = async (act: (turn: number) => Promise<void>) => {
        for (let turn = 0; !isKilled; turn++) {
          try {
            await act(turn);
          } catch (error) {
            if (!isKilled) throw error;
          }
        }
      };
      const all = [
        until(async (turn) => {
          const edit = changeVelocityBy([pattern.hits[turn % pattern.hits.length]!], turn % 2 === 0 ? 1 : -1);
          const entry: LogEntry = { id: `${round} ${turn}`, kind: "do", label: "Louder: velocity up", edit };
          const saved = await client.post<{ revision: number }>(`/api/projects/${id}/edits`, {
            baseRevision: revision,
            entries: [entry],
          });
          revision = saved.revision;
          acknowledged.edits = revision;
          pattern = applyEdit(pattern, edit);
        }),
        until(async (turn) => {
          const name = `Import ${round} ${turn}`;
          await client.import(`${name}.mid`);
          acknowledged.imports.push(name);
        }),
        until(async () => {
          expect((await client.bytes(`/api/projects/${id}/export?layout=perVoice`)).length).toBeGreaterThan(1000);
        }),
        until(async () => {
          acknowledged.backups.push(await client.ask<string>("/api/storage/backups", { method: "POST" }));
        }),
      ];
      // Once there was something of each.
      const enough = () =>
        acknowledged.edits > 20 * (round + 1) &&
        acknowledged.imports.length > round &&
        acknowledged.backups.length > round;
      await expect.poll(enough, { timeout: 300_000 }).toBe(true);
      isKilled = true;
      kill(server);
      await Promise.all(all);
    }
    const inside = join(folder, "backups");
    for (const name of readdirSync(inside)) {
      if (name.endsWith(".sqlite")) expect([name, isWhole(join(inside, name))]).toEqual([name, true]);
    }
    for (const name of acknowledged.backups) expect(readdirSync(inside)).toContain(name);
    const last = await startServer({ dataFolder: folder, port: PORT });
    await last.stop();
    expect(isWhole(join(folder, "marten.sqlite"))).toBe(true);
  });

  it("while it brings the data of an older version up to date has changed nothing or all of it", async () => {
    const landed = gunzipSync(readFileSync("tests/fixtures/first-landed/marten.sqlite.gz"));
    const expected = JSON.parse(readFileSync("tests/fixtures/first-landed/expected.json", "utf8"));
    const folder = mkdtempSync(join(tmpdir(), "marten-migrated-"));
    writeFileSync(join(folder, "marten.sqlite"), landed);
    for (const afterMs of [60, 110, 160, 220, 300]) {
      try {
        execSync(`timeout -s KILL ${afterMs / 1000} ${process.execPath} build/prepare.mjs`, {
          env: { ...process.env, MARTEN_DATA: folder },
          stdio: "ignore",
        });
      } catch {
        // It was killed, as is meant.
      }
    }
    const server = await startServer({ dataFolder: folder, port: PORT });
    const client = new Client(server);
    for (const [id, then] of Object.entries<{ name: string; revision: number }>(expected.projects)) {
      expect(await client.open(id)).toMatchObject({
        name: then.name,
        revision: then.revision,
      });
    }
    await server.stop();
    expect(isWhole(join(folder, "marten.sqlite"))).toBe(true);
  });
});

describe("a hundred thousand edits", () => {
  const pages = usePages();

  it("open with the project, and the list of them shows those in view", async () => {
    const folder = mkdtempSync(join(tmpdir(), "marten-long-"));
    const id = await writeLongLog(folder, PORT);
    const server = await startServer({ dataFolder: folder, port: PORT });
    const page = await pages.open();
    await page.goto(`${server.url}/bench/${id}`);
    await page.getByRole("button", { name: "Undo", disabled: false }).waitFor();
    await page.getByRole("button", { name: "What was done" }).click();
    const steps = page.getByRole("list", { name: "Steps" });
    await steps.getByRole("button", { name: /^Step 100000/ }).waitFor();
    await expect.poll(() => steps.getByRole("listitem").count()).toBeLessThan(80);
    // Back to the third step from the end, and on again.
    await steps.getByRole("button", { name: /^Step 99998/ }).click();
    await steps.getByRole("button", { name: /^Step 99998.* undone/ }).waitFor();
    await steps.getByRole("button", { name: /^Step 100000.* undone/ }).click();
    await page.getByText("Saved", { exact: true }).waitFor();
    await expect.poll(async () => (await new Client(server).open(id)).revision).toBe(100_006);
    await server.stop();
  });
});

describe("five thousand requests", () => {
  it("of every sort leave the memory of the server where it was after the first thousands", async () => {
    const folder = mkdtempSync(join(tmpdir(), "marten-soak-"));
    const server = await startServer({ dataFolder: folder, port: PORT });
    const client = new Client(server);
    const [{ id } = { id: "" }] = await client.cards();
    let { pattern, revision } = await client.open(id);
    const megabytes = () => {
      // The one process that the starter has started.
      const pid = execSync(`pgrep -P ${server.process.pid}`).toString().trim().split("\n")[0];
      const [, kilobytes = "0"] = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8")) ?? [];
      return Number(kilobytes) / 1024;
    };
    const sorts: ((turn: number) => Promise<unknown>)[] = [
      () => client.cards(),
      () => client.ask(`/api/projects/${id}`),
      async (turn) => {
        const edit = changeVelocityBy([pattern.hits[turn % pattern.hits.length]!], turn % 2 === 0 ? 1 : -1);
        const entries = [{ id: `soak ${turn}`, kind: "do", label: "Louder: velocity up", edit }];
        const saved = await client.post<{ revision: number }>(`/api/projects/${id}/edits`, {
          baseRevision: revision,
          entries,
        });
        revision = saved.revision;
        pattern = applyEdit(pattern, edit);
      },
      () => client.ask(`/api/projects/${id}/log?after=${Math.max(0, revision - 10)}`),
      () => client.ask("/api/recipes"),
      () => client.ask("/api/grooves"),
      () => client.ask("/api/maps"),
      (turn) => client.post(`/api/projects/${id}`, { name: `Soaked ${turn}` }, "PATCH"),
      () => client.bytes(`/api/projects/${id}/take`),
      () => client.ask("/api/storage"),
      (turn) => client.post("/api/recipes", { name: "", turn }).catch(() => "refused, as it should be"),
    ];
    const sizes: number[] = [];
    for (let turn = 0; turn < 5000; turn++) {
      await sorts[turn % sorts.length]!(turn);
      // Files are read and written in processes of their own: fewer of those will do.
      if (turn % 250 === 0) await client.bytes(`/api/projects/${id}/export`);
      if (turn % 500 === 499) sizes.push(megabytes());
    }
    expect(revision).toBe(Math.ceil((5000 - 2) / sorts.length));
    const warm = Math.max(...sizes.slice(2, 5));
    const late = Math.min(...sizes.slice(7));
    // A heap swings by a third between two collections; twenty thousand requests have stayed within this.
    expect(late, `MB by turns: ${sizes.map(Math.round).join(", ")}`).toBeLessThan(warm * 1.6);
    await server.stop();
    // The journal is not left to grow either.
    expect(readdirSync(folder).filter((name) => name.endsWith("-wal"))).toEqual([]);
  });
});
