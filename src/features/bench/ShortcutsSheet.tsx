import { Fragment, useEffect, useState } from "react";
import { useStore } from "zustand";
import { Button } from "../../components/Button.tsx";
import { Key } from "../../components/Key.tsx";
import { namedKeys } from "../../components/keyboard.ts";
import { Refusal } from "../../components/Refusal.tsx";
import { Sheet } from "../../components/Sheet.tsx";
import { chooseKeys, keyChoices } from "../../store/key-choices.ts";
import { keysOfCommand, withKey } from "./command-keys.ts";
import { COMMAND_GROUPS, COMMANDS, type Command } from "./commands.ts";

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
  ["Wheel over a selected fin of this lane", "louder or softer"],
  ["Wheel, or one finger", "travel"],
  ["Alt + wheel", "taller or lower lanes"],
  ["Drag the lower edge of a lane's head", "make that lane taller or lower"],
  ["Ctrl + wheel, or two fingers", "nearer and farther, around the pointer"],
  ["Other button, or a long press", "what can be done there"],
  ["Ruler", "click to go there, drag to loop"],
];

/** Keys that are only held. */
const MODIFIERS: ReadonlySet<string> = new Set(["Shift", "Control", "Alt", "Meta", "AltGraph"]);

/** Every key and what the pointer does, on one sheet. Each key can be another one. */
export function ShortcutsSheet({ isOpen, onOpenChange }: { isOpen: boolean; onOpenChange: (isOpen: boolean) => void }) {
  const choices = useStore(keyChoices);
  const [changing, setChanging] = useState<Command | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const stop = () => {
    setChanging(null);
    setRefusal(null);
  };
  useEffect(() => {
    if (!changing) return;
    const press = (event: KeyboardEvent) => {
      if (MODIFIERS.has(event.key) || event.key === "Tab") return;
      event.preventDefault();
      event.stopPropagation();
      const change = event.key === "Escape" ? null : withKey(keyChoices.getState(), changing, namedKeys(event));
      if (change?.ok) chooseKeys(change.choices);
      setRefusal(change && !change.ok ? change.refusal : null);
      if (!change || change.ok) setChanging(null);
    };
    window.addEventListener("keydown", press, { capture: true });
    return () => window.removeEventListener("keydown", press, { capture: true });
  }, [changing]);
  return (
    <Sheet
      title="Keys"
      lead="Choose a key to give a command another one. It is kept in this browser."
      isOpen={isOpen}
      onOpenChange={(isOpening) => {
        stop();
        onOpenChange(isOpening);
      }}
    >
      {changing && (
        <div className="sticky top-0 mb-3 rounded-md bg-amber-tint px-3 py-2">
          <p role="status">
            Press the key for <strong>{changing.name}</strong>. <Key>Escape</Key> leaves it as it is.
          </p>
          {refusal && <Refusal className="mt-2">{refusal}</Refusal>}
        </div>
      )}
      {Object.keys(choices).length > 0 && (
        <Button className="mb-3" onClick={() => chooseKeys({})}>
          All keys as they came
        </Button>
      )}
      <div className="columns-2 gap-8">
        {COMMAND_GROUPS.map((group) => (
          <section key={group} className="mb-4 break-inside-avoid">
            <h3 className="font-bold">{group}</h3>
            <dl>
              {COMMANDS.filter((command) => command.group === group).map((command) => (
                <div
                  key={command.id}
                  className="flex items-baseline justify-between gap-3 border-t border-hairline py-1 text-[13px]"
                >
                  <dt>{command.name}</dt>
                  <dd className="shrink-0">
                    <button
                      type="button"
                      aria-label={`${keysOfCommand(command, choices).join(" ")}, another key for ${command.name}`}
                      className="rounded hover:bg-spruce-tint"
                      onClick={() => setChanging(command)}
                    >
                      {keysOfCommand(command, choices).map((key, index) => (
                        <Fragment key={key}>
                          {index > 0 && " "}
                          <Key>{key}</Key>
                        </Fragment>
                      ))}
                    </button>
                  </dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
        <section className="break-inside-avoid">
          <h3 className="font-bold">Pointer</h3>
          <dl>
            {POINTER.map(([gesture, what]) => (
              <div key={gesture} className="border-t border-hairline py-1 text-[13px]">
                <dt className="inline font-semibold">{gesture}: </dt>
                <dd className="inline">{what}</dd>
              </div>
            ))}
          </dl>
        </section>
      </div>
    </Sheet>
  );
}
