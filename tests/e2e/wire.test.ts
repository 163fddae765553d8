import { mkdtempSync, readFileSync } from "node:fs";
import { request } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import type { ProjectCard } from "../../src/api/wire.ts";
import { baseUrl } from "./own-server.ts";
import { startServer } from "./server.ts";

// What comes over the wire, from whoever it comes: each request has a form and a limit, and none keeps the others waiting.

interface Reply {
  readonly status: number;
  readonly text: string;
  readonly headers: Readonly<Record<string, string | string[] | undefined>>;
}

/** A request as no browser would send it. */
function ask(
  method: string,
  path: string,
  {
    headers = {},
    body = "",
    base = baseUrl(),
  }: { headers?: Record<string, string>; body?: string | Buffer; base?: string } = {},
): Promise<Reply> {
  const { hostname, port, host } = new URL(base);
  return new Promise((resolve, reject) => {
    const sent = request(
      {
        hostname,
        port,
        path,
        method,
        headers: { host, origin: `http://${host}`, "content-type": "application/json", ...headers },
      },
      (answer) => {
        let text = "";
        answer.on("data", (chunk) => (text += chunk));
        answer.on("end", () => resolve({ status: answer.statusCode ?? 0, text, headers: answer.headers }));
      },
    );
    // A server that has said no may stop listening before all is sent.
    sent.once("error", (error: NodeJS.ErrnoException) =>
      error.code === "EPIPE" || error.code === "ECONNRESET"
        ? resolve({ status: 0, text: "", headers: {} })
        : reject(error),
    );
    sent.end(body);
  });
}

const cards = async (): Promise<readonly ProjectCard[]> => JSON.parse((await ask("GET", "/api/projects")).text).value;
const kettleRow = async () => (await cards()).find(({ name }) => name === "Kettle Row")!.id;
const kettle = readFileSync("demo/kettle-row.mid");

describe("a request", () => {
  it("has a limit of its own: a name is no book", async () => {
    const id = await kettleRow();
    const name = JSON.stringify({ name: "x".repeat(5000) });
    expect(await ask("PATCH", `/api/projects/${id}`, { body: name })).toMatchObject({ status: 413 });
    expect(await ask("POST", "/api/recipes", { body: `{"a":"${"x".repeat(20_000)}"}` })).toMatchObject({ status: 413 });
  });

  it("says what it is, and is what it says", async () => {
    const id = await kettleRow();
    const path = `/api/projects/${id}/edits`;
    expect(await ask("POST", path, { headers: { "content-type": "text/plain" }, body: "{}" })).toMatchObject({
      status: 415,
    });
    expect(await ask("POST", path, { body: "{oh" })).toMatchObject({
      status: 400,
      text: expect.stringContaining("not JSON"),
    });
    expect(await ask("POST", path, { body: "[".repeat(100) })).toMatchObject({
      status: 400,
      text: expect.stringContaining("nested deeper"),
    });
    expect(await ask("POST", path, { body: Buffer.from([0x7b, 0x22, 0xff, 0x22, 0x3a, 0x31, 0x7d]) })).toMatchObject({
      status: 400,
    });
  });

  it("of sixty megabytes of brackets keeps nobody waiting", async () => {
    const id = await kettleRow();
    const deep = ask("POST", `/api/projects/${id}/edits`, { body: "[".repeat(60_000_000) });
    const wide = ask("POST", `/api/projects/${id}/edits`, { body: `[${"[],".repeat(20_000_000)}[]]` });
    const others: number[] = [];
    let isDone = false;
    const asking = (async () => {
      while (!isDone) {
        others.push((await ask("GET", "/api/recipes")).status);
      }
    })();
    const [first, second] = await Promise.all([deep, wide]);
    isDone = true;
    await asking;
    expect([400, 0]).toContain(first.status);
    expect([400, 0]).toContain(second.status);
    expect(others.length).toBeGreaterThan(3);
    expect(new Set(others)).toEqual(new Set([200]));
  });

  it("names what there is: an odd method, a broken escape, an unknown drum or a name of no line changes nothing", async () => {
    const id = await kettleRow();
    const before = await cards();
    for (const [method, path] of [
      ["PUT", "/api/projects"],
      ["DELETE", `/api/projects/${id}/edits`],
      ["PROPFIND", "/api/projects"],
      ["GET", "/api/projects/%E0%A4%A"],
      ["GET", "/bench/%ZZ"],
      ["POST", "/api/nothing"],
    ] as const) {
      const { status } = await ask(method, path);
      expect([`${method} ${path}`, status >= 400 && status < 500]).toEqual([`${method} ${path}`, true]);
    }
    const part = JSON.stringify({ voiceId: "no such drum", articulationId: null });
    expect(await ask("POST", `/api/projects/${id}/parts`, { body: part })).toMatchObject({
      status: 404,
      text: expect.stringContaining("part.missing"),
    });
    for (const name of ["", "   ", "two\nlines", "\u202Etxet", "half \ud800", "bell\u0007"]) {
      expect(await ask("PATCH", `/api/projects/${id}`, { body: JSON.stringify({ name }) })).toMatchObject({
        status: 400,
      });
    }
    await expect.poll(() => cards()).toEqual(before);
  });

  it("that brings a name in a file gets one line of it", async () => {
    const answer = await ask("POST", `/api/takes?name=${encodeURIComponent("A\nB\u202E\u0000C.mid")}`, {
      body: kettle,
    });
    expect(JSON.parse(answer.text).value.name).toBe("A B C");
  });

  it("with a hit beyond any take is refused", async () => {
    const id = await kettleRow();
    const edit = { kind: "moveHits", moves: [{ hitId: "1:2", fromTick: null, toTick: 2 ** 53 - 2 }] };
    const body = JSON.stringify({ baseRevision: 0, entries: [{ id: "far", kind: "do", label: "Far", edit }] });
    expect(await ask("POST", `/api/projects/${id}/edits`, { body })).toMatchObject({
      status: 400,
      text: expect.stringContaining("toTick"),
    });
  });
});

