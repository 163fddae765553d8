import { say } from "../../components/messages/say.ts";
import { type PageCommand, SHARED_COMMANDS } from "../../store/page/page-commands.ts";

/** Undo and redo of a page. Each is given what does it, and says what was done. */
export function historyCommands(undo: () => string | null, redo: () => string | null): readonly PageCommand[] {
  return [
    { ...SHARED_COMMANDS.undo, run: () => say(undo()) },
    { ...SHARED_COMMANDS.redo, run: () => say(redo()) },
  ];
}
