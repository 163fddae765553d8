import { Command } from "cmdk";
import { type ReactNode, useLayoutEffect, useState } from "react";
import { useStore } from "zustand";
import { Key } from "../../components/Key.tsx";
import { useBackCloses } from "../../components/page/use-back-closes.ts";
import { useFocusBack } from "../../components/page/use-focus-back.ts";
import type { Keyed } from "../../store/page/key-choices.ts";
import { pageTools, showSearch } from "../../store/page/page-commands.ts";
import type { Findable } from "./rank.ts";
import { useShownKeys } from "./use-key-of.ts";

/** Something that the search of a page finds. */
export interface Found extends Findable {
  readonly id: string;
  /** Where it belongs, or where it is found without the search. */
  readonly place: string;
  /** What has its keys, if it can have any. */
  readonly keyed?: Keyed;
}

/** The search, over the page. @param children what is in it while it is open, told how to choose the best that was found */
export function SearchDialog({ children }: { children: (onBest: (id: string) => void) => ReactNode }) {
  const isOpen = useStore(pageTools, (tools) => tools.isSearchOpen);
  const [chosenId, setChosenId] = useState("");
  useFocusBack(isOpen);
  useBackCloses(isOpen, () => showSearch(false));
  return (
    <Command.Dialog
      open={isOpen}
      value={chosenId}
      onValueChange={setChosenId}
      onOpenChange={showSearch}
      label="Search"
      shouldFilter={false}
      overlayClassName="fixed inset-0 z-40 bg-black/45"
      contentClassName="fixed top-[14vh] left-1/2 z-40 w-[min(560px,92vw)] -translate-x-1/2 overflow-hidden rounded-xl border border-hairline-strong bg-sheet shadow-xl"
    >
      {isOpen && children(setChosenId)}
    </Command.Dialog>
  );
}

interface SearchListProps<Entry extends Found> {
  readonly query: string;
  readonly onQuery: (query: string) => void;
  readonly placeholder: string;
  /** All that can be found, and of it what was typed for, the best first. */
  readonly entries: readonly Entry[];
  readonly found: readonly Entry[];
  /** The places whose entries are listed while nothing is typed. */
  readonly groups: readonly string[];
  readonly onBest: (id: string) => void;
  readonly onRun: (entry: Entry) => void;
}

/** A field to type in, and what is found. */
export function SearchList<Entry extends Found>(props: SearchListProps<Entry>) {
  const { query, onQuery, placeholder, entries, found, groups, onBest, onRun } = props;
  const bestId = found[0]?.id ?? "";
  // The best is chosen with the letter that makes it so: whoever types and presses Enter need not look.
  useLayoutEffect(() => onBest(bestId), [onBest, bestId]);
  const close = (entry: Entry) => {
    showSearch(false);
    onRun(entry);
  };
  return (
    <>
      <Command.Input
        value={query}
        onValueChange={onQuery}
        placeholder={placeholder}
        className="w-full border-b border-hairline bg-sheet px-5 py-3.5 text-lead outline-none"
      />
      <Command.List className="max-h-[52vh] overflow-y-auto p-2">
        {found.length === 0 && (
          <Command.Empty className="px-3 py-4 text-muted">Nothing found for “{query}”.</Command.Empty>
        )}
        {query.trim() === ""
          ? groups.map((group) => (
              <Command.Group
                key={group}
                heading={group}
                className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-fine [&_[cmdk-group-heading]]:text-muted"
              >
                {entries
                  .filter(({ place }) => place === group)
                  .map((entry) => (
                    // Where it belongs stands over all of them.
                    <FoundItem key={entry.id} entry={{ ...entry, place: "" }} onRun={() => close(entry)} />
                  ))}
              </Command.Group>
            ))
          : found.map((entry) => <FoundItem key={entry.id} entry={entry} onRun={() => close(entry)} />)}
      </Command.List>
    </>
  );
}

function FoundItem({ entry, onRun }: { entry: Found; onRun: () => void }) {
  const shownKeys = useShownKeys();
  return (
    <Command.Item
      value={entry.id}
      className="flex items-center justify-between gap-4 rounded-md px-3 py-1.5 data-[selected=true]:bg-spruce-tint"
      onSelect={onRun}
    >
      <span className="min-w-0 truncate">{entry.name}</span>
      <span className="flex shrink-0 items-center gap-2 text-fine text-muted">
        {entry.place}
        {entry.keyed && shownKeys(entry.keyed).map((key) => <Key key={key}>{key}</Key>)}
      </span>
    </Command.Item>
  );
}