describe("an answer", () => {
  it("lies in no cache and is for no other page", async () => {
    for (const path of ["/api/projects", `/api/projects/${await kettleRow()}/take`, "/api/nothing-here"]) {
      const { headers } = await ask("GET", path);
      expect([path, headers["cross-origin-resource-policy"]]).toEqual([path, "same-origin"]);
      if (!path.includes("nothing")) expect([path, headers["cache-control"]]).toEqual([path, "no-store"]);
    }
  });
});

describe("many at once", () => {
  it("wait in their order: fifty imports all get in, and one that is given up does not", async () => {
    const before = (await cards()).length;
    const leaving = new AbortController();
    const given = fetch(`${baseUrl()}/api/takes?name=Given%20up.mid&ticket=given`, {
      method: "POST",
      body: new Uint8Array(kettle),
      headers: { origin: baseUrl() },
      signal: leaving.signal,
    }).catch(() => "gone");
    const all = Array.from({ length: 50 }, (_, index) =>
      ask("POST", `/api/takes?name=${index}%20of%20fifty.mid&ticket=t${index}`, { body: kettle }),
    );
    const ahead = JSON.parse((await ask("GET", "/api/tasks/t49")).text).value;
    leaving.abort();
    expect(await given).toBe("gone");
    expect(["waiting", "running", "unknown"]).toContain(ahead.kind);
    for (const { status, text } of await Promise.all(all))
      expect([status, text.slice(0, 11)]).toEqual([200, '{"ok":true,']);
    const names = (await cards()).map(({ name }) => name);
    expect(names.filter((name) => name.endsWith("of fifty"))).toHaveLength(50);
    expect(names.length - before).toBeLessThanOrEqual(51);
  });
});

describe("a token", () => {
  it("keeps out whoever shares the machine and does not have it", async () => {
    process.env.MARTEN_TOKEN = "open sesame & more";
    const server = await startServer({ dataFolder: mkdtempSync(join(tmpdir(), "marten-token-")), port: 3900 });
    delete process.env.MARTEN_TOKEN;
    const address = new URL(server.url);
    const base = address.origin;
    expect(await ask("GET", "/api/projects", { base })).toMatchObject({ status: 401 });
    expect(await ask("GET", "/", { base })).toMatchObject({ status: 401 });
    expect(await ask("GET", "/?token=guess", { base })).toMatchObject({ status: 401 });
    expect(await ask("GET", "/api/projects", { base, headers: { cookie: "marten-token=guess" } })).toMatchObject({
      status: 401,
    });
    const entrance = await ask("GET", address.pathname + address.search, { base });
    expect(entrance.status).toBe(307);
    const cookie = String(entrance.headers["set-cookie"]).split(";")[0]!;
    expect(String(entrance.headers["set-cookie"])).toMatch(/HttpOnly/i);
    expect(await ask("GET", "/api/projects", { base, headers: { cookie } })).toMatchObject({ status: 200 });
    await server.stop();
  });
});
