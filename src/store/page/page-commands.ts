import { useEffect, useRef } from "react";
import { createStore } from "zustand/vanilla";
import { commandOfKeys, type Keyed, keyChoices } from "./key-choices.ts";
import { isTaken, shortcutsOf } from "./keyboard.ts";

/** Something that a screen does by key, and that its search finds. */
export interface PageCommand extends Keyed {
  run(): void;
}

/** What more than one screen does, and by which keys: a key that is chosen for one is chosen for all. */
export const SHARED_COMMANDS = {
  search: { id: "search", name: "Search", keys: ["/"] },
  keys: { id: "keys", name: "All keys", keys: ["?"] },
  play: { id: "play", name: "Play, stop", keys: ["Space"] },
  hearRecorded: { id: "hearRecorded", name: "Show and hear recorded", keys: ["["] },
  hearCleaned: { id: "hearCleaned", name: "Show and hear cleaned", keys: ["]"] },
  hearPlain: { id: "hearPlain", name: "Show and hear cleaned without groove, push and humanize", keys: ["\\"] },
  turnSide: { id: "turnSide", name: "Compare settings A and B", keys: ["`"] },
  undo: { id: "undo", name: "Undo", keys: ["Ctrl+Z"] },
  redo: { id: "redo", name: "Redo", keys: ["Ctrl+Shift+Z", "Ctrl+Y"] },
} as const satisfies Readonly<Record<string, Keyed>>;

export const isShared = ({ id }: Keyed) => id in SHARED_COMMANDS;

interface PageTools {
  readonly isSearchOpen: boolean;
  readonly areKeysOpen: boolean;
  /** Parts of the page that do something by key, the latest first. */
  readonly parts: readonly (() => readonly PageCommand[])[];
}

/** Which of what every page has is open, and what the page does. */
export const pageTools = createStore<PageTools>(() => ({ isSearchOpen: false, areKeysOpen: false, parts: [] }));

export const showSearch = (isSearchOpen: boolean) => pageTools.setState({ isSearchOpen });
export const showKeys = (areKeysOpen: boolean) => pageTools.setState({ areKeysOpen });
export const openSearch = () => showSearch(true);
export const openKeys = () => showKeys(true);

export function closePageTools(): void {
  showSearch(false);
  showKeys(false);
}

/** What every page does. */
const ON_EVERY_PAGE: readonly PageCommand[] = [
  { ...SHARED_COMMANDS.search, run: openSearch },
  { ...SHARED_COMMANDS.keys, run: openKeys },
];

/** All that the page does now. */
export const pageCommands = ({ parts } = pageTools.getState()): readonly PageCommand[] => [
  ...parts.flatMap((part) => part()),
  ...ON_EVERY_PAGE,
];

/** While it is there, a part of the page does what its keys stand for, unless the focused element needs the key itself. */
export function usePageCommands(commands: readonly PageCommand[]): void {
  const latest = useRef(commands);
  latest.current = commands;
  useEffect(() => {
    const part = () => latest.current;
    pageTools.setState(({ parts }) => ({ parts: [part, ...parts] }));
    return () => pageTools.setState(({ parts }) => ({ parts: parts.filter((one) => one !== part) }));
  }, []);
}

/** Listens for the keys of the page. */
export function usePageKeys(): void {
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      const command = shortcutsOf(event)
        .filter((keys) => !isTaken(event.target, keys))
        .map((keys) => commandOfKeys(keys, keyChoices.getState(), pageCommands()))
        .find((found) => found !== undefined);
      if (!command) return;
      event.preventDefault();
      command.run();
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  }, []);
}
