import { Command } from "cmdk";
import { useRouter } from "next/navigation";
import { useLayoutEffect, useState } from "react";
import { useStore } from "zustand";
import { Key } from "../../../components/Key.tsx";
import { useFocusBack } from "../../../components/use-focus-back.ts";
import { useBench, useBenchState } from "../../../store/bench-context.ts";
import { keyChoices } from "../../../store/key-choices.ts";
import { shownKey, singleKeys } from "../../../store/keyboard.ts";
import { useChores } from "../../../store/use-chores.ts";
import { useGrooves } from "../../../store/use-grooves.ts";
import { useRecipes } from "../../../store/use-recipes.ts";
import { keysOfCommand } from "../command-keys.ts";
import { COMMAND_GROUPS } from "../commands.ts";
import { doAndSay } from "../do-and-say.ts";
import { type SearchEntry, searchEntries, typedSetting } from "./entries.ts";
import { ranked } from "./rank.ts";

const MOST_FOUND = 30;

/** Finds commands, settings, screens, chores, recipes and grooves by any word for them. */
export function CommandSearch() {
  const { store } = useBench();
  const isOpen = useBenchState((state) => state.isSearchOpen);
  const [chosenId, setChosenId] = useState("");
  useFocusBack(isOpen);
  return (
    <Command.Dialog
      open={isOpen}
      value={chosenId}
      onValueChange={setChosenId}
      onOpenChange={(willOpen) => store.setState({ isSearchOpen: willOpen })}
      label="Search"
      shouldFilter={false}
      overlayClassName="fixed inset-0 z-40 bg-black/45"
      contentClassName="fixed top-[14vh] left-1/2 z-40 w-[min(560px,92vw)] -translate-x-1/2 overflow-hidden rounded-xl border border-hairline-strong bg-sheet shadow-xl"
    >
      {isOpen && <Search onBest={setChosenId} />}
    </Command.Dialog>
  );
}

function Search({ onBest }: { onBest: (id: string) => void }) {
  const bench = useBench();
  const router = useRouter();
  const [query, setQuery] = useState("");
  const projectId = useBenchState((state) => state.project.id);
  const shelf = {
    chores: useChores().chores ?? [],
    recipes: useRecipes().recipes ?? [],
    grooves: useGrooves().grooves ?? [],
  };
  const go = (screen: string) => {
    // What is not on the disk yet is sent before the page goes; the browser keeps it in any case.
    void bench.store.saved(2000).then(() => router.push(screen === "" ? "/" : `/${screen}/${projectId}`));
  };
  const state = bench.store.getState();
  const entries = searchEntries(state, shelf, go);
  const setting = typedSetting(query, state);
  const found = [...(setting ? [setting] : []), ...ranked(entries, query)].slice(0, MOST_FOUND);
  const bestId = found[0]?.id ?? "";
  // The best is chosen with the letter that makes it so: whoever types and presses Enter need not look.
  useLayoutEffect(() => onBest(bestId), [onBest, bestId]);
  const run = (entry: SearchEntry) => {
    bench.store.setState({ isSearchOpen: false });
    doAndSay(bench, () => entry.run(bench));
  };
  return (
    <>
      <Command.Input
        value={query}
        onValueChange={setQuery}
        placeholder="What do you want to do? Try “humanize” or “swing 58”"
        className="w-full border-b border-hairline bg-sheet px-5 py-3.5 text-[16px] outline-none"
      />
      <Command.List className="max-h-[52vh] overflow-y-auto p-2">
        {found.length === 0 && (
          <Command.Empty className="px-3 py-4 text-muted">Nothing found for “{query}”.</Command.Empty>
        )}
        {query.trim() === ""
          ? COMMAND_GROUPS.map((group) => (
              <Command.Group
                key={group}
                heading={group}
                className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[12px] [&_[cmdk-group-heading]]:text-muted"
              >
                {entries
                  .filter(({ place }) => place === group)
                  .map((entry) => (
                    <Found key={entry.id} entry={entry} onRun={run} />
                  ))}
              </Command.Group>
            ))
          : found.map((entry) => <Found key={entry.id} entry={entry} onRun={run} />)}
      </Command.List>
    </>
  );
}

function Found({ entry, onRun }: { entry: SearchEntry; onRun: (entry: SearchEntry) => void }) {
  const choices = useStore(keyChoices);
  const mode = useStore(singleKeys, (state) => state.mode);
  return (
    <Command.Item
      value={entry.id}
      className="flex items-center justify-between gap-4 rounded-md px-3 py-1.5 data-[selected=true]:bg-spruce-tint"
      onSelect={() => onRun(entry)}
    >
      <span className="min-w-0 truncate">{entry.name}</span>
      <span className="flex shrink-0 items-center gap-2 text-[12px] text-muted">
        {entry.place}
        {entry.keyed &&
          keysOfCommand(entry.keyed, choices).map((key) => {
            const shown = shownKey(key, mode);
            return shown && <Key key={key}>{shown}</Key>;
          })}
      </span>
    </Command.Item>
  );
}
