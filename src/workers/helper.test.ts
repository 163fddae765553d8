import { expose } from "comlink";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Helper } from "./index.ts";

/** A worker whose script loads or does not; its functions run over a real message channel. */
class FakeWorker extends EventTarget {
  readonly #channel = new MessageChannel();
  isTerminated = false;

  constructor(isLoaded: boolean) {
    super();
    if (isLoaded) expose({ double: (value: number) => value * 2 }, this.#channel.port2);
    else queueMicrotask(() => this.dispatchEvent(new Event("error", { cancelable: true })));
    this.#channel.port1.start();
    this.#channel.port1.addEventListener("message", ({ data }) =>
      this.dispatchEvent(Object.assign(new Event("message"), { data })),
    );
  }
  postMessage(data: unknown): void {
    this.#channel.port1.postMessage(data);
  }
  terminate(): void {
    this.isTerminated = true;
    this.#channel.port1.close();
    this.#channel.port2.close();
  }
}

interface Functions {
  double(value: number): number;
}

describe("a helper", () => {
  const started: FakeWorker[] = [];
  const helperOf = (loads: readonly boolean[]) =>
    new Helper<Functions>(() => {
      const worker = new FakeWorker(loads[started.length] ?? true);
      started.push(worker);
      return worker as unknown as Worker;
    });
  beforeEach(() => {
    started.length = 0;
    vi.useFakeTimers({ toFake: ["setTimeout"] });
  });
  afterEach(() => {
    vi.useRealTimers();
    for (const worker of started) worker.terminate();
  });

  it("starts nothing before it is asked, and one worker for all questions", async () => {
    const helper = helperOf([true]);
    expect(started).toHaveLength(0);
    expect(await helper.run((call) => call.double(4))).toBe(8);
    expect(await helper.run((call) => call.double(5))).toBe(10);
    expect(started).toHaveLength(1);
  });

  it("tries again until its script loads, and then answers what was asked", async () => {
    const helper = helperOf([false, false, true]);
    const answer = helper.run((call) => call.double(21));
    await vi.advanceTimersByTimeAsync(600);
    expect(started.map((worker) => worker.isTerminated)).toEqual([true, true]);
    await vi.advanceTimersByTimeAsync(1000);
    expect(await answer).toBe(42);
    expect(started).toHaveLength(3);
  });

  it("is stopped by its end", async () => {
    const helper = helperOf([true]);
    await helper.run((call) => call.double(1));
    helper.end();
    expect(started[0]!.isTerminated).toBe(true);
  });
});
