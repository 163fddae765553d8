import { readFileSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import type { OpenProject, PackedProject, ProjectCard } from "../../src/api/wire.ts";
import { changeVelocityBy } from "../../src/core/commands/index.ts";
import { unpackPattern } from "../../src/core/document/index.ts";
import { type RunningServer, startServer } from "./server.ts";

const kettle = readFileSync("demo/kettle-row.mid");

/** A project as the server answers with it. */
export const unpacked = (project: PackedProject): OpenProject => ({
  ...project,
  pattern: unpackPattern(project.pattern),
});

/** Who asks a server without a page. */
export class Client {
  readonly #url: string;
  constructor({ url }: RunningServer) {
    this.#url = url;
  }
  async ask<Value>(path: string, init: RequestInit = {}): Promise<Value> {
    const answer = await fetch(this.#url + path, { ...init, headers: { origin: this.#url, ...init.headers } });
    const { ok, value, problem } = await answer.json();
    if (!ok) throw new Error(`${path}: ${problem.code} ${problem.message}`);
    return value;
  }
  post<Value>(path: string, body: unknown, method = "POST"): Promise<Value> {
    return this.ask(path, { method, body: JSON.stringify(body), headers: { "content-type": "application/json" } });
  }
  async open(id: string): Promise<OpenProject> {
    return unpacked(await this.ask<PackedProject>(`/api/projects/${id}`));
  }
  async bytes(path: string): Promise<Uint8Array> {
    const answer = await fetch(this.#url + path);
    if (!answer.ok) throw new Error(`${path}: ${answer.status}`);
    return new Uint8Array(await answer.arrayBuffer());
  }
  import(name: string): Promise<{ id: string }> {
    return this.ask(`/api/takes?name=${name}`, { method: "POST", body: new Uint8Array(kettle) });
  }
  cards(): Promise<readonly ProjectCard[]> {
    return this.ask("/api/projects");
  }
}

/** A data folder whose *Kettle Row* has a hundred thousand edits, as if somebody had made them one by one. Gives the project. */
export async function writeLongLog(folder: string, port: number): Promise<string> {
  const first = await startServer({ dataFolder: folder, port });
  const { id } = (await new Client(first).cards()).find(({ name }) => name === "Kettle Row")!;
  const { pattern } = await new Client(first).open(id);
  await first.stop();
  const db = new Database(join(folder, "marten.sqlite"));
  const [hit] = pattern.hits;
  const up = changeVelocityBy([hit!], 1);
  const louder = { ...hit!, pinnedVelocity: hit!.recordedVelocity! + 1 };
  const down = {
    kind: "setVelocity",
    changes: [{ hitId: hit!.id, fromVelocity: louder.pinnedVelocity, toVelocity: null }],
  };
  const insert = db.prepare(
    "INSERT INTO edits (project_id, revision, entry_id, kind, label, edit, made_at) VALUES (?, ?, ?, 'do', ?, ?, '2026-11-27T00:00:00Z')",
  );
  db.transaction(() => {
    for (let turn = 1; turn <= 100_000; turn++) {
      insert.run(id, turn, `edit ${turn}`, `Step ${turn}`, JSON.stringify(turn % 2 === 1 ? up : down));
    }
    db.prepare("UPDATE patterns SET revision = 100000 WHERE project_id = ?").run(id);
  })();
  db.close();
  return id;
}
