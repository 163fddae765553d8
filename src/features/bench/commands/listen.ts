import { flipSide, loopWhatIsMeant, playFromPointer, toggleIn, turnTo } from "../actions.ts";
import { hearAround } from "../worth-a-look.ts";
import type { GroupedCommand } from "./command.ts";

export const LISTEN: readonly GroupedCommand[] = [
  { id: "play", name: "Play, stop", keys: ["Space"], run: ({ playback }) => void playback.toggle() },
  {
    id: "flip",
    name: "Recorded or cleaned; held, the other one for a moment",
    keys: ["R"],
    run: flipSide,
  },
  { id: "hearRecorded", name: "Hear and show it as recorded", keys: ["["], run: (bench) => turnTo(bench, "recorded") },
  { id: "hearCleaned", name: "Hear and show it cleaned", keys: ["]"], run: (bench) => turnTo(bench, "cleaned") },
  {
    id: "hearPlain",
    name: "Hear and show it cleaned, without groove, push and chance",
    keys: ["\\"],
    run: (bench) => turnTo(bench, "plain"),
  },
  {
    id: "turnSide",
    name: "Keep all settings as A and try B; again, turn from one to the other",
    keys: ["`"],
    run: ({ store }) => store.turnSide(),
  },
  {
    id: "flipVoice",
    name: "The open lane alone as recorded; again as cleaned",
    keys: ["Shift+C"],
    run: (bench) => toggleIn(bench, "asRecorded"),
  },
  {
    id: "click",
    name: "Click on, off",
    keys: ["K"],
    run: ({ store }) => store.setState({ click: { ...store.getState().click, isOn: !store.getState().click.isOn } }),
  },
  {
    id: "loop",
    name: "Loop the picked bars or the bars in view; again for no loop",
    keys: ["L"],
    run: loopWhatIsMeant,
  },
  { id: "mute", name: "Mute the open lane", keys: ["M"], run: (bench) => toggleIn(bench, "muted") },
  { id: "solo", name: "Solo the open lane", keys: ["S"], run: (bench) => toggleIn(bench, "soloed") },
  { id: "hearAround", name: "Loop the bar of what is picked, and play it", keys: ["Shift+E"], run: hearAround },
  { id: "playHere", name: "Play from the pointer", keys: ["Shift+Space"], run: playFromPointer },
];
