import { createStore } from "zustand/vanilla";
import type { OpenProject } from "../../api/wire.ts";
import { barByIndex } from "../../core/time/index.ts";
import { playingActions, STILL } from "../playback/playing.ts";
import { documentActions, documentAtFirst } from "../project/document.ts";
import type { BenchState } from "./bench-state.ts";
import { keepView, restoreView } from "./kept-view.ts";
import { viewActions, viewAtFirst } from "./view.ts";

export type BenchStore = ReturnType<typeof createBenchStore>;

const KEEP_AFTER_MS = 300;

/** One open project: its document, what is heard, and how it is looked at, with the few things that are of more than one of them. */
export function createBenchStore(opened: OpenProject, newId: () => string) {
  const viewKey = `marten.view.${opened.id}`;
  const store = createStore<BenchState>(() => ({
    ...documentAtFirst(opened),
    ...STILL,
    ...viewAtFirst(opened.pattern),
    ...restoreView(viewKey, opened.pattern),
  }));
  const { getState: get, getInitialState, subscribe } = store;
  const set = (change: Partial<BenchState>) => store.setState(change);
  const { lookThrough, ...document } = documentActions(opened, newId, get, set);
  const playing = playingActions(get, set);
  const view = viewActions(get, set);

  let viewTimer: ReturnType<typeof setTimeout> | undefined;
  const stopKeeping = subscribe(() => {
    clearTimeout(viewTimer);
    viewTimer = setTimeout(() => keepView(viewKey, get()), KEEP_AFTER_MS);
  });

  /** Hits that a step has taken away are picked no more. */
  function stepped(words: string | null): string | null {
    const { picked, pattern } = get();
    if (words === null || picked.size === 0) return words;
    set({ picked: new Set(pattern.hits.flatMap(({ id }) => (picked.has(id) ? [id] : []))) });
    return words;
  }

  return {
    getState: get,
    getInitialState,
    subscribe,
    ...document,
    ...playing,
    ...view,

    undo: () => stepped(document.undo()),
    redo: () => stepped(document.redo()),

    /** Looks at the take through a pattern of its song, and loops it there; null for the take itself. */
    setScope(patternId: string | null): void {
      const scope = lookThrough(patternId);
      if (!scope) return;
      const { maps, pattern } = get();
      const bars = scope.bars.flatMap((bar) => (bar === null ? [] : [barByIndex(maps.meterMap, bar)]));
      const startTick = Math.min(...bars.map((bar) => bar.startTick));
      const endTick = Math.min(pattern.lengthTicks, Math.max(...bars.map((bar) => bar.endTick)));
      if (!(endTick > startTick)) return;
      playing.setLoop({ startTick, endTick });
      playing.setPlayhead(startTick);
      view.showStretch(startTick, endTick);
    },

    /** Playing begins where the first bars are shown. */
    setWidth(widthPx: number): void {
      const startTick = view.setWidth(widthPx);
      if (startTick !== null) playing.setPlayhead(startTick);
    },

    /** Keeps the view at once, as when the page goes away. */
    keepView(): void {
      keepView(viewKey, get());
    },

    close(): void {
      keepView(viewKey, get());
      clearTimeout(viewTimer);
      stopKeeping();
      document.close();
    },
  };
}
