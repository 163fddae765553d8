import { say } from "../../components/say.ts";
import type { Side } from "../../core/song/index.ts";
import { type Bench, redo, undo } from "../../store/bench-context.ts";
import { SHARED_KEYS, sharedKeysOf, useShortcuts } from "../../store/keyboard.ts";

const COMMAND_OF_SIDE = {
  recorded: "hearRecorded",
  cleaned: "hearCleaned",
  plain: "hearPlain",
} as const satisfies Readonly<Record<Side, keyof typeof SHARED_KEYS>>;
const SIDES = Object.keys(COMMAND_OF_SIDE) as Side[];

/** The same keys as on the Bench, as they were chosen there. */
export const sideKeys = (): Readonly<Record<Side, string>> => ({
  recorded: sharedKeysOf(COMMAND_OF_SIDE.recorded)[0] ?? "",
  cleaned: sharedKeysOf(COMMAND_OF_SIDE.cleaned)[0] ?? "",
  plain: sharedKeysOf(COMMAND_OF_SIDE.plain)[0] ?? "",
});

/** Runs what keys stand for while the song is open. They come by their usual names. */
export function useSongKeys(bench: Bench): void {
  useShortcuts((keys) => {
    const side = SIDES.find((one) => SHARED_KEYS[COMMAND_OF_SIDE[one]][0] === keys);
    if (side) bench.store.setState({ side });
    else if (keys === SHARED_KEYS.play[0]) void bench.playback.toggle();
    else if (keys === SHARED_KEYS.turnSide[0]) say(bench.store.turnSide());
    else if (keys === SHARED_KEYS.undo[0]) say(undo(bench));
    else if (keys === SHARED_KEYS.redo[0]) say(redo(bench));
    else return false;
    return true;
  });
}
