import { describe, expect, it } from "vitest";
import { lazily, remembering } from "./remember.ts";

describe("what is remembered", () => {
  it("is made once for a key, and anew where something that it depends on is another", () => {
    const remember = remembering<object, number>();
    let count = 0;
    const make = () => ++count;
    const [key, other] = [{}, {}];
    expect([remember(key, [1, "a"], make), remember(key, [1, "a"], make)]).toEqual([1, 1]);
    expect(remember(other, [1, "a"], make)).toBe(2);
    expect(remember(key, [1, "b"], make)).toBe(3);
    // Only the last is kept, whatever it is.
    expect(remember(key, [1, "a"], make)).toBe(4);
    expect(remember(key, [1], make)).toBe(5);
    const nothing = remembering<object, undefined>();
    let asked = 0;
    for (let turn = 0; turn < 3; turn++) nothing(key, [], () => void asked++);
    expect(asked).toBe(1);
  });
});

describe("what takes a while", () => {
  it("is made when it is first asked for, and once, whatever it is", () => {
    let count = 0;
    const made = lazily(() => void count++);
    expect(count).toBe(0);
    expect([made(), made()]).toEqual([undefined, undefined]);
    expect(count).toBe(1);
  });
});
