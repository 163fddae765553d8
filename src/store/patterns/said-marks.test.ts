import { beforeEach, describe, expect, it, vi } from "vitest";
import type { PatternMark } from "../../core/pattern/index.ts";
import { ServerProblem } from "../server-api.ts";
import { sendMarks, unsentMarks, withSaid } from "./said-marks.ts";

const markOf = (played: string, ...tags: string[]): PatternMark => ({ played, name: "", tags, isFavourite: false });
const problem = { code: "x", message: "No.", remedy: "" };

let stored: Map<string, string>;
let hasRoom: boolean;
/** What arrived, in order, and how the next requests are answered: with a status, or not at all. */
let arrived: PatternMark[];
let answers: (number | "nothing")[];
/** Called before each answer. */
let meanwhile: () => void;

beforeEach(() => {
  stored = new Map();
  hasRoom = true;
  arrived = [];
  answers = [];
  meanwhile = () => {};
  vi.stubGlobal("localStorage", {
    getItem: (key: string) => stored.get(key) ?? null,
    setItem: (key: string, value: string) => {
      if (!hasRoom) throw new DOMException("full", "QuotaExceededError");
      stored.set(key, value);
    },
    removeItem: (key: string) => stored.delete(key),
    key: (at: number) => [...stored.keys()][at] ?? null,
    get length() {
      return stored.size;
    },
  });
  vi.stubGlobal("fetch", async (_path: string, init: RequestInit) => {
    const answer = answers.shift() ?? 200;
    if (answer === "nothing") throw new TypeError("refused");
    const mark = JSON.parse(String(init.body)) as PatternMark;
    meanwhile();
    if (answer === 200) arrived.push(mark);
    const body = answer === 200 ? { ok: true, value: mark } : { ok: false, problem };
    return new Response(JSON.stringify(body), { status: answer });
  });
});

describe("what is said of a pattern", () => {
  it("arrives in the order in which it was said, and is forgotten here", async () => {
    await Promise.all([sendMarks(markOf("a", "one")), sendMarks(markOf("b")), sendMarks(markOf("a", "one", "two"))]);
    expect(arrived.filter(({ played }) => played === "a").at(-1)!.tags).toEqual(["one", "two"]);
    expect(arrived.map(({ played }) => played)).toContain("b");
    expect(unsentMarks()).toEqual([]);
  });

  it("stays while nobody answers, and goes with what is sent next", async () => {
    answers = ["nothing"];
    await expect(sendMarks(markOf("a", "early"))).rejects.toBeInstanceOf(ServerProblem);
    expect(unsentMarks()).toEqual([markOf("a", "early")]);
    // As after a reload: nothing new is said.
    await sendMarks();
    expect(arrived).toEqual([markOf("a", "early")]);
    expect(unsentMarks()).toEqual([]);
  });

  it("stays on a passing fault, and goes for good when it is refused", async () => {
    answers = [500];
    await expect(sendMarks(markOf("a", "kept"))).rejects.toBeInstanceOf(ServerProblem);
    expect(unsentMarks()).toHaveLength(1);
    answers = [400];
    await expect(sendMarks()).rejects.toBeInstanceOf(ServerProblem);
    expect(unsentMarks()).toEqual([]);
  });

  it("is not taken for sent when another word was said of it meanwhile, also where the first was refused", async () => {
    for (const first of [200, 400]) {
      answers = [first];
      meanwhile = () => {
        meanwhile = () => {};
        void sendMarks(markOf("a", "later"));
      };
      await sendMarks(markOf("a", "sooner")).catch((error: unknown) => expect(error).toBeInstanceOf(ServerProblem));
      await sendMarks();
      expect(arrived.at(-1)).toEqual(markOf("a", "later"));
      expect(unsentMarks()).toEqual([]);
      arrived = [];
    }
  });

  it("arrives where the browser has no room, and whatever else the browser keeps there", async () => {
    stored.set("marten.said.b", "{ no JSON");
    stored.set("marten.said.c", JSON.stringify({ played: "c", tags: 7 }));
    hasRoom = false;
    await sendMarks(markOf("a", "one"));
    expect(arrived).toEqual([markOf("a", "one")]);
    expect(unsentMarks()).toEqual([]);
  });

  it("keeps no other from going where it is not taken", async () => {
    answers = ["nothing", "nothing"];
    await expect(sendMarks(markOf("a"))).rejects.toBeInstanceOf(ServerProblem);
    await expect(sendMarks(markOf("a", "first"))).rejects.toBeInstanceOf(ServerProblem);
    answers = [500];
    await expect(sendMarks(markOf("b"))).rejects.toBeInstanceOf(ServerProblem);
    expect(arrived).toEqual([markOf("b")]);
    expect(unsentMarks()).toEqual([markOf("a", "first")]);
  });

  it("is refused by the server, and not passed over, where it is too long to be kept", async () => {
    answers = [400];
    const long = { ...markOf("a"), name: "x".repeat(5000) };
    await expect(sendMarks(long)).rejects.toBeInstanceOf(ServerProblem);
    expect(answers).toEqual([]);
    expect(stored.size).toBe(0);
  });

  it("takes the place of what the list has of the same pattern, and nothing stays of a blank one", () => {
    const list = [markOf("a", "old"), markOf("b", "old")];
    expect(withSaid(list, [markOf("a", "new")])).toEqual([markOf("b", "old"), markOf("a", "new")]);
    expect(withSaid(list, [markOf("b")])).toEqual([markOf("a", "old")]);
    expect(withSaid(list, [])).toEqual(list);
  });
});
