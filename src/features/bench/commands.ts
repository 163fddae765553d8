import { pinHits, unpinHits } from "../../core/part/index.ts";
import { type Bench, redo, undo } from "../../store/bench-context.ts";
import {
  changeLoudness,
  flipSide,
  hitCount,
  LOUDER,
  loopWhatIsMeant,
  moveBySteps,
  NUDGE_MS,
  needPicked,
  nudgeByMs,
  openNeighbour,
  pickNeighbour,
  showTick,
  tightenAll,
  toggleFront,
  toggleIn,
  toggleTiming,
  walkThroughFlagged,
  workingLane,
  zoom,
} from "./actions.ts";
import { moveLane, putAway } from "./lane-actions.ts";
import { goToBar, showBefore, showEverything, showLoop, showPicked, slimAll } from "./travel-actions.ts";
import {
  clearLoop,
  copy,
  cut,
  duplicate,
  glueTogether,
  paste,
  pasteOntoOpenLane,
  pickBy,
  pickLoop,
  split,
  stretch,
} from "./write-actions.ts";

/** Something that can be done, by key and by button alike. */
export interface Command {
  readonly id: string;
  readonly group: "Listen" | "Travel" | "Pick" | "Change" | "Write";
  readonly name: string;
  /** As they are shown; the first is matched against the keyboard. */
  readonly keys: readonly string[];
  /** Returns what was done, in words, if that is not plain to see. */
  run(bench: Bench): string | null | void;
}

