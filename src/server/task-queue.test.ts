import { describe, expect, it } from "vitest";
import { TaskQueue } from "./task-queue.ts";

const doorOf = () => {
  let open = () => {};
  const passed = new Promise<void>((resolve) => {
    open = resolve;
  });
  return { passed, open };
};
const settled = () => new Promise((resolve) => setImmediate(resolve));

describe("a queue of tasks", () => {
  it("runs so many at a time, the others in their order, and says how many are ahead", async () => {
    const queue = new TaskQueue(2);
    const doors = Array.from({ length: 5 }, doorOf);
    const order: number[] = [];
    const runs = doors.map((door, index) =>
      queue.run({ ticket: `${index}` }, async (tell) => {
        order.push(index);
        tell(index, 5);
        await door.passed;
        return index;
      }),
    );
    await settled();
    expect(order).toEqual([0, 1]);
    expect(queue.stateOf("1")).toEqual({ kind: "running", done: 1, of: 5 });
    expect(queue.stateOf("2")).toEqual({ kind: "waiting", ahead: 2 });
    expect(queue.stateOf("4")).toEqual({ kind: "waiting", ahead: 4 });
    doors[1]!.open();
    await runs[1];
    await settled();
    expect(order).toEqual([0, 1, 2]);
    for (const door of doors) door.open();
    expect(await Promise.all(runs)).toEqual([0, 1, 2, 3, 4]);
    expect(queue.stateOf("4")).toEqual({ kind: "unknown" });
  });

  it("lets one that is given up go, and goes on after one that failed", async () => {
    const queue = new TaskQueue(1);
    const door = doorOf();
    const first = queue.run({ ticket: null }, async () => {
      await door.passed;
      throw new Error("broken");
    });
    const leaving = new AbortController();
    const second = queue.run({ ticket: "second", signal: leaving.signal }, async () => "second");
    const third = queue.run({ ticket: "third" }, async () => "third");
    leaving.abort();
    await expect(second).rejects.toMatchObject({ problem: { code: "task.givenUp" } });
    expect(queue.stateOf("third")).toEqual({ kind: "waiting", ahead: 1 });
    door.open();
    await expect(first).rejects.toThrow("broken");
    expect(await third).toBe("third");
    await expect(queue.run({ ticket: null, signal: leaving.signal }, async () => "late")).rejects.toThrow("cancelled");
  });

  it("never runs more than it may, however they come and go", async () => {
    const queue = new TaskQueue(3);
    let running = 0;
    let most = 0;
    const runs = Array.from({ length: 50 }, (_, index) =>
      queue.run({ ticket: null }, async () => {
        most = Math.max(most, ++running);
        for (let turn = 0; turn <= index % 4; turn++) await settled();
        running--;
      }),
    );
    await Promise.all(runs);
    expect(most).toBe(3);
  });
});
