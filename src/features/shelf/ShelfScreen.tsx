"use client";

import { useCallback, useEffect, useState } from "react";
import { Button } from "../../components/Button.tsx";
import { Key } from "../../components/Key.tsx";
import { ProblemNote } from "../../components/messages/ProblemNote.tsx";
import { say, sayTrouble } from "../../components/messages/say.ts";
import { SearchField } from "../../components/SearchField.tsx";
import { OneOf } from "../../components/sentence/OneOf.tsx";
import {
  listProjects,
  type Problem,
  type ProjectCard,
  type RemovedProject,
  ServerProblem,
  type StorageState,
  setProjectRemoved,
} from "../../store/server-api.ts";
import { useRereadShelf } from "../../store/shelf/use-shelf.ts";
import { useStorage } from "../../store/shelf/use-storage.ts";
import { PageBar } from "../page/PageBar.tsx";
import { ChoreList } from "./ChoreList.tsx";
import { DropPlace } from "./DropPlace.tsx";
import { NewTakeSheet } from "./NewTakeSheet.tsx";
import { ProjectRow } from "./ProjectRow.tsx";
import { RecipeList } from "./RecipeList.tsx";
import { RemovedProjects } from "./RemovedProjects.tsx";
import { StorageSheet } from "./StorageSheet.tsx";

type Load =
  | { readonly kind: "loading" }
  | { readonly kind: "ready"; readonly projects: readonly ProjectCard[] }
  | { readonly kind: "failed"; readonly problem: Problem };

const NO_PROJECTS: readonly ProjectCard[] = [];

/** Where projects are kept, and where a recording is dropped. */
export function ShelfScreen() {
  const [load, setLoad] = useState<Load>({ kind: "loading" });
  const storage = useStorage();
  const [search, setSearch] = useState("");
  const [sort, setSort] = useState<SortId>("changed");
  const [isBeginning, setIsBeginning] = useState(false);
  const [isStorageOpen, setIsStorageOpen] = useState(false);

  const rereadShelf = useRereadShelf();
  const refresh = useCallback(async () => {
    rereadShelf();
    try {
      setLoad({ kind: "ready", projects: await listProjects() });
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      setLoad({ kind: "failed", problem: error.problem });
    }
  }, [rereadShelf]);
  useEffect(() => void refresh(), [refresh]);

  /** @returns whether it was done; what the server says against it is told */
  const move = async (id: string, isRemoved: boolean): Promise<boolean> => {
    try {
      await setProjectRemoved(id, isRemoved);
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      sayTrouble(error.problem);
      return false;
    }
    await refresh();
    return true;
  };
  const remove = async ({ id, name }: ProjectCard) => {
    if (await move(id, true)) say(`Deleted ${name}.`, { label: "Undo", act: () => void move(id, false) });
  };
  const putBack = async ({ id, name }: RemovedProject) => {
    if (await move(id, false)) say(`${name} is back on the shelf.`);
  };

  return (
    <div className="flex min-h-screen flex-col">
      <PageBar here="Shelf" />
      <div className="mx-auto grid w-full max-w-[1280px] grid-cols-1 gap-7 px-7 pt-4 pb-10 md:grid-cols-[300px_1fr]">
        <aside className="flex flex-col gap-7">
          <DropPlace onBroughtIn={() => void refresh()} />
          <Button className="-mt-3 self-start" onClick={() => setIsBeginning(true)}>
            New take …
          </Button>
          <section aria-labelledby="first-time">
            <h2 id="first-time" className="font-semibold text-muted">
              First time here?
            </h2>
            <p className="mt-2 leading-relaxed">
              Open <strong>Ferry Lights</strong> and press <Key>space</Key>. Then press <Key>R</Key> to hear what was
              recorded. Open a lane, switch <strong>Quantize</strong> on, and watch its hits go to their places.
            </p>
          </section>
          <ChoreList projects={load.kind === "ready" ? load.projects : NO_PROJECTS} onRun={() => void refresh()} />
          <RecipeList />
        </aside>
        <main>
          <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-1">
            <h1 className="mr-auto text-head font-bold">Projects</h1>
            <p className="text-small text-muted">{lastBackupWords(storage.state)}</p>
            <Button onClick={() => setIsStorageOpen(true)}>Back up and move …</Button>
          </div>
          {load.kind === "ready" && load.projects.length > 1 && (
            <p className="mb-2.5 flex flex-wrap items-center gap-3">
              <SearchField label="Search projects" value={search} className="w-60" onChange={setSearch} />
              <span>
                Sorted by <OneOf label="Sorted by" chosenId={sort} choices={SORTS} onChoose={setSort} />
              </span>
            </p>
          )}
          {load.kind === "ready" &&
            load.projects.length > 0 &&
            shownProjects(load.projects, search, sort).length === 0 && (
              <p className="text-muted">Nothing found for “{search}”.</p>
            )}
          {load.kind === "loading" && <LoadingRows />}
          {storage.state && <StorageNote state={storage.state} onOpen={() => setIsStorageOpen(true)} />}
          {load.kind === "failed" && !storage.state?.problem && (
            <ProblemNote title="The shelf could not be opened" problem={load.problem}>
              <button type="button" className="mt-2 font-semibold underline" onClick={() => void refresh()}>
                Try again
              </button>
            </ProblemNote>
          )}
          {load.kind === "ready" && load.projects.length === 0 && (
            <p className="rounded-xl border border-dashed border-edge p-8 text-center text-muted">
              The shelf is empty. Drop a recording on the left, and it opens on the Bench.
            </p>
          )}
          {load.kind === "ready" && (
            <ul className="flex flex-col gap-2.5">
              {shownProjects(load.projects, search, sort).map((project) => (
                <ProjectRow key={project.id} project={project} onRemove={() => void remove(project)} />
              ))}
            </ul>
          )}
          <RemovedProjects onPutBack={(project) => void putBack(project)} />
        </main>
      </div>
      {isBeginning && <NewTakeSheet onClose={() => setIsBeginning(false)} />}
      {isStorageOpen && (
        <StorageSheet desk={storage} onRestored={() => void refresh()} onClose={() => setIsStorageOpen(false)} />
      )}
    </div>
  );
}

