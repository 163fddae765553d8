import { pinHits, unpinHits } from "../../../core/commands/index.ts";
import { redo, undo } from "../../../store/bench/bench-context.ts";
import { SHARED_COMMANDS } from "../../../store/page/page-commands.ts";
import { moveLane, putAway } from "../lanes/lane-actions.ts";
import { applyAct, quantizeSelection } from "../selection/selection-actions.ts";
import { acceptLook, leaveAsRecorded, leavePickedOut, takeOtherSlot } from "../steps/worth-a-look.ts";
import {
  changeLoudness,
  hitCount,
  LOUDER,
  level,
  moveBySteps,
  muteHits,
  NUDGE_MS,
  needPicked,
  nudgeByMs,
  nudgeByTicks,
  removePicked,
  tightenAll,
  toggleTiming,
} from "./actions.ts";
import type { GroupedCommand } from "./command.ts";
import { rerollFullness } from "./fullness-actions.ts";
import { setRole, setSwingShare } from "./mark-actions.ts";
import { bakeInScope, copySettings, pasteSettings } from "./treatment-actions.ts";

export const CHANGE: readonly GroupedCommand[] = [
  {
    id: "earlier",
    name: `Nudge ${NUDGE_MS} ms earlier`,
    keys: ["←"],
    run: (bench) => nudgeByMs(bench, -NUDGE_MS),
  },
  {
    id: "later",
    name: `Nudge ${NUDGE_MS} ms later`,
    keys: ["→"],
    run: (bench) => nudgeByMs(bench, NUDGE_MS),
  },
  { id: "tickEarlier", name: "Nudge a tick earlier", keys: ["Ctrl+Shift+←"], run: (bench) => nudgeByTicks(bench, -1) },
  { id: "tickLater", name: "Nudge a tick later", keys: ["Ctrl+Shift+→"], run: (bench) => nudgeByTicks(bench, 1) },
  {
    id: "stepBack",
    name: "Move a grid step earlier",
    keys: ["Shift+←"],
    run: (bench) => moveBySteps(bench, -1),
  },
  {
    id: "stepOn",
    name: "Move a grid step later",
    keys: ["Shift+→"],
    run: (bench) => moveBySteps(bench, 1),
  },
  { id: "louder", name: "Louder: velocity up", keys: ["↑"], run: (bench) => changeLoudness(bench, LOUDER) },
  { id: "softer", name: "Softer: velocity down", keys: ["↓"], run: (bench) => changeLoudness(bench, -LOUDER) },
  {
    id: "pin",
    name: "Pin: keep where it is",
    keys: ["P"],
    run: (bench) =>
      needPicked(bench, (placed) =>
        bench.store.commit(`Pin ${hitCount(placed.length)}`, pinHits(bench.store.getState().pattern, placed)),
      ),
  },
  {
    id: "unpin",
    name: "Unpin: let the lane place it",
    keys: ["Shift+P"],
    run: (bench) =>
      needPicked(bench, (placed) => {
        bench.store.commit(`Unpin ${hitCount(placed.length)}`, unpinHits(placed.map(({ hit }) => hit)));
      }),
  },
  {
    id: "revoice",
    name: "Reassign to another drum or stroke",
    keys: ["V"],
    run: (bench) => needPicked(bench, () => bench.store.showSheet("revoice")),
  },
  {
    id: "remove",
    name: "Remove",
    keys: ["Delete", "Backspace"],
    run: removePicked,
  },
  {
    id: "exact",
    name: "Set position and velocity …",
    keys: ["Enter"],
    run: (bench) => needPicked(bench, () => bench.store.showSheet("exact")),
  },
  { id: "copySettings", name: "Copy the settings of this lane", keys: ["Shift+S"], run: copySettings },
  { id: "pasteSettings", name: "Paste settings to this lane", keys: ["Shift+V"], run: pasteSettings },
  { id: "bakeIn", name: "Bake in this lane", keys: ["Shift+I"], run: (bench) => bakeInScope(bench, "voice") },
  {
    id: "bakeInStretch",
    name: "Bake in this lane, in the loop or the bars in view",
    keys: ["Shift+U"],
    run: (bench) => bakeInScope(bench, "stretch"),
  },
  { id: "bakeInAll", name: "Bake in all voices", keys: ["Shift+J"], run: (bench) => bakeInScope(bench, "all") },
  {
    id: "tempo",
    name: "Tempo and bars …",
    keys: ["Shift+K"],
    run: ({ store }) => store.showSheet("tempo"),
  },
  {
    id: "showTiming",
    name: "Show Quantize",
    keys: ["8"],
    run: ({ store }) => store.openStep("timing"),
  },
  {
    id: "showDynamics",
    name: "Show Dynamics",
    keys: ["9"],
    run: ({ store }) => store.openStep("dynamics"),
  },
  {
    id: "showFeel",
    name: "Show Groove",
    keys: ["Shift+A"],
    run: ({ store }) => store.openStep("feel"),
  },
  {
    id: "showRepair",
    name: "Show Repair",
    keys: [],
    run: ({ store }) => store.openStep("repair"),
  },
  {
    id: "humanizeSelection",
    name: "Humanize the selection",
    keys: [],
    run: (bench) => applyAct(bench, { kind: "humanize", ms: 3, velocity: 3, seed: Date.now() % 1_000_000 }),
  },
  {
    id: "playSometimes",
    name: "Play the selection sometimes",
    keys: [],
    run: (bench) => applyAct(bench, { kind: "chance", percent: 60 }),
  },
  { id: "rerollFullness", name: "Re-roll what is played sometimes", keys: [], run: rerollFullness },
  { id: "timing", name: "Quantize this lane on, off", keys: ["T"], run: toggleTiming },
  {
    id: "tightenAll",
    name: "Quantize every voice on its own grid",
    keys: ["Shift+T"],
    run: tightenAll,
  },
  {
    id: "moveLaneUp",
    name: "Move this lane up",
    keys: ["Shift+PageUp"],
    run: (bench) => moveLane(bench, bench.store.getState().openVoiceId, -1),
  },
  {
    id: "moveLaneDown",
    name: "Move this lane down",
    keys: ["Shift+PageDown"],
    run: (bench) => moveLane(bench, bench.store.getState().openVoiceId, 1),
  },
  { id: "putAway", name: "Hide this lane", keys: ["A"], run: putAway },
  { ...SHARED_COMMANDS.undo, run: undo },
  { ...SHARED_COMMANDS.redo, run: redo },
  {
    id: "quantizeSelection",
    name: "Quantize the selection, as the last time",
    keys: ["Ctrl+Enter"],
    run: quantizeSelection,
  },
  { id: "muteHits", name: "Mute or unmute the selected hits", keys: ["Shift+M"], run: muteHits },
  { id: "leaveOut", name: "Mute as a double trigger or crosstalk", keys: ["Shift+X"], run: leavePickedOut },
  { id: "acceptLook", name: "Keep and don't ask again", keys: ["Shift+W"], run: acceptLook },
  { id: "otherSlot", name: "Move to the other slot", keys: ["Z"], run: takeOtherSlot },
  { id: "leave", name: "Leave as recorded", keys: ["Shift+R"], run: leaveAsRecorded },
  { id: "asGhosts", name: "Role: ghost", keys: ["1"], run: (bench) => setRole(bench, "ghost") },
  { id: "asStrokes", name: "Role: normal", keys: ["2"], run: (bench) => setRole(bench, "stroke") },
  { id: "asAccents", name: "Role: accent", keys: ["3"], run: (bench) => setRole(bench, "accent") },
  { id: "byLoudness", name: "Role: by velocity", keys: ["4"], run: (bench) => setRole(bench, null) },
  { id: "straight", name: "Swing of the selection: straight", keys: ["5"], run: (bench) => setSwingShare(bench, 0) },
  { id: "halfSwung", name: "Swing of the selection: half", keys: ["6"], run: (bench) => setSwingShare(bench, 50) },
  { id: "swung", name: "Swing of the selection: as the lane", keys: ["7"], run: (bench) => setSwingShare(bench, null) },
  { id: "level", name: "Level: same velocity, their average", keys: ["Shift+O"], run: level },
  {
    id: "versions",
    name: "History and versions …",
    keys: ["Ctrl+S"],
    run: ({ store }) => store.showSheet("history"),
  },
];
