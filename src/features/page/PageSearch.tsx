import { useQuery } from "@tanstack/react-query";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { pageCommands } from "../../store/page/page-commands.ts";
import { listProjects } from "../../store/server-api.ts";
import { ranked } from "./rank.ts";
import { type Found, SearchDialog, SearchList } from "./SearchDialog.tsx";
import { SCREEN_WORDS } from "./screens.ts";

const MOST_FOUND = 30;
const HERE = "On this page";
const SCREENS = "Screens";
const TAKES = "Takes";

interface PageEntry extends Found {
  run(): unknown;
}

/** What a page without a search of its own finds: what it does, the other screens, the takes, and what the Bench may know. */
export function PageSearch({ projectId }: { projectId: string | undefined }) {
  return <SearchDialog>{(onBest) => <Search projectId={projectId} onBest={onBest} />}</SearchDialog>;
}

function Search({ projectId, onBest }: { projectId: string | undefined; onBest: (id: string) => void }) {
  const router = useRouter();
  const [query, setQuery] = useState("");
  // While it is on its way, or if it cannot be had, the rest is found.
  const { data: takes = [] } = useQuery({ queryKey: ["takes"], queryFn: listProjects, retry: false });
  const entries: readonly PageEntry[] = [
    ...pageCommands()
      .filter(({ id }) => id !== "search")
      .map((command) => ({
        id: command.id,
        name: command.name,
        kin: "",
        place: HERE,
        keyed: command,
        fits: 1,
        run: () => command.run(),
      })),
    ...SCREEN_WORDS.map(({ path, name, kin }) => ({
      id: `screen ${path}`,
      name,
      kin: `${kin} screen page go open`,
      place: SCREENS,
      fits: 0.5,
      run: () => router.push(path === "" ? "/" : projectId ? `/${path}/${projectId}` : `/${path}`),
    })),
    ...takes.map(({ id, name }) => ({
      id: `take ${id}`,
      name,
      kin: "take project open",
      place: TAKES,
      run: () => router.push(`/bench/${id}`),
    })),
  ];
  const asked = query.trim();
  const onBench: readonly PageEntry[] =
    asked !== ""
      ? [
          {
            id: "on the bench",
            name: `Search the Bench for “${asked}”`,
            kin: "",
            place: "Bench",
            run: () => router.push(`/bench${projectId ? `/${projectId}` : ""}?find=${encodeURIComponent(asked)}`),
          },
        ]
      : [];
  return (
    <SearchList
      query={query}
      onQuery={setQuery}
      placeholder="Where to, or which take? Try “grooves”"
      entries={entries}
      found={[...ranked(entries, query).slice(0, MOST_FOUND), ...onBench]}
      groups={[HERE, SCREENS, TAKES]}
      onBest={onBest}
      onRun={(entry) => entry.run()}
    />
  );
}
