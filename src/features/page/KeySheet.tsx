import { Fragment, type ReactNode, useEffect, useState } from "react";
import { useStore } from "zustand";
import { Button } from "../../components/Button.tsx";
import { Key } from "../../components/Key.tsx";
import { Refusal } from "../../components/messages/Refusal.tsx";
import { Sheet } from "../../components/page/Sheet.tsx";
import { OneOf } from "../../components/sentence/OneOf.tsx";
import {
  chooseKeys,
  type KeyChoices,
  type Keyed,
  keyChoices,
  keysOfCommand,
  withKey,
  withoutKey,
} from "../../store/page/key-choices.ts";
import { namedKeys, type SingleKeyMode, setSingleKeys, shownKey, singleKeys } from "../../store/page/keyboard.ts";
import { showKeys } from "../../store/page/page-commands.ts";

export interface KeyGroup {
  readonly name: string;
  readonly keyed: readonly Keyed[];
  /** Whether its keys are only shown here. */
  readonly isFixed?: true;
}

const MODE_CHOICES: readonly { readonly id: SingleKeyMode; readonly name: string }[] = [
  { id: "on", name: "work by themselves" },
  { id: "alt", name: "work with Alt held" },
  { id: "off", name: "do nothing" },
];

/** Keys that are only held. */
const MODIFIERS: ReadonlySet<string> = new Set(["Shift", "Control", "Alt", "Meta", "AltGraph"]);

/** Every key of a page on one sheet. Each key can be another one. @param children what else is told there, after the keys */
export function KeySheet({ groups, children }: { groups: readonly KeyGroup[]; children: ReactNode }) {
  const choices = useStore(keyChoices);
  const mode = useStore(singleKeys, (state) => state.mode);
  const [changing, setChanging] = useState<Keyed | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const stop = () => {
    setChanging(null);
    setRefusal(null);
  };
  useEffect(() => {
    if (!changing) return;
    const all = groups.flatMap(({ keyed }) => keyed);
    const press = (event: KeyboardEvent) => {
      // What is focused, as the button beside, is worked as ever.
      if (event.key === "Enter" || event.key === " ") {
        if (event.target instanceof HTMLElement && event.target.closest("[role=status]")) return;
      }
      if (MODIFIERS.has(event.key) || event.key === "Tab") return;
      event.preventDefault();
      event.stopPropagation();
      const change = event.key === "Escape" ? null : withKey(keyChoices.getState(), changing, namedKeys(event), all);
      if (change?.ok) chooseKeys(change.choices);
      setRefusal(change && !change.ok ? change.refusal : null);
      if (!change || change.ok) setChanging(null);
    };
    window.addEventListener("keydown", press, { capture: true });
    return () => window.removeEventListener("keydown", press, { capture: true });
  }, [changing, groups]);
  return (
    <Sheet
      title="Keys"
      lead="Choose a key to give a command another one. It is kept in this browser."
      isOpen
      onOpenChange={(isOpening) => {
        stop();
        showKeys(isOpening);
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
        {groups.map((group) => (
          <KeyRows key={group.name} group={group} choices={choices} onChange={setChanging} />
        ))}
        {children}
      </div>
    </Sheet>
  );
}

interface KeyRowsProps {
  readonly group: KeyGroup;
  readonly choices: KeyChoices;
  readonly onChange: (one: Keyed) => void;
}

function KeyRows({ group: { name, keyed, isFixed }, choices, onChange }: KeyRowsProps) {
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
              className="flex items-baseline justify-between gap-3 border-t border-hairline py-1 text-small"
            >
              <dt>{one.name}</dt>
              <dd className="shrink-0">
                {isFixed ? (
                  <KeysShown keys={keys} />
                ) : (
                  <button
                    type="button"
                    aria-label={
                      keys.length > 0
                        ? `${keys.join(" ")}, another key for ${one.name}`
                        : `Choose a key for ${one.name}`
                    }
                    className="min-h-6 rounded hover:bg-spruce-tint"
                    onClick={() => onChange(one)}
                  >
                    {keys.length === 0 && <span className="px-1 text-muted underline">choose</span>}
                    <KeysShown keys={keys} />
                  </button>
                )}
              </dd>
            </div>
          );
        })}
      </dl>
    </section>
  );
}

function KeysShown({ keys }: { keys: readonly string[] }) {
  const mode = useStore(singleKeys, (state) => state.mode);
  return keys.map((key, index) => (
    <Fragment key={key}>
      {index > 0 && " "}
      <Key>{shownKey(key, mode) || key}</Key>
    </Fragment>
  ));
}