/** Every command, in the order in which the sheet lists them. */
export const COMMANDS: readonly Command[] = [
  { id: "play", group: "Listen", name: "Play, stop", keys: ["Space"], run: ({ playback }) => void playback.toggle() },
  {
    id: "flip",
    group: "Listen",
    name: "Recorded or cleaned; held, the other one for a moment",
    keys: ["R"],
    run: flipSide,
  },
  {
    id: "click",
    group: "Listen",
    name: "Click on, off",
    keys: ["K"],
    run: ({ store }) => store.setState({ click: { ...store.getState().click, isOn: !store.getState().click.isOn } }),
  },
  {
    id: "loop",
    group: "Listen",
    name: "Loop the picked bars or the bars in view; again for no loop",
    keys: ["L"],
    run: loopWhatIsMeant,
  },
  { id: "mute", group: "Listen", name: "Mute the open lane", keys: ["M"], run: (bench) => toggleIn(bench, "muted") },
  { id: "solo", group: "Listen", name: "Solo the open lane", keys: ["S"], run: (bench) => toggleIn(bench, "soloed") },
  {
    id: "front",
    group: "Pick",
    name: "Bring the open lane to the front; the others fade and cannot be changed",
    keys: ["F"],
    run: toggleFront,
  },
  {
    id: "next",
    group: "Pick",
    name: "Next hit of the open lane",
    keys: ["N"],
    run: (bench) => pickNeighbour(bench, 1),
  },
  { id: "before", group: "Pick", name: "Hit before", keys: ["B"], run: (bench) => pickNeighbour(bench, -1) },
  {
    id: "all",
    group: "Pick",
    name: "All hits of the open lane",
    keys: ["Ctrl+A"],
    run: ({ store }) => store.pick(new Set(workingLane(store.getState())?.hits.map((hit) => hit.id))),
  },
  {
    id: "none",
    group: "Pick",
    name: "Pick nothing; end drawing",
    keys: ["Escape"],
    run: ({ store }) => {
      store.setState({ isDrawing: false });
      store.pick(new Set());
    },
  },
  {
    id: "likeStrokes",
    group: "Pick",
    name: "All hits of the same stroke",
    keys: ["G"],
    run: (bench) => pickBy(bench, "likeStrokes"),
  },
  {
    id: "likeLoudness",
    group: "Pick",
    name: "All that are as loud",
    keys: ["O"],
    run: (bench) => pickBy(bench, "likeLoudness"),
  },
  {
    id: "likePlaces",
    group: "Pick",
    name: "The same places in every bar",
    keys: ["E"],
    run: (bench) => pickBy(bench, "likePlaces"),
  },
  { id: "others", group: "Pick", name: "All others", keys: ["I"], run: (bench) => pickBy(bench, "others") },
  { id: "inLoop", group: "Pick", name: "What is in the loop", keys: ["Shift+L"], run: pickLoop },
  { id: "worth", group: "Pick", name: "Next hit that is worth a look", keys: ["W"], run: walkThroughFlagged },
  {
    id: "earlier",
    group: "Change",
    name: `Nudge ${NUDGE_MS} ms earlier`,
    keys: ["←"],
    run: (bench) => nudgeByMs(bench, -NUDGE_MS),
  },
  {
    id: "later",
    group: "Change",
    name: `Nudge ${NUDGE_MS} ms later`,
    keys: ["→"],
    run: (bench) => nudgeByMs(bench, NUDGE_MS),
  },
  {
    id: "stepBack",
    group: "Change",
    name: "Move a step of the lane's grid back",
    keys: ["Shift+←"],
    run: (bench) => moveBySteps(bench, -1),
  },
  {
    id: "stepOn",
    group: "Change",
    name: "Move a step of the lane's grid on",
    keys: ["Shift+→"],
    run: (bench) => moveBySteps(bench, 1),
  },
  { id: "louder", group: "Change", name: "Louder", keys: ["↑"], run: (bench) => changeLoudness(bench, LOUDER) },
  { id: "softer", group: "Change", name: "Softer", keys: ["↓"], run: (bench) => changeLoudness(bench, -LOUDER) },
  {
    id: "pin",
    group: "Change",
    name: "Pin where it is",
    keys: ["P"],
    run: (bench) =>
      needPicked(bench, (placed) => bench.store.commit(`Pin ${hitCount(placed.length)}`, pinHits(placed))),
  },
  {
    id: "unpin",
    group: "Change",
    name: "Unpin: back to the treatment",
    keys: ["Shift+P"],
    run: (bench) =>
      needPicked(bench, (placed) => {
        bench.store.commit(`Unpin ${hitCount(placed.length)}`, unpinHits(placed.map(({ hit }) => hit)));
      }),
  },
  {
    id: "revoice",
    group: "Change",
    name: "Move to another drum or stroke",
    keys: ["V"],
    run: (bench) => needPicked(bench, () => bench.store.setState({ isRevoicing: true })),
  },
  {
    id: "remove",
    group: "Change",
    name: "Remove",
    keys: ["Delete", "Backspace"],
    run: (bench) =>
      needPicked(bench, (placed) => {
        const label = `Remove ${hitCount(placed.length)}`;
        bench.store.commit(label, { kind: "removeHits", hits: placed.map(({ hit }) => hit) });
        bench.store.pick(new Set());
        return `Removed ${hitCount(placed.length)}.`;
      }),
  },
  {
    id: "exact",
    group: "Change",
    name: "Type place and loudness",
    keys: ["Enter"],
    run: (bench) => needPicked(bench, () => bench.store.setState({ isTyping: true })),
  },
  {
    id: "draw",
    group: "Write",
    name: "Draw with the pointer, or pick again",
    keys: ["D"],
    run: ({ store }) => {
      const isDrawing = !store.getState().isDrawing;
      store.setState({ isDrawing });
      return isDrawing ? "Drawing: click or drag in a lane. With Shift, off its grid." : "Picking again.";
    },
  },
  { id: "copy", group: "Write", name: "Copy", keys: ["Ctrl+C"], run: copy },
  { id: "cut", group: "Write", name: "Cut", keys: ["Ctrl+X"], run: cut },
  { id: "paste", group: "Write", name: "Paste into the bar of the playhead", keys: ["Ctrl+V"], run: paste },
  {
    id: "pasteOnto",
    group: "Write",
    name: "Paste onto the open lane",
    keys: ["Ctrl+Shift+V"],
    run: pasteOntoOpenLane,
  },
  { id: "repeat", group: "Write", name: "Repeat what is picked behind itself", keys: ["U"], run: duplicate },
  { id: "split", group: "Write", name: "Split each in two", keys: ["H"], run: split },
  { id: "glue", group: "Write", name: "Make one of several", keys: ["Shift+H"], run: glueTogether },
  { id: "double", group: "Write", name: "Double time", keys: [","], run: (bench) => stretch(bench, 0.5) },
  { id: "half", group: "Write", name: "Half time", keys: ["."], run: (bench) => stretch(bench, 2) },
  {
    id: "clearLoop",
    group: "Write",
    name: "Clear the loop, except the open lane",
    keys: ["Shift+Delete"],
    run: clearLoop,
  },
  { id: "timing", group: "Change", name: "Timing of the open lane on, off", keys: ["T"], run: toggleTiming },
  {
    id: "tightenAll",
    group: "Change",
    name: "Tighten every voice on its own grid",
    keys: ["Shift+T"],
    run: tightenAll,
  },
  {
    id: "moveLaneUp",
    group: "Change",
    name: "Move the open lane up",
    keys: ["Shift+PageUp"],
    run: (bench) => moveLane(bench, bench.store.getState().openVoiceId, -1),
  },
  {
    id: "moveLaneDown",
    group: "Change",
    name: "Move the open lane down",
    keys: ["Shift+PageDown"],
    run: (bench) => moveLane(bench, bench.store.getState().openVoiceId, 1),
  },
  { id: "putAway", group: "Change", name: "Put the open lane away", keys: ["A"], run: putAway },
  {
    id: "undo",
    group: "Change",
    name: "Undo",
    keys: ["Ctrl+Z"],
    run: undo,
  },
  {
    id: "redo",
    group: "Change",
    name: "Redo",
    keys: ["Ctrl+Shift+Z", "Ctrl+Y"],
    run: redo,
  },
  {
    id: "laneUp",
    group: "Travel",
    name: "Open the lane above",
    keys: ["PageUp"],
    run: (bench) => openNeighbour(bench, -1),
  },
  {
    id: "laneDown",
    group: "Travel",
    name: "Open the lane below",
    keys: ["PageDown"],
    run: (bench) => openNeighbour(bench, 1),
  },
  {
    id: "start",
    group: "Travel",
    name: "To the start",
    keys: ["Home"],
    run: (bench) => {
      bench.playback.seek(0);
      showTick(bench, 0);
    },
  },
  { id: "nearer", group: "Travel", name: "Nearer", keys: ["+", "="], run: (bench) => zoom(bench, 1 / 1.4) },
  { id: "farther", group: "Travel", name: "Farther", keys: ["-"], run: (bench) => zoom(bench, 1.4) },
  {
    id: "fit",
    group: "Travel",
    name: "Show everything",
    keys: ["0"],
    run: showEverything,
  },
  { id: "showLoop", group: "Travel", name: "Show the loop", keys: ["X"], run: showLoop },
  { id: "showPicked", group: "Travel", name: "Show what is picked", keys: ["C"], run: showPicked },
  { id: "showBefore", group: "Travel", name: "Back to what was shown before", keys: ["J"], run: showBefore },
  {
    id: "barBack",
    group: "Travel",
    name: "To the bar line before",
    keys: ["Ctrl+←"],
    run: (bench) => goToBar(bench, -1),
  },
  { id: "barOn", group: "Travel", name: "To the next bar line", keys: ["Ctrl+→"], run: (bench) => goToBar(bench, 1) },
  { id: "slim", group: "Travel", name: "Close the open lane: all are slim", keys: ["Y"], run: slimAll },
];

/** The keys of a command, for its tooltip. */
export function keysOf(id: string): string {
  return COMMANDS.find((command) => command.id === id)?.keys[0] ?? "";
}
