import type { OpenProject, PlannedLanes } from "../../api/wire.ts";
import { farthestMove, type LengthFault, moveHitsBy, type PlacedHit } from "../../core/commands/index.ts";
import {
  applyEdit,
  type Edit,
  EMPTY_HISTORY,
  type History,
  invertEdit,
  isEmptyEdit,
  type LogEntry,
  type Pattern,
  runAtEnd,
  sideOfNow,
} from "../../core/document/index.ts";
import type { Marker } from "../../core/file/index.ts";
import type { Guess } from "../../core/notemap/index.ts";
import type { LaneSummary } from "../../core/overview/index.ts";
import { type Side, scopedEdit, scopedTake, scopeOf } from "../../core/song/index.ts";
import type { FreeOpening, Lateness } from "../../core/study/index.ts";
import type { TimeMaps } from "../../core/time/index.ts";
import { deriveLanes, deriveMaps, type LaneView } from "../bench/lane-view.ts";
import { lanesWithMoved, lanesWithVelocities } from "../page/overlay.ts";
import type { SaveState } from "./autosave.ts";
import { SavedTake, type SaveNotice } from "./saved-take.ts";
import { TreatmentDrag } from "./treatment-drag.ts";

/** The open project: its take, what is shown of it, what was found out about it, and how it is saved. */
export interface DocumentState {
  readonly project: Omit<OpenProject, "pattern" | "revision">;
  /** As it is saved; looked at through a pattern of the song, with the settings that it has there. */
  readonly pattern: Pattern;
  /** The pattern of the song whose settings are shown and changed; null for those of the take. */
  readonly scopeId: string | null;
  /** What is shown: the pattern, or what a drag that is not over yet would make of it. */
  readonly shown: Pattern;
  readonly maps: TimeMaps;
  readonly lanes: readonly LaneView[];
  /** Whether something is dragged that has not been done yet. */
  readonly isPreviewing: boolean;
  /** Whether the grids of a new take are still being found: it can be looked at and heard, and is not changed before. */
  readonly isSeekingGrids: boolean;
  /** How much of them is found, 0 to 1. */
  readonly soughtShare: number;
  /** How much of the analysis is done, 0 to 1. */
  readonly studiedShare: number;
  /** How each voice was played; empty until the analysis is done. */
  readonly summaries: ReadonlyMap<string, LaneSummary>;
  /** How late the take came in, and what else it may be; null until the analysis is done. */
  readonly lateness: Lateness | null;
  /** Bars at its start that were played freely, if there are any. */
  readonly opening: FreeOpening | null;
  /** What notes without a name may be, the surest first; empty until the analysis is done. */
  readonly guesses: readonly Guess[];
  /** Notes whose name does not fit how they are played, with what they may be instead. */
  readonly doubts: readonly Guess[];
  /** The places that the take names; empty until the take is read. */
  readonly markers: readonly Marker[];
  /** Drum notes whose length can spoil playback, as the file has them; empty until the take is read. */
  readonly lengthFaults: readonly LengthFault[];
  readonly history: History;
  readonly saveState: SaveState;
  /** How many other windows have this project open. */
  readonly otherWindows: number;
}

/** What is found out about a take, in workers. */
export type Findings = Partial<
  Pick<
    DocumentState,
    | "soughtShare"
    | "studiedShare"
    | "summaries"
    | "lateness"
    | "opening"
    | "guesses"
    | "doubts"
    | "markers"
    | "lengthFaults"
  >
>;

export function documentAtFirst({ pattern, revision: _, ...project }: OpenProject): DocumentState {
  const maps = deriveMaps(pattern, null);
  return {
    project,
    pattern,
    scopeId: null,
    shown: pattern,
    maps,
    lanes: deriveLanes(pattern, [], maps),
    isPreviewing: false,
    isSeekingGrids: !project.isPlanned,
    soughtShare: 0,
    studiedShare: 0,
    summaries: new Map(),
    lateness: null,
    opening: null,
    guesses: [],
    doubts: [],
    markers: [],
    lengthFaults: [],
    history: EMPTY_HISTORY,
    saveState: { kind: "saved" },
    otherWindows: 0,
  };
}

