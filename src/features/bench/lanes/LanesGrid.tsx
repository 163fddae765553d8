import type { KeyboardEvent } from "react";
import { useShallow } from "zustand/shallow";
import { Key } from "../../../components/Key.tsx";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { pickedRows, visibleLanes } from "../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { type LaneView, shownSide, sideOf } from "../../../store/bench/lane-view.ts";
import { useSettled } from "../../../store/bench/use-settled.ts";
import { namedKeys } from "../../../store/page/keyboard.ts";
import {
  changeLoudness,
  hitCount,
  LOUDER,
  NUDGE_MS,
  nudgeByMs,
  openNeighbour,
  pickNeighbour,
} from "../commands/actions.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { hitWords } from "../transport/hit-words.ts";
import { selectionParts } from "../transport/selection-parts.ts";

/**
 * The lanes for ears and keys: a grid with a row for each lane, whose cell is the hit that the keys are at. The fins are a
 * picture and say nothing; this says what is under the cursor. It lies over them, seen only by its focus.
 */
export function LanesGrid() {
  const bench = useBench();
  const lanes = useBenchState(useShallow((state) => visibleLanes(state).map(({ voiceId }) => voiceId)));
  const openVoiceId = useBenchState((state) => state.openVoiceId);
  const press = (event: KeyboardEvent) => {
    const move = MOVES[namedKeys(event)];
    if (!move) return;
    event.preventDefault();
    event.stopPropagation();
    move(bench);
  };
  return (
    <>
      {/* biome-ignore lint/a11y/useSemanticElements: the lanes are a grid of hits, not a table of text */}
      <div
        role="grid"
        aria-label="Hits of all lanes"
        aria-rowcount={lanes.length}
        aria-describedby="lanes-grid-keys"
        aria-activedescendant={openVoiceId === null ? undefined : cellId(openVoiceId)}
        tabIndex={0}
        className="peer pointer-events-none absolute inset-0 z-10 -outline-offset-2"
        onKeyDown={press}
      >
        {lanes.map((voiceId, index) => (
          <GridRow key={voiceId} voiceId={voiceId} rowIndex={index + 1} />
        ))}
      </div>
      {/* At the foot of the lanes, as long as they have the focus by key. */}
      <p
        id="lanes-grid-keys"
        className="sr-only bottom-0 left-0 z-20 border border-hairline bg-sheet px-3 py-1 text-fine peer-focus-visible:not-sr-only peer-focus-visible:absolute"
      >
        <Key>←</Key>
        <Key>→</Key> from hit to hit, with <Key>Shift</Key> more of them; <Key>↑</Key>
        <Key>↓</Key> from lane to lane; <Key>Ctrl+↑</Key>
        <Key>Ctrl+↓</Key> louder, softer; <Key>Ctrl+←</Key>
        <Key>Ctrl+→</Key> earlier, later.
      </p>
      <LiveWords />
    </>
  );
}

/** Keys while the grid has the focus. Elsewhere arrows nudge what is picked. */
const MOVES: Readonly<Record<string, (bench: ReturnType<typeof useBench>) => unknown>> = {
  "←": (bench) => pickNeighbour(bench, -1),
  "→": (bench) => pickNeighbour(bench, 1),
  "Shift+←": (bench) => pickNeighbour(bench, -1, true),
  "Shift+→": (bench) => pickNeighbour(bench, 1, true),
  "↑": (bench) => openNeighbour(bench, -1),
  "↓": (bench) => openNeighbour(bench, 1),
  "Ctrl+↑": (bench) => doAndSay(bench, () => changeLoudness(bench, LOUDER)),
  "Ctrl+↓": (bench) => doAndSay(bench, () => changeLoudness(bench, -LOUDER)),
  "Ctrl+←": (bench) => doAndSay(bench, () => nudgeByMs(bench, -NUDGE_MS)),
  "Ctrl+→": (bench) => doAndSay(bench, () => nudgeByMs(bench, NUDGE_MS)),
};

const cellId = (voiceId: string) => `hit-of-${voiceId}`;

function GridRow({ voiceId, rowIndex }: { voiceId: string; rowIndex: number }) {
  const [name, count, words] = useSettled(
    (state) => {
      const lane = state.lanes.find((candidate) => candidate.voiceId === voiceId);
      if (!lane) return ["", 0, null] as const;
      const row = cursorRow(state, lane);
      return [lane.voice.name, lane.hits.length, row === null ? null : placedWords(state, lane, row)] as const;
    },
    selectionParts,
    { readsWhenStill: true },
  );
  return (
    // biome-ignore lint/a11y/useSemanticElements: see the grid
    // biome-ignore lint/a11y/useFocusableInteractive: the grid has the focus and names its cell
    <div role="row" aria-rowindex={rowIndex} className="sr-only">
      {/* biome-ignore lint/a11y/useSemanticElements: see the grid */}
      {/* biome-ignore lint/a11y/useFocusableInteractive: see the grid */}
      <span role="rowheader">
        {name}, {hitCount(count)}
      </span>
      {/* biome-ignore lint/a11y/useSemanticElements: see the grid */}
      {/* biome-ignore lint/a11y/useFocusableInteractive: see the grid */}
      <span role="gridcell" id={cellId(voiceId)}>
        {words ?? "No hit is selected in this lane."}
      </span>
    </div>
  );
}

/** A hit in full, and which of its lane it is: `…, 3 of 63`. */
function placedWords(state: BenchState, lane: LaneView, row: number): string {
  return `${hitWords(lane, row, shownSide(state, lane))}, ${row + 1} of ${lane.hits.length}`;
}

/** The row of the last picked hit of a lane. */
function cursorRow({ picked }: BenchState, lane: LaneView): number | null {
  return pickedRows(lane.hits, picked).at(-1) ?? null;
}

/** Says aloud what was picked: one hit in full, several as how many and how loud. */
function LiveWords() {
  const words = useSettled(
    (state) => {
      if (state.picked.size === 0) return "";
      let count = 0;
      let only = "";
      let softest = 127;
      let loudest = 1;
      for (const lane of state.lanes) {
        const { velocities } = sideOf(lane, shownSide(state, lane));
        for (const row of pickedRows(lane.hits, state.picked)) {
          count++;
          if (count === 1) only = placedWords(state, lane, row);
          softest = Math.min(softest, velocities[row]!);
          loudest = Math.max(loudest, velocities[row]!);
        }
      }
      return count === 1 ? only : `${hitCount(count)} selected, velocity ${softest} to ${loudest}`;
    },
    selectionParts,
    { readsWhenStill: true },
  );
  return (
    <p aria-live="polite" data-testid="live-words" className="sr-only">
      {words}
    </p>
  );
}
