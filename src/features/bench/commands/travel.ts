import { openNeighbour, showTick, zoom } from "../actions.ts";
import { goToBar, goToMarker, showBefore, showEverything, showLoop, showPicked, slimAll } from "../travel-actions.ts";
import type { GroupedCommand } from "./command.ts";

export const TRAVEL: readonly GroupedCommand[] = [
  {
    id: "laneUp",
    name: "Open the lane above",
    keys: ["PageUp"],
    run: (bench) => openNeighbour(bench, -1),
  },
  {
    id: "laneDown",
    name: "Open the lane below",
    keys: ["PageDown"],
    run: (bench) => openNeighbour(bench, 1),
  },
  {
    id: "start",
    name: "To the start",
    keys: ["Home"],
    run: (bench) => {
      bench.playback.seek(0);
      showTick(bench, 0);
    },
  },
  { id: "nearer", name: "Nearer", keys: ["+", "="], run: (bench) => zoom(bench, 1 / 1.4) },
  { id: "farther", name: "Farther", keys: ["-"], run: (bench) => zoom(bench, 1.4) },
  {
    id: "fit",
    name: "Show everything",
    keys: ["0"],
    run: showEverything,
  },
  { id: "showLoop", name: "Show the loop", keys: ["X"], run: showLoop },
  { id: "showPicked", name: "Show what is picked", keys: ["C"], run: showPicked },
  { id: "showBefore", name: "Back to what was shown before", keys: ["J"], run: showBefore },
  {
    id: "barBack",
    name: "To the bar line before",
    keys: ["Ctrl+←"],
    run: (bench) => goToBar(bench, -1),
  },
  { id: "barOn", name: "To the next bar line", keys: ["Ctrl+→"], run: (bench) => goToBar(bench, 1) },
  { id: "slim", name: "All lanes slim, or as before", keys: ["Y"], run: slimAll },
  { id: "markerOn", name: "To the next marker of the take", keys: ["Q"], run: (bench) => goToMarker(bench, 1) },
  { id: "markerBack", name: "To the marker before", keys: ["Shift+Q"], run: (bench) => goToMarker(bench, -1) },
];
