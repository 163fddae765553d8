import { pickNeighbour, toggleFront, workingLane } from "../actions.ts";
import { ruleFromPicked, toggleSift } from "../sift/sift-actions.ts";
import { goToNextLook } from "../worth-a-look.ts";
import { pickBy, pickLoop } from "../write-actions.ts";
import type { GroupedCommand } from "./command.ts";

export const PICK: readonly GroupedCommand[] = [
  {
    id: "front",
    name: "Bring the open lane to the front; the others fade and cannot be changed",
    keys: ["F"],
    run: toggleFront,
  },
  {
    id: "next",
    name: "Next hit of the open lane",
    keys: ["N"],
    run: (bench) => pickNeighbour(bench, 1),
  },
  { id: "before", name: "Hit before", keys: ["B"], run: (bench) => pickNeighbour(bench, -1) },
  {
    id: "all",
    name: "All hits of the open lane",
    keys: ["Ctrl+A"],
    run: ({ store }) => store.pick(new Set(workingLane(store.getState())?.hits.map((hit) => hit.id))),
  },
  {
    id: "none",
    name: "Pick nothing; end drawing",
    keys: ["Escape"],
    run: ({ store }) => {
      store.setState({ isDrawing: false });
      store.pick(new Set());
    },
  },
  {
    id: "likeStrokes",
    name: "All hits of the same stroke",
    keys: ["G"],
    run: (bench) => pickBy(bench, "likeStrokes"),
  },
  {
    id: "likeLoudness",
    name: "All that are as loud",
    keys: ["O"],
    run: (bench) => pickBy(bench, "likeLoudness"),
  },
  {
    id: "likePlaces",
    name: "The same places in every bar",
    keys: ["E"],
    run: (bench) => pickBy(bench, "likePlaces"),
  },
  { id: "sift", name: "Sift: pick by a rule, and do chores", keys: ["Shift+G"], run: toggleSift },
  { id: "ruleFromPicked", name: "Find a rule for what is picked", keys: ["Shift+Y"], run: ruleFromPicked },
  {
    id: "fadeOthers",
    name: "Show only what is picked; the others stand back",
    keys: ["Shift+Z"],
    run: ({ store }) => store.setState({ fadesOthers: !store.getState().fadesOthers }),
  },
  { id: "others", name: "All others", keys: ["I"], run: (bench) => pickBy(bench, "others") },
  { id: "inLoop", name: "What is in the loop", keys: ["Shift+L"], run: pickLoop },
  { id: "worth", name: "Next hit that is worth a look", keys: ["W"], run: goToNextLook },
  { id: "nextToo", name: "Next hit too", keys: ["Shift+N"], run: (bench) => pickNeighbour(bench, 1, true) },
  { id: "beforeToo", name: "Hit before too", keys: ["Shift+B"], run: (bench) => pickNeighbour(bench, -1, true) },
];
