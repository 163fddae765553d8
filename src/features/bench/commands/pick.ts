import { ruleFromPicked, toggleSift } from "../sift/sift-actions.ts";
import { goToNextLook } from "../steps/worth-a-look.ts";
import { pickNeighbour, toggleFront, workingLane } from "./actions.ts";
import type { GroupedCommand } from "./command.ts";
import { pickBy, pickLoop } from "./write-actions.ts";

export const PICK: readonly GroupedCommand[] = [
  {
    id: "front",
    name: "Focus this lane: the others fade and cannot be changed",
    keys: ["F"],
    run: toggleFront,
  },
  {
    id: "next",
    name: "Next hit of this lane",
    keys: ["N"],
    run: (bench) => pickNeighbour(bench, 1),
  },
  { id: "before", name: "Previous hit of this lane", keys: ["B"], run: (bench) => pickNeighbour(bench, -1) },
  {
    id: "all",
    name: "Select all hits of this lane",
    keys: ["Ctrl+A"],
    run: ({ store }) => store.pick(new Set(workingLane(store.getState())?.hits.map((hit) => hit.id))),
  },
  {
    id: "selectAll",
    name: "Select all hits of all lanes",
    keys: [],
    run: ({ store }) => store.pick(new Set(store.getState().pattern.hits.map(({ id }) => id))),
  },
  {
    id: "none",
    name: "Select again after drawing or erasing; clear selection",
    keys: ["Escape"],
    run: ({ store }) => {
      // What was selected before something was drawn stays so.
      if (store.getState().tool !== "select") store.setTool("select");
      else store.pick(new Set());
    },
  },
  {
    id: "likeStrokes",
    name: "Select all hits of the same stroke",
    keys: ["G"],
    run: (bench) => pickBy(bench, "likeStrokes"),
  },
  {
    id: "likeLoudness",
    name: "Select hits of the same velocity",
    keys: ["O"],
    run: (bench) => pickBy(bench, "likeLoudness"),
  },
  {
    id: "likePlaces",
    name: "Select the same places in every bar",
    keys: ["E"],
    run: (bench) => pickBy(bench, "likePlaces"),
  },
  { id: "sift", name: "Sift: select by a rule, run chores", keys: ["Shift+G"], run: toggleSift },
  { id: "ruleFromPicked", name: "Find a rule for the selection", keys: ["Shift+Y"], run: ruleFromPicked },
  {
    id: "fadeOthers",
    name: "Fade what is not selected",
    keys: ["Shift+Z"],
    run: ({ store }) => store.setFadesOthers(!store.getState().fadesOthers),
  },
  { id: "others", name: "Invert the selection", keys: ["I"], run: (bench) => pickBy(bench, "others") },
  { id: "inLoop", name: "Select what is in the loop", keys: ["Shift+L"], run: pickLoop },
  { id: "worth", name: "Review the next doubtful hit", keys: ["W"], run: goToNextLook },
  { id: "nextToo", name: "Add the next hit", keys: ["Shift+N"], run: (bench) => pickNeighbour(bench, 1, true) },
  { id: "beforeToo", name: "Add the previous hit", keys: ["Shift+B"], run: (bench) => pickNeighbour(bench, -1, true) },
];
