import { say } from "../../components/messages/say.ts";
import type { Side } from "../../core/song/index.ts";
import { type Bench, redo, undo } from "../../store/bench/bench-context.ts";
import { keyChoices, keysOfCommand } from "../../store/page/key-choices.ts";
import { SHARED_COMMANDS, usePageCommands } from "../../store/page/page-commands.ts";
import { historyCommands } from "../page/history-commands.ts";
import { togglePlaying } from "./song-actions.ts";

const COMMAND_OF_SIDE = {
  recorded: "hearRecorded",
  cleaned: "hearCleaned",
  plain: "hearPlain",
} as const satisfies Readonly<Record<Side, keyof typeof SHARED_COMMANDS>>;
const SIDES = Object.keys(COMMAND_OF_SIDE) as Side[];

/** The same keys as on the Bench, as they were chosen there. */
export function sideKeys(): Readonly<Record<Side, string>> {
  const keyOf = (side: Side) => keysOfCommand(SHARED_COMMANDS[COMMAND_OF_SIDE[side]], keyChoices.getState())[0] ?? "";
  return { recorded: keyOf("recorded"), cleaned: keyOf("cleaned"), plain: keyOf("plain") };
}

/** Does what keys stand for while the song is open. */
export function useSongKeys(bench: Bench): void {
  usePageCommands([
    { ...SHARED_COMMANDS.play, run: () => say(togglePlaying(bench)) },
    ...SIDES.map((side) => ({
      ...SHARED_COMMANDS[COMMAND_OF_SIDE[side]],
      run: () => bench.store.setSide(side),
    })),
    { ...SHARED_COMMANDS.turnSide, run: () => say(bench.store.turnSide()) },
    ...historyCommands(
      () => undo(bench),
      () => redo(bench),
    ),
  ]);
}
