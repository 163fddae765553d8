import { useEffect, useRef, useState } from "react";
import { shallow } from "zustand/shallow";
import { useBench } from "./bench-context.ts";
import type { BenchState } from "./bench-state.ts";

/** So often, at the most, it is read again: hardly a frame of a drag has more to do than to follow. */
const SETTLE_MS = 380;

interface Manner {
  readonly readsWhenStill?: boolean;
  readonly urgent?: (state: BenchState) => unknown;
}

/**
 * Reads something of the state that costs too much for every frame of a drag: at once when it changes, and while it goes on
 * changing now and then.
 * @param parts what it depends on; null while it should stay as it was, after which it is read at once
 * @param urgent what is acted on where it is shown: when that becomes another while nothing is dragged, it is read at once
 * @param readsWhenStill whether it is also read while `parts` is null, once nothing has changed for a moment: a preview may stand
 *   for minutes
 */
export function useSettled<Value>(
  read: (state: BenchState) => Value,
  parts: (state: BenchState) => readonly unknown[] | null,
  { readsWhenStill = false, urgent = () => null }: Manner = {},
): Value {
  const { store } = useBench();
  const latest = useRef(read);
  latest.current = read;
  const latestParts = useRef(parts);
  latestParts.current = parts;
  const latestUrgent = useRef(urgent);
  latestUrgent.current = urgent;
  const [value, setValue] = useState(() => read(store.getState()));
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let stillness: ReturnType<typeof setTimeout> | undefined;
    let before = latestParts.current(store.getState());
    let urgentBefore = latestUrgent.current(store.getState());
    let readMs = Number.NEGATIVE_INFINITY;
    const take = () => {
      const next = latest.current(store.getState());
      setValue((last) => (shallow(last, next) ? last : next));
    };
    const readNow = () => {
      clearTimeout(timer);
      timer = undefined;
      readMs = performance.now();
      take();
    };
    const readLater = () => {
      timer = undefined;
      if (before !== null) readNow();
    };
    const unsubscribe = store.subscribe((state) => {
      const after = latestParts.current(state);
      clearTimeout(stillness);
      if (after === null && readsWhenStill) stillness = setTimeout(take, SETTLE_MS);
      if (after === null || after.every((part, index) => part === before?.[index])) {
        if (after === null) before = null;
        return;
      }
      const isResumed = before === null;
      before = after;
      const urgentAfter = latestUrgent.current(state);
      const isUrgent = urgentAfter !== urgentBefore;
      urgentBefore = urgentAfter;
      const waitMs = readMs + SETTLE_MS - performance.now();
      if (isResumed || isUrgent || waitMs <= 0) readNow();
      // Not put off by each change: a long drag should still say where it is now and then.
      else timer ??= setTimeout(readLater, waitMs);
    });
    // What changed between the first reading and now.
    if (before !== null) take();
    return () => {
      clearTimeout(timer);
      clearTimeout(stillness);
      unsubscribe();
    };
  }, [store, readsWhenStill]);
  return value;
}
