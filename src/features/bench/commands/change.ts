import { pinHits, unpinHits } from "../../../core/commands/index.ts";
import { redo, undo } from "../../../store/bench-context.ts";
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
} from "../actions.ts";
import { moveLane, putAway } from "../lane-actions.ts";
import { setRole, setSwingShare } from "../mark-actions.ts";
import { bakeInScope, copySettings, pasteSettings } from "../treatment-actions.ts";
import { acceptLook, leaveAsRecorded, leavePickedOut, takeOtherSlot } from "../worth-a-look.ts";
import type { GroupedCommand } from "./command.ts";

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
  { id: "tickEarlier", name: "A tick earlier", keys: ["Ctrl+Shift+←"], run: (bench) => nudgeByTicks(bench, -1) },
  { id: "tickLater", name: "A tick later", keys: ["Ctrl+Shift+→"], run: (bench) => nudgeByTicks(bench, 1) },
  {
    id: "stepBack",
    name: "Move a step of the lane's grid back",
    keys: ["Shift+←"],
    run: (bench) => moveBySteps(bench, -1),
  },
  {
    id: "stepOn",
    name: "Move a step of the lane's grid on",
    keys: ["Shift+→"],
    run: (bench) => moveBySteps(bench, 1),
  },
  { id: "louder", name: "Louder", keys: ["↑"], run: (bench) => changeLoudness(bench, LOUDER) },
  { id: "softer", name: "Softer", keys: ["↓"], run: (bench) => changeLoudness(bench, -LOUDER) },
  {
    id: "pin",
    name: "Pin where it is",
    keys: ["P"],
    run: (bench) =>
      needPicked(bench, (placed) => bench.store.commit(`Pin ${hitCount(placed.length)}`, pinHits(placed))),
  },
  {
    id: "unpin",
    name: "Unpin: back to the treatment",
    keys: ["Shift+P"],
    run: (bench) =>
      needPicked(bench, (placed) => {
        bench.store.commit(`Unpin ${hitCount(placed.length)}`, unpinHits(placed.map(({ hit }) => hit)));
      }),
  },
  {
    id: "revoice",
    name: "Move to another drum or stroke",
    keys: ["V"],
    run: (bench) => needPicked(bench, () => bench.store.setState({ isRevoicing: true })),
  },
  {
    id: "remove",
    name: "Remove",
    keys: ["Delete", "Backspace"],
    run: removePicked,
  },
  {
    id: "exact",
    name: "Type place and loudness",
    keys: ["Enter"],
    run: (bench) => needPicked(bench, () => bench.store.setState({ isTyping: true })),
  },
  { id: "copySettings", name: "Copy the settings of the open lane", keys: ["Shift+S"], run: copySettings },
  { id: "pasteSettings", name: "Put copied settings on the open lane", keys: ["Shift+V"], run: pasteSettings },
  { id: "bakeIn", name: "Bake the open lane in", keys: ["Shift+I"], run: (bench) => bakeInScope(bench, "voice") },
  {
    id: "bakeInStretch",
    name: "Bake the open lane in, in the loop or in view",
    keys: ["Shift+U"],
    run: (bench) => bakeInScope(bench, "stretch"),
  },
  { id: "bakeInAll", name: "Bake every voice in", keys: ["Shift+J"], run: (bench) => bakeInScope(bench, "all") },
  {
    id: "tempo",
    name: "Tempo and bars: find, follow, straighten",
    keys: ["Shift+K"],
    run: ({ store }) => store.setState({ isTempoOpen: true }),
  },
  {
    id: "showTiming",
    name: "Show the timing of the open lane",
    keys: ["8"],
    run: ({ store }) => store.setState({ openStep: "timing" }),
  },
  {
    id: "showDynamics",
    name: "Show the dynamics of the open lane",
    keys: ["9"],
    run: ({ store }) => store.setState({ openStep: "dynamics" }),
  },
  {
    id: "showFeel",
    name: "Show the feel of the open lane",
    keys: ["Shift+A"],
    run: ({ store }) => store.setState({ openStep: "feel" }),
  },
  { id: "timing", name: "Timing of the open lane on, off", keys: ["T"], run: toggleTiming },
  {
    id: "tightenAll",
    name: "Tighten every voice on its own grid",
    keys: ["Shift+T"],
    run: tightenAll,
  },
  {
    id: "moveLaneUp",
    name: "Move the open lane up",
    keys: ["Shift+PageUp"],
    run: (bench) => moveLane(bench, bench.store.getState().openVoiceId, -1),
  },
  {
    id: "moveLaneDown",
    name: "Move the open lane down",
    keys: ["Shift+PageDown"],
    run: (bench) => moveLane(bench, bench.store.getState().openVoiceId, 1),
  },
  { id: "putAway", name: "Put the open lane away", keys: ["A"], run: putAway },
  {
    id: "undo",
    name: "Undo",
    keys: ["Ctrl+Z"],
    run: undo,
  },
  {
    id: "redo",
    name: "Redo",
    keys: ["Ctrl+Shift+Z", "Ctrl+Y"],
    run: redo,
  },
  { id: "muteHits", name: "Mute hits, or let them sound again", keys: ["Shift+M"], run: muteHits },
  { id: "leaveOut", name: "Leave out, as the repair does", keys: ["Shift+X"], run: leavePickedOut },
  { id: "acceptLook", name: "Fine so: do not ask about it again", keys: ["Shift+W"], run: acceptLook },
  { id: "otherSlot", name: "Take the slot on the other side", keys: ["Z"], run: takeOtherSlot },
  { id: "leave", name: "Leave as recorded", keys: ["Shift+R"], run: leaveAsRecorded },
  { id: "asGhosts", name: "Count as ghosts, however loud", keys: ["1"], run: (bench) => setRole(bench, "ghost") },
  { id: "asStrokes", name: "Count as strokes", keys: ["2"], run: (bench) => setRole(bench, "stroke") },
  { id: "asAccents", name: "Count as accents", keys: ["3"], run: (bench) => setRole(bench, "accent") },
  { id: "byLoudness", name: "Role by loudness again", keys: ["4"], run: (bench) => setRole(bench, null) },
  { id: "straight", name: "Stay straight while the lane swings", keys: ["5"], run: (bench) => setSwingShare(bench, 0) },
  { id: "halfSwung", name: "Swing half as much as the lane", keys: ["6"], run: (bench) => setSwingShare(bench, 50) },
  { id: "swung", name: "Swing as the lane does", keys: ["7"], run: (bench) => setSwingShare(bench, null) },
  { id: "level", name: "Level: all as loud as their mean", keys: ["Shift+O"], run: level },
  {
    id: "versions",
    name: "Keep this version; what was done",
    keys: ["Ctrl+S"],
    run: ({ store }) => store.setState({ isHistoryOpen: true }),
  },
];
