import { useCallback, useEffect, useRef, useState } from "react";
import { say, sayTrouble } from "../../components/messages/say.ts";
import type { NoteMap } from "../../core/document/index.ts";
import {
  changeMap,
  type KeptMap,
  keepMap,
  listMaps,
  type Problem,
  putMapBack,
  removeMap,
  ServerProblem,
} from "../../store/server-api.ts";

/** A change of a map on the shelf: the map before and after it. */
interface Step {
  readonly label: string;
  readonly from: NoteMap;
  readonly to: NoteMap;
}

/** The maps on the shelf, and what can be done with them. Changes are saved at once, and can be undone while the page is open. */
export function useKeptMaps() {
  const [maps, setMaps] = useState<readonly KeptMap[] | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [done, setDone] = useState<readonly Step[]>([]);
  const [undone, setUndone] = useState<readonly Step[]>([]);
  /** Changes reach the server one after the other, in the order in which they were made. */
  const queue = useRef<Promise<unknown>>(Promise.resolve());

  const reload = useCallback(async () => {
    try {
      setMaps(await listMaps());
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      setProblem(error.problem);
    }
  }, []);
  useEffect(() => void reload(), [reload]);

  /** Does something on the server, and tells what went wrong. */
  const attempt = async <Value>(act: () => Promise<Value>): Promise<Value | null> => {
    const turn = queue.current.then(act);
    queue.current = turn.catch(() => {});
    try {
      return await turn;
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      sayTrouble(error.problem);
      void reload();
      return null;
    }
  };

  const show = (map: NoteMap) =>
    setMaps((known) => known?.map((kept) => (kept.map.id === map.id ? { ...kept, map } : kept)) ?? null);

  const write = (map: NoteMap) => {
    show(map);
    void attempt(() => changeMap(map));
  };

  return {
    maps,
    problem,
    undoStep: done.at(-1)?.label ?? null,
    redoStep: undone.at(-1)?.label ?? null,

    change(label: string, from: NoteMap, to: NoteMap): void {
      setDone([...done, { label, from, to }]);
      setUndone([]);
      write(to);
    },

    undo(): string {
      const step = done.at(-1);
      if (!step) return "There is nothing to undo.";
      setDone(done.slice(0, -1));
      setUndone([...undone, step]);
      write(step.from);
      return `Undone: ${step.label}.`;
    },

    redo(): string {
      const step = undone.at(-1);
      if (!step) return "There is nothing to redo.";
      setUndone(undone.slice(0, -1));
      setDone([...done, step]);
      write(step.to);
      return `Redone: ${step.label}.`;
    },

    /** Puts a map on the shelf. Returns it under its new id, or null if that did not work. */
    async keep(map: NoteMap): Promise<KeptMap | null> {
      const kept = await attempt(() => keepMap(map));
      if (kept) await reload();
      return kept;
    },

    async remove(map: NoteMap): Promise<void> {
      await attempt(() => removeMap(map.id));
      await reload();
      say(`Deleted “${map.name}”.`, { label: "Undo", act: () => void attempt(() => putMapBack(map.id)).then(reload) });
    },
  };
}

export type KeptMaps = ReturnType<typeof useKeptMaps>;
