import { useRouter } from "next/navigation";
import { useState } from "react";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { useChores } from "../../../store/shelf/use-chores.ts";
import { useGrooves } from "../../../store/shelf/use-grooves.ts";
import { useRecipes } from "../../../store/shelf/use-recipes.ts";
import { ranked } from "../../page/rank.ts";
import { SearchDialog, SearchList } from "../../page/SearchDialog.tsx";
import { COMMAND_GROUPS } from "../commands/commands.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { searchEntries } from "./entries.ts";
import { typedSetting } from "./setting-entries.ts";

const MOST_FOUND = 30;

/** Finds commands, settings, screens, chores, recipes and grooves by any word for them. @param asked what another page was searched for */
export function CommandSearch({ asked }: { asked: string }) {
  return <SearchDialog>{(onBest) => <Search asked={asked} onBest={onBest} />}</SearchDialog>;
}

function Search({ asked, onBest }: { asked: string; onBest: (id: string) => void }) {
  const bench = useBench();
  const router = useRouter();
  const [query, setQuery] = useState(asked);
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
  return (
    <SearchList
      query={query}
      onQuery={setQuery}
      placeholder="What do you want to do? Try “humanize” or “swing 58”"
      entries={entries}
      found={[...(setting ? [setting] : []), ...ranked(entries, query)].slice(0, MOST_FOUND)}
      groups={COMMAND_GROUPS}
      onBest={onBest}
      onRun={(entry) => doAndSay(bench, () => entry.run(bench))}
    />
  );
}
