import { Fragment, useEffect, useMemo, useState } from "react";
import { useStore } from "zustand";
import { Button } from "../../components/Button.tsx";
import { Key } from "../../components/Key.tsx";
import { OneOf } from "../../components/OneOf.tsx";
import { Refusal } from "../../components/Refusal.tsx";
import { Sheet } from "../../components/Sheet.tsx";
import { chooseKeys, type KeyChoices, keyChoices } from "../../store/key-choices.ts";
import { namedKeys, type SingleKeyMode, setSingleKeys, shownKey, singleKeys } from "../../store/keyboard.ts";
import { type Keyed, keysOfCommand, withKey, withoutKey } from "./command-keys.ts";
import { COMMAND_GROUPS, COMMANDS } from "./commands.ts";
import { useShelfCommands } from "./shelf-commands.ts";

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

const MODE_CHOICES: readonly { readonly id: SingleKeyMode; readonly name: string }[] = [
  { id: "on", name: "work by themselves" },
  { id: "alt", name: "work with Alt held" },
  { id: "off", name: "do nothing" },
];

/** Keys that are only held. */
const MODIFIERS: ReadonlySet<string> = new Set(["Shift", "Control", "Alt", "Meta", "AltGraph"]);

/** Every key and what the pointer does, on one sheet. Each key can be another one. */
export function ShortcutsSheet({ isOpen, onOpenChange }: { isOpen: boolean; onOpenChange: (isOpen: boolean) => void }) {
  const choices = useStore(keyChoices);
  const mode = useStore(singleKeys, (state) => state.mode);
  const { chores, recipes } = useShelfCommands();
  const kept = useMemo(() => [...chores, ...recipes], [chores, recipes]);
  const [changing, setChanging] = useState<Keyed | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const stop = () => {
    setChanging(null);
    setRefusal(null);
  };
  useEffect(() => {
    if (!changing) return;
    const press = (event: KeyboardEvent) => {
      // What is focused, as the button beside, is worked as ever.
      if (event.key === "Enter" || event.key === " ") {
        if (event.target instanceof HTMLElement && event.target.closest("[role=status]")) return;
      }
      if (MODIFIERS.has(event.key) || event.key === "Tab") return;
      event.preventDefault();
      event.stopPropagation();
      const change = event.key === "Escape" ? null : withKey(keyChoices.getState(), changing, namedKeys(event), kept);
      if (change?.ok) chooseKeys(change.choices);
      setRefusal(change && !change.ok ? change.refusal : null);
      if (!change || change.ok) setChanging(null);
    };
    window.addEventListener("keydown", press, { capture: true });
    return () => window.removeEventListener("keydown", press, { capture: true });
  }, [changing, kept]);
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
      <p className="mb-3">
        Keys of one letter or sign{" "}
        <OneOf label="Single keys" chosenId={mode} choices={MODE_CHOICES} onChoose={setSingleKeys} />.
      </p>
      {changing && (
        <div className="sticky top-0 mb-3 rounded-md bg-amber-tint px-3 py-2">
          <p role="status">
            Press the key for <strong>{changing.name}</strong>. <Key>Escape</Key> leaves it as it is.
            {choices[changing.id] && (
              <>
                {" "}
                <button
                  type="button"
                  className="font-semibold text-spruce underline"
                  onClick={() => {
                    chooseKeys(withoutKey(choices, changing));
                    stop();
                  }}
                >
                  {changing.keys.length > 0 ? `Back to ${changing.keys.join(" ")}` : "No key"}
                </button>
              </>
            )}
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
          <KeyGroup
            key={group}
            name={group}
            keyed={COMMANDS.filter((command) => command.group === group)}
            choices={choices}
            onChange={setChanging}
          />
        ))}
        <KeyGroup name="Chores" keyed={chores} choices={choices} onChange={setChanging} />
        <KeyGroup name="Recipes, for the open lane" keyed={recipes} choices={choices} onChange={setChanging} />
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

interface KeyGroupProps {
  readonly name: string;
  readonly keyed: readonly Keyed[];
  readonly choices: KeyChoices;
  readonly onChange: (one: Keyed) => void;
}

function KeyGroup({ name, keyed, choices, onChange }: KeyGroupProps) {
  const mode = useStore(singleKeys, (state) => state.mode);
  if (keyed.length === 0) return null;
  return (
    <section className="mb-4 break-inside-avoid">
      <h3 className="font-bold">{name}</h3>
      <dl>
        {keyed.map((one) => {
          const keys = keysOfCommand(one, choices);
          return (
            <div
              key={one.id}
              className="flex items-baseline justify-between gap-3 border-t border-hairline py-1 text-[13px]"
            >
              <dt>{one.name}</dt>
              <dd className="shrink-0">
                <button
                  type="button"
                  aria-label={
                    keys.length > 0 ? `${keys.join(" ")}, another key for ${one.name}` : `Choose a key for ${one.name}`
                  }
                  className="min-h-6 rounded hover:bg-spruce-tint"
                  onClick={() => onChange(one)}
                >
                  {keys.length === 0 && <span className="px-1 text-muted underline">choose</span>}
                  {keys.map((key, index) => (
                    <Fragment key={key}>
                      {index > 0 && " "}
                      <Key>{shownKey(key, mode) || key}</Key>
                    </Fragment>
                  ))}
                </button>
              </dd>
            </div>
          );
        })}
      </dl>
    </section>
  );
}
