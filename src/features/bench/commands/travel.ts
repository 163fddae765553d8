import { openKeys, openSearch, SHARED_COMMANDS } from "../../../store/page/page-commands.ts";
import { fitLanes, openAll, slimAll, zoomLanes } from "../lanes/lane-sizes.ts";
import { openNeighbour, showTick, zoom } from "./actions.ts";
import type { GroupedCommand } from "./command.ts";
import { goToBar, goToMarker, showBefore, showEverything, showLoop, showPicked } from "./travel-actions.ts";

const LANE_STEP = 1.25;

export const TRAVEL: readonly GroupedCommand[] = [
  { ...SHARED_COMMANDS.search, run: openSearch },
  { ...SHARED_COMMANDS.keys, run: openKeys },
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
  { id: "nearer", name: "Zoom in", keys: ["+", "="], run: (bench) => zoom(bench, 1 / 1.4) },
  { id: "farther", name: "Zoom out", keys: ["-"], run: (bench) => zoom(bench, 1.4) },
  {
    id: "fit",
    name: "Fit: show everything",
    keys: ["0"],
    run: showEverything,
  },
  { id: "showLoop", name: "Show the loop", keys: ["X"], run: showLoop },
  { id: "showPicked", name: "Show the selection", keys: ["C"], run: showPicked },
  { id: "showBefore", name: "Back to the previous view", keys: ["J"], run: showBefore },
  {
    id: "barBack",
    name: "To the previous bar line",
    keys: ["Ctrl+←"],
    run: (bench) => goToBar(bench, -1),
  },
  { id: "barOn", name: "To the next bar line", keys: ["Ctrl+→"], run: (bench) => goToBar(bench, 1) },
  { id: "slim", name: "Slim lanes on, off", keys: ["Y"], run: slimAll },
  { id: "taller", name: "Taller lanes", keys: ["Ctrl+↑"], run: ({ store }) => zoomLanes(store, LANE_STEP) },
  { id: "lower", name: "Lower lanes", keys: ["Ctrl+↓"], run: ({ store }) => zoomLanes(store, 1 / LANE_STEP) },
  { id: "fitLanes", name: "Fit all lanes into view", keys: [], run: fitLanes },
  { id: "openAll", name: "Open all lanes, or close the others", keys: [], run: openAll },
  { id: "markerOn", name: "To the next marker", keys: ["Q"], run: (bench) => goToMarker(bench, 1) },
  { id: "markerBack", name: "To the previous marker", keys: ["Shift+Q"], run: (bench) => goToMarker(bench, -1) },
];