/**
 * What can be done with the open project: edits, undo, previews, and what is told of saving.
 * @param get with the side that is shown: a drag is laid over the cleaned one
 */
export function documentActions(
  { pattern: opened, revision, ...project }: OpenProject,
  newId: () => string,
  get: () => DocumentState & { readonly side: Side },
  set: (change: Partial<DocumentState>) => void,
) {
  const listeners = new Set<(notice: SaveNotice) => void>();
  /** Said before anybody listened. */
  const unheard: SaveNotice[] = [];
  function notify(notice: SaveNotice): void {
    if (listeners.size === 0) unheard.push(notice);
    for (const listener of listeners) listener(notice);
  }

  /** As it is saved, whatever it is looked at through. */
  const saved = new SavedTake({ ...project, pattern: opened, revision }, newId, {
    onState: (saveState) => set({ saveState }),
    onTake: (_take, history) => {
      set({ history });
      takeSaved();
    },
    onNotice: notify,
    onWindows: (otherWindows) => set({ otherWindows }),
  });

  function show(shown: Pattern): Partial<DocumentState> {
    const state = get();
    const nextMaps = deriveMaps(shown, { pattern: state.shown, maps: state.maps });
    // What a drag has laid over the lanes is nothing to build on.
    const before = overlaid ?? state.lanes;
    overlaid = null;
    const scope = scopeOf(shown, state.scopeId);
    return { shown, maps: nextMaps, lanes: deriveLanes(shown, before, nextMaps, scope && { scope, take: saved.take }) };
  }

  /** Shows what is saved by now. */
  function takeSaved(): void {
    const { take } = saved;
    treatmentDrag.end();
    const { scopeId, pattern: before } = get();
    const scope = scopeOf(take, scopeId);
    if (!scope && scopeId !== null) set({ scopeId: null });
    const seen = scopedTake(take, scope, before);
    set({ pattern: seen, isPreviewing: false, ...show(seen) });
  }

  const treatmentDrag = new TreatmentDrag((edit) =>
    set({ isPreviewing: true, ...show(applyEdit(get().pattern, edit)) }),
  );

  /** The lanes without what a drag lays over them; null while it lays nothing. */
  let overlaid: readonly LaneView[] | null = null;

  /** Lays something over the lanes as they are without any drag. */
  function layOver(lay: (lanes: readonly LaneView[]) => readonly LaneView[]): void {
    // What was previewed otherwise, such as copies while Alt was held, is not to be laid over.
    if (!overlaid && get().shown !== get().pattern) set(show(get().pattern));
    overlaid ??= get().lanes;
    set({ isPreviewing: true, lanes: lay(overlaid) });
  }

  function liftOverlay(): void {
    if (!overlaid) return;
    set({ lanes: overlaid, isPreviewing: false });
    overlaid = null;
  }

  /** Shows what an edit would do, without doing it: for the time of a drag. */
  function preview(edit: Edit): void {
    const { side, pattern, scopeId } = get();
    // What is dragged by hand is only laid over the lanes; the recorded side does not show it, and settings treat anew.
    if (side === "cleaned" && edit.kind === "setVelocity") {
      layOver((lanes) => lanesWithVelocities(lanes, edit.changes));
      return;
    }
    // Other sides, and patterns of a song, are made of more than one treatment.
    if (edit.kind === "setTreatments" && side === "cleaned" && scopeId === null) treatmentDrag.show(edit);
    else {
      treatmentDrag.end();
      set({ isPreviewing: true, ...show(applyEdit(pattern, edit)) });
    }
  }

  function endPreview(): void {
    treatmentDrag.end();
    liftOverlay();
    if (get().isPreviewing) set({ isPreviewing: false, ...show(get().pattern) });
  }

  return {
    newId,
    preview,
    endPreview,

    /** Shows hits elsewhere, without moving them. @param placed the same list during one drag, as they were when it began */
    previewMove(placed: readonly PlacedHit[], deltaTicks: number): void {
      const { side, pattern } = get();
      if (side !== "cleaned") preview(moveHitsBy(pattern, placed, deltaTicks));
      else layOver((lanes) => lanesWithMoved(lanes, placed, farthestMove(pattern, placed, deltaTicks)));
    },

    /** Tells of settings that are dragged, more often than the lanes are treated anew. */
    onTreatmentDrag: treatmentDrag.listen.bind(treatmentDrag),

    /** Takes an edit as one step that can be undone, and saves it. One that changes nothing is no step. */
    commit(label: string, edit: Edit): void {
      if (isEmptyEdit(edit)) {
        endPreview();
        return;
      }
      const scope = scopeOf(saved.take, get().scopeId);
      const isDone = saved.do("do", scope ? `${label}, in ${scope.name}` : label, scopedEdit(saved.take, scope, edit));
      if (!isDone) endPreview();
    },

    /**
     * Looks at the take through a pattern of its song, so that what is set is set there; null for the take itself.
     * @returns the pattern, or null for the take itself
     */
    lookThrough(patternId: string | null) {
      const scope = scopeOf(saved.take, patternId);
      set({ scopeId: scope?.id ?? null });
      takeSaved();
      return scope;
    },

    /** Takes the last step back, or a run of equal ones. Returns what was undone, in words, or null if there is nothing left. */
    undo(): string | null {
      const run = runAtEnd(get().history.done);
      if (!run) return null;
      for (const step of get().history.done.slice(-run.count).reverse())
        saved.do("undo", step.label, invertEdit(step.edit));
      return run.label;
    },

    redo(): string | null {
      const run = runAtEnd(get().history.undone);
      if (!run) return null;
      for (const step of get().history.undone.slice(-run.count).reverse()) saved.do("redo", step.label, step.edit);
      return run.label;
    },

    /**
     * Turns to the other of two sets of settings, or keeps the present one as A and goes on with B. Turning there and back leaves no
     * trace in the history. Returns what was done, in words.
     */
    turnSide(): string {
      const last = get().history.done.at(-1);
      const { take } = saved;
      if (!take.otherSide) {
        saved.do("do", "Keep the settings as A", { kind: "keepSide", from: null, to: sideOfNow(take, "A") });
        return "All settings are kept as A. What you change now is B; the same key turns from one to the other.";
      }
      const { letter } = take.otherSide;
      if (last?.edit.kind === "turnSide") saved.do("undo", last.label, last.edit);
      else saved.do("do", `Turn to ${letter}`, { kind: "turnSide" });
      return `Settings ${letter}.`;
    },

    /** Puts the lanes on the grids that were found for them. */
    takePlan(plan: PlannedLanes): void {
      set({ isSeekingGrids: false });
      saved.takePlan(plan);
    },

    /** Takes what was found out about the take. */
    takeFindings: (findings: Findings) => set(findings),

    /** Takes over what was done before this page was opened, and what closed windows could not save. */
    takeLog: (entries: readonly LogEntry[]) => saved.takeLog(entries),

    /** Takes what other windows have saved. */
    refresh: () => saved.refresh(),

    /** Tries to save at once, instead of after the next pause. */
    retrySaving: () => saved.retryNow(),

    /** Tells of what a person has to know about saving. Returns what ends it. */
    onSaveNotice(listener: (notice: SaveNotice) => void): () => void {
      listeners.add(listener);
      for (const notice of unheard.splice(0)) listener(notice);
      return () => listeners.delete(listener);
    },

    /** @returns whether what was done before is still being read: then it calls back, unless something is done first */
    waitForHistory: (act: () => void) => saved.waitForHistory(act),

    /** The take as it is saved, whatever it is looked at through. */
    take: () => saved.take,

    hasUnsaved: () => saved.hasUnsaved,

    /** The revision that is on disk; that of the pattern once everything is saved. */
    savedRevision: () => saved.revision,

    /** Waits until everything is saved. Returns false if that does not happen soon. */
    saved: (patienceMs?: number) => saved.saved(patienceMs),

    close(): void {
      treatmentDrag.end();
      void saved.close();
    },
  };
}
