import { say } from "../../../components/messages/say.ts";
import { type Bench, undo } from "../../../store/bench/bench-context.ts";

type Said = string | null | void;

/** Does what a person asked for and says what came of it, with a way back if it changed the take. */
export function doAndSay(bench: Bench, act: () => Said | Promise<Said>): void {
  const { getState } = bench.store;
  const before = getState().history.done.length;
  const tell = (words: Said) => {
    const { done } = getState().history;
    const step = done.length > before ? done.at(-1) : undefined;
    const isLast = () => getState().history.done.at(-1)?.id === step?.id;
    say(words, step && { label: "Undo", act: () => say(undo(bench)), isOpen: isLast });
  };
  const answer = act();
  if (answer instanceof Promise) void answer.then(tell);
  else tell(answer);
}
