import { useEffect, useRef, useState } from "react";
import { useBench } from "./bench-context.ts";
import type { BenchState } from "./bench-store.ts";

const SETTLE_MS = 80;

/**
 * Reads something of the state that costs too much for every frame of a drag: at once when it is first asked for, and then
 * shortly after the last change.
 */
export function useSettled<Value>(
  read: (state: BenchState) => Value,
  parts: (state: BenchState) => readonly unknown[],
  settleMs = SETTLE_MS,
): Value {
  const { store } = useBench();
  const latest = useRef(read);
  latest.current = read;
  const [value, setValue] = useState(() => read(store.getState()));
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let before = parts(store.getState());
    const unsubscribe = store.subscribe((state) => {
      const after = parts(state);
      if (after.every((part, index) => part === before[index])) return;
      before = after;
      // Not put off by each change: a long drag should still say where it is now and then.
      timer ??= setTimeout(() => {
        timer = undefined;
        setValue(latest.current(store.getState()));
      }, settleMs);
    });
    return () => {
      clearTimeout(timer);
      unsubscribe();
    };
  }, [store]);
  return value;
}
