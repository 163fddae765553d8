import { useMemo } from "react";
import { KeySheet } from "../../page/KeySheet.tsx";
import { COMMAND_GROUPS, COMMANDS } from "../commands/commands.ts";
import { useShelfCommands } from "../commands/shelf-commands.ts";

const POINTER: readonly (readonly [string, string])[] = [
  ["Click a fin", "select it and hear it"],
  ["Shift + click", "add to the selection, or take away"],
  ["Drag on empty ground", "select all inside"],
  ["Drag a fin along its lane", "move the selection; with Shift, to the lane's grid; with Alt, a copy"],
  [
    "Drag a fin up or down",
    "louder or softer; with Shift, in proportion; with Alt, around the middle; onto a row, to that stroke",
  ],
  ["Drag a fin clearly into another lane", "move it to that drum"],
  ["Alt + drag across a lane, from free ground", "draw velocity; with Shift too, a straight ramp"],
  ["Drag a dot of the drift rail", "earlier or later, in ms"],
  [
    "Drawing: click or drag in a lane or a row",
    "write hits; with Shift, Snap turned round; with Alt, in place of others; other button, erase",
  ],
  ["Fingers: Shift and Alt beside the tools", "stand for the keys, in all of this"],
  ["Wheel over a selected fin of this lane", "louder or softer"],
  ["Wheel, or one finger", "travel"],
  ["Alt + wheel", "taller or lower lanes"],
  ["Drag the lower edge of a lane's head", "make that lane taller or lower"],
  ["Ctrl + wheel, or two fingers", "nearer and farther, around the pointer"],
  ["Other button, or a long press", "what can be done there"],
  ["Ruler", "click to go there, drag to loop"],
];

/** Every key of the Bench, and what the pointer does there. */
export function ShortcutsSheet() {
  const { chores, recipes } = useShelfCommands();
  const groups = useMemo(
    () => [
      ...COMMAND_GROUPS.map((name) => ({ name, keyed: COMMANDS.filter(({ group }) => group === name) })),
      { name: "Chores", keyed: chores },
      { name: "Recipes, for the open lane", keyed: recipes },
    ],
    [chores, recipes],
  );
  return (
    <KeySheet groups={groups}>
      <section className="break-inside-avoid">
        <h3 className="font-bold">Pointer</h3>
        <dl>
          {POINTER.map(([gesture, what]) => (
            <div key={gesture} className="border-t border-hairline py-1 text-small">
              <dt className="inline font-semibold">{gesture}: </dt>
              <dd className="inline">{what}</dd>
            </div>
          ))}
        </dl>
      </section>
    </KeySheet>
  );
}