const SORTS = [
  { id: "changed", name: "last change" },
  { id: "name", name: "name" },
  { id: "bpm", name: "tempo" },
  { id: "hits", name: "number of hits" },
] as const;
type SortId = (typeof SORTS)[number]["id"];

const ORDERS: Readonly<Record<SortId, (one: ProjectCard, other: ProjectCard) => number>> = {
  changed: () => 0, // as the shelf has them
  name: (one, other) => one.name.localeCompare(other.name, "en", { numeric: true }),
  bpm: (one, other) => one.summary.bpm - other.summary.bpm,
  hits: (one, other) => other.summary.hitCount - one.summary.hitCount,
};

/** The projects whose name or book has all words that are searched for, in the order that was chosen. */
function shownProjects(projects: readonly ProjectCard[], search: string, sort: SortId): readonly ProjectCard[] {
  const words = search.toLowerCase().split(/\s+/);
  return projects
    .filter(({ name, book }) => words.every((word) => `${name} ${book}`.toLowerCase().includes(word)))
    .toSorted(ORDERS[sort]);
}

function lastBackupWords(state: StorageState | null): string {
  const last = state?.backups[0];
  if (!last) return "";
  return `Last backup ${new Date(last.madeAt).toLocaleString("en", { dateStyle: "medium", timeStyle: "short" })}`;
}

/** What is wrong with the data on the disk, and the way back. */
function StorageNote({ state, onOpen }: { state: StorageState; onOpen: () => void }) {
  const { problem, damaged } = state;
  if (!problem && damaged.length === 0) return null;
  const names = damaged.map(({ name }) => name ?? "one without a readable name").join(", ");
  const words = problem ?? {
    message: `${damaged.length === 1 ? "One project is" : `${damaged.length} projects are`} damaged on the disk: ${names}.`,
    remedy: "The others open as ever. To have it back, restore a backup from before.",
  };
  return (
    <div className="mb-3">
      <ProblemNote title="Something is wrong with the data on the disk" problem={words}>
        <Button className="mt-2" onClick={onOpen}>
          Backups …
        </Button>
      </ProblemNote>
    </div>
  );
}

function LoadingRows() {
  return (
    <div role="status" aria-label="Opening the shelf" className="flex flex-col gap-2.5">
      {["a", "b", "c", "d", "e"].map((row) => (
        <div key={row} className="h-[88px] animate-pulse rounded-xl border border-hairline bg-sheet" />
      ))}
    </div>
  );
}
