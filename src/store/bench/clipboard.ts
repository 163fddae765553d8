import { createStore } from "zustand/vanilla";
import { checkOf } from "../../api/check-shape.ts";
import type { Clip } from "../../core/commands/index.ts";
import { ARTICULATION_MARKS, FAMILIES } from "../../core/document/index.ts";
import { copiedMarks } from "../../core/document/shapes/pattern-shape.ts";
import { id, record, withOptional } from "../../core/json-shape.ts";
import { keep, readKept } from "../project/browser-store.ts";

// What was copied, kept in the browser: it can be laid into any take, in any window.

const STORAGE_KEY = "marten.clipboard";

const ticks = { type: "number", minimum: 0, maximum: 2 ** 40 };
const stroke = withOptional(
  record({
    voiceId: id,
    articulationId: id,
    tick: { ...ticks, minimum: -(2 ** 20) },
    velocity: { type: "number", minimum: 1, maximum: 127 },
    voiceName: { type: "string", maxLength: 200 },
    family: { enum: FAMILIES },
    mark: { enum: ARTICULATION_MARKS },
  }),
  { marks: copiedMarks },
);
const isClip = checkOf(
  record({
    ppq: { type: "number", minimum: 1, maximum: 2 ** 20 },
    barTicks: { ...ticks, minimum: 1 },
    startTick: ticks,
    spanTicks: { ...ticks, minimum: 1 },
    strokes: { type: "array", minItems: 1, maxItems: 500_000, items: stroke },
  }),
);

const read = () => readKept<Clip>(STORAGE_KEY, isClip);

/** What was copied last; null for nothing. */
export const clipboard = createStore<{ readonly clip: Clip | null }>(() => ({ clip: read() }));

/** Keeps copies for this window and, if the browser has room, for all others. */
export function keepClip(clip: Clip): void {
  clipboard.setState({ clip });
  keep(STORAGE_KEY, clip);
}

/** Follows what is copied in other windows. Returns what ends it. */
export function followClipboard(): () => void {
  const follow = () => clipboard.setState({ clip: read() ?? clipboard.getState().clip });
  const hear = ({ key }: StorageEvent) => key === STORAGE_KEY && follow();
  follow();
  window.addEventListener("storage", hear);
  return () => window.removeEventListener("storage", hear);
}
