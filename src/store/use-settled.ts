import { useEffect, useRef, useState } from "react";
import { useBench } from "./bench-context.ts";
import type { BenchState } from "./bench-state.ts";

const SETTLE_MS = 80;

/**
 * Reads something of the state that costs too much for every frame of a drag: at once when it is first asked for, and then
 * shortly after the last change.
 * @param parts what it depends on; null while it should stay as it was, after which it is read at once
 */
export function useSettled<Value>(
  read: (state: BenchState) => Value,
  parts: (state: BenchState) => readonly unknown[] | null,
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
      if (after === null || after.every((part, index) => part === before?.[index])) {
        if (after === null) before = null;
        return;
      }
      const isResumed = before === null;
      before = after;
      if (isResumed) {
        setValue(latest.current(state));
        return;
      }
      // Not put off by each change: a long drag should still say where it is now and then.
      timer ??= setTimeout(() => {
        timer = undefined;
        if (before !== null) setValue(latest.current(store.getState()));
      }, settleMs);
    });
    return () => {
      clearTimeout(timer);
      unsubscribe();
    };
  }, [store]);
  return value;
}
