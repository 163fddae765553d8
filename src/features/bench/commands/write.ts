import { barsToFile, barsToPattern, duplicateBars, insertSilentBars, removeBars } from "../tools/bar-actions.ts";
import { cutBreak, openLastHat } from "../tools/break-actions.ts";
import { takeTool, toggleCells, toggleSnap } from "../tools/tool-actions.ts";
import type { GroupedCommand } from "./command.ts";
import {
  burst,
  clearLoop,
  copy,
  cut,
  duplicate,
  fill,
  glueTogether,
  paste,
  pasteOntoOpenLane,
  split,
  stretch,
} from "./write-actions.ts";

export const WRITE: readonly GroupedCommand[] = [
  {
    id: "draw",
    name: "Draw, or select again; hold to draw for a moment",
    keys: ["D"],
    isHeld: true,
    run: ({ store }) => takeTool(store, "draw"),
  },
  {
    id: "erase",
    name: "Erase, or select again; hold to erase for a moment",
    keys: ["Shift+Backspace"],
    isHeld: true,
    run: ({ store }) => takeTool(store, "erase"),
  },
  { id: "cells", name: "Step cells: one cell a slot", keys: [], run: ({ store }) => toggleCells(store) },
  { id: "snap", name: "Draw on the grid, or freely", keys: [], run: ({ store }) => toggleSnap(store) },
  { id: "fill", name: "Fill this lane", keys: ["Shift+F"], run: fill },
  { id: "burst", name: "Roll", keys: ["Shift+D"], run: burst },
  { id: "copy", name: "Copy", keys: ["Ctrl+C"], run: copy },
  { id: "cut", name: "Cut", keys: ["Ctrl+X"], run: cut },
  { id: "paste", name: "Paste at the playhead", keys: ["Ctrl+V"], run: paste },
  {
    id: "pasteOnto",
    name: "Paste to this lane",
    keys: ["Ctrl+Shift+V"],
    run: pasteOntoOpenLane,
  },
  { id: "repeat", name: "Repeat: duplicate the selection after itself", keys: ["U"], run: duplicate },
  { id: "split", name: "Split each in two", keys: ["H"], run: split },
  { id: "glue", name: "Make one of several", keys: ["Shift+H"], run: glueTogether },
  { id: "double", name: "Double time", keys: [","], run: (bench) => stretch(bench, 0.5) },
  { id: "half", name: "Half time", keys: ["."], run: (bench) => stretch(bench, 2) },
  {
    id: "break",
    name: "Break: silence in the last beat before this bar",
    keys: [],
    run: (bench) => cutBreak(bench, 1),
  },
  {
    id: "longBreak",
    name: "Break: silence in the last two beats before this bar",
    keys: [],
    run: (bench) => cutBreak(bench, 2),
  },
  { id: "openHat", name: "Open hat on the last off-beat before this bar", keys: [], run: openLastHat },
  { id: "insertBars", name: "Insert silent bars before the loop, or this bar", keys: [], run: insertSilentBars },
  { id: "duplicateBars", name: "Duplicate the bars of the loop, or this bar", keys: [], run: duplicateBars },
  { id: "removeBars", name: "Remove the bars of the loop, or this bar", keys: [], run: removeBars },
  { id: "barsToPattern", name: "Save the loop as a pattern of the song", keys: [], run: barsToPattern },
  { id: "barsToFile", name: "Save the loop as a file", keys: [], run: barsToFile },
  {
    id: "clearLoop",
    name: "Clear the loop, except the open lane",
    keys: ["Shift+Delete"],
    run: clearLoop,
  },
];
