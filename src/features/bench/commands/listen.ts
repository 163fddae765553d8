import { SHARED_COMMANDS } from "../../../store/page/page-commands.ts";
import { togglePlayIn, toggleRecording } from "../playin/record-actions.ts";
import { hearAround } from "../steps/worth-a-look.ts";
import { flipSide, loopWhatIsMeant, playFromPointer, toggleIn, turnTo } from "./actions.ts";
import type { GroupedCommand } from "./command.ts";

export const LISTEN: readonly GroupedCommand[] = [
  { ...SHARED_COMMANDS.play, run: ({ playback }) => void playback.toggle() },
  { id: "record", name: "Record, stop recording", keys: ["F2"], run: toggleRecording },
  {
    id: "playIn",
    name: "Play in: pads, passes and how it records",
    keys: ["Shift+F2"],
    run: (bench) => togglePlayIn(bench),
  },
  {
    id: "mix",
    name: "Sound and mix: levels, pan, MIDI out",
    keys: [],
    run: ({ store }) => store.showSheet("mix"),
  },
  {
    id: "flip",
    name: "Recorded or cleaned; hold to compare",
    keys: ["R"],
    isHeld: true,
    run: flipSide,
  },
  {
    ...SHARED_COMMANDS.hearRecorded,
    run: (bench) => turnTo(bench, "recorded"),
  },
  {
    ...SHARED_COMMANDS.hearCleaned,
    run: (bench) => turnTo(bench, "cleaned"),
  },
  {
    ...SHARED_COMMANDS.hearPlain,
    run: (bench) => turnTo(bench, "plain"),
  },
  {
    ...SHARED_COMMANDS.turnSide,
    run: ({ store }) => store.turnSide(),
  },
  {
    id: "flipVoice",
    name: "Hear this lane as recorded",
    keys: ["Shift+C"],
    run: (bench) => toggleIn(bench, "asRecorded"),
  },
  {
    id: "click",
    name: "Click on, off",
    keys: ["K"],
    run: ({ store }) => store.setClick({ isOn: !store.getState().click.isOn }),
  },
  {
    id: "loop",
    name: "Loop on, off",
    keys: ["L"],
    run: loopWhatIsMeant,
  },
  { id: "mute", name: "Mute this lane", keys: ["M"], run: (bench) => toggleIn(bench, "muted") },
  { id: "solo", name: "Solo this lane", keys: ["S"], run: (bench) => toggleIn(bench, "soloed") },
  { id: "hearAround", name: "Loop the bar of the selection and play it", keys: ["Shift+E"], run: hearAround },
  { id: "playHere", name: "Play from the pointer", keys: ["Shift+Space"], run: playFromPointer },
];
