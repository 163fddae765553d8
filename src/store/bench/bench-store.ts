import { createStore } from "zustand/vanilla";
import type { OpenProject, PlannedLanes } from "../../api/wire.ts";
import { farthestMove, moveHitsBy, type PlacedHit } from "../../core/commands/index.ts";
import {
  applyEdit,
  baseTick,
  type Edit,
  EMPTY_HISTORY,
  invertEdit,
  isEmptyEdit,
  type LogEntry,
  type Pattern,
  runAtEnd,
  sideOfNow,
} from "../../core/document/index.ts";
import { scopedEdit, scopedTake, scopeOf } from "../../core/song/index.ts";
import { barAt, barByIndex } from "../../core/time/index.ts";
import { lanesWithMoved, lanesWithVelocities } from "../page/overlay.ts";
import { keptKit } from "../playback/kit-choice.ts";
import { firstOpen, keepView, restoreView } from "../project/kept-view.ts";
import { SavedTake, type SaveNotice } from "../project/saved-take.ts";
import type { BenchState } from "./bench-state.ts";
import { deriveLanes, deriveMaps, type LaneView } from "./lane-view.ts";
import { EMPTY_DRAFT } from "./sift-draft.ts";
import { TreatmentDrag } from "./treatment-drag.ts";
import { fitViewport, limitViewport, type Viewport } from "./viewport.ts";

export type BenchStore = ReturnType<typeof createBenchStore>;

const BARS_SHOWN_AT_FIRST = 4;

/** The state of one open project, and the few ways in which it changes. */
export function createBenchStore({ pattern, revision, ...project }: OpenProject, newId: () => string) {
  const maps = deriveMaps(pattern, null);
  const viewKey = `marten.view.${project.id}`;
  const store = createStore<BenchState>(() => ({
    project,
    pattern,
    scopeId: null,
    shown: pattern,
    maps,
    lanes: deriveLanes(pattern, [], maps),
    isSeekingGrids: !project.isPlanned,
    soughtShare: 0,
    heldForFingers: { isShift: false, isAlt: false },
    studiedShare: 0,
    openStep: "timing",
    openParts: new Set(),
    isReviewing: false,
    partVoiceIds: null,
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
    picked: new Set(),
    openVoiceId: firstOpen(pattern),
    side: "cleaned",
    asRecorded: new Set(),
    frontVoiceId: null,
    muted: new Set(),
    soloed: new Set(),
    hidden: new Set(),
    colourBy: "family",
    showsControls: false,
    seen: new Set(),
    heardTones: new Map(),
    viewport: { startTick: 0, ticksPerPx: 1, widthPx: 0 },
    viewBefore: null,
    loop: null,
    click: { isOn: true, hasOffBeats: false },
    isPlaying: false,
    isPreviewing: false,
    isRevoicing: false,
    isTyping: false,
    isTempoOpen: false,
    isHistoryOpen: false,
    isSifting: false,
    kit: keptKit(),
    isKitOpen: false,
    siftDraft: EMPTY_DRAFT,
    fadesOthers: false,
    tool: "select",
    drawing: { velocity: null, lengthQuarters: null, strokes: new Map(), isSnapped: true, showsCells: false },
    drawGrids: new Map(),
    selectionQuantize: { grid: null, strengthPercent: 100, swingPercent: null },
    isExportOpen: false,
    areTracksOpen: false,
    isPlayInOpen: false,
    isMixOpen: false,
    fill: { where: "meant", grid: null, every: 2, from: 1, velocity: 80 },
    burst: {
      where: "into",
      count: 8,
      grid: { family: "straight", denominator: 32 },
      fromVelocity: 40,
      toVelocity: 110,
      curve: "even",
    },
    keptOpen: new Set(),
    laneZoom: 1,
    laneSizes: new Map(),
    lanesViewPx: 0,
    pasteWish: { where: "place", how: "beside", times: 1 },
    playheadTick: 0,
    ...restoreView(viewKey, pattern),
  }));
  const { getState: get, setState: set } = store;
  const listeners = new Set<(notice: SaveNotice) => void>();
  /** Said before anybody listened. */
  const unheard: SaveNotice[] = [];
  function notify(notice: SaveNotice): void {
    if (listeners.size === 0) unheard.push(notice);
    for (const listener of listeners) listener(notice);
  }

  /** As it is saved, whatever it is looked at through. */
  const saved = new SavedTake({ ...project, pattern, revision }, newId, {
    onState: (saveState) => set({ saveState }),
    onTake: (_take, history) => {
      set({ history });
      takeSaved();
    },
    onNotice: notify,
    onWindows: (otherWindows) => set({ otherWindows }),
  });

  function show(shown: Pattern): Partial<BenchState> {
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

  let viewTimer: ReturnType<typeof setTimeout> | undefined;
  const stopKeeping = store.subscribe(() => {
    clearTimeout(viewTimer);
    viewTimer = setTimeout(() => keepView(viewKey, get()), 300);
  });

  return {
    ...store,
    newId,

    /** Tells of settings that are dragged, more often than the lanes are treated anew. */
    onTreatmentDrag: treatmentDrag.listen.bind(treatmentDrag),

    /** Takes an edit as one step that can be undone, and saves it. One that changes nothing is no step. */
    commit(label: string, edit: Edit): void {
      if (isEmptyEdit(edit)) {
        this.endPreview();
        return;
      }
      const { scopeId } = get();
      const scope = scopeOf(saved.take, scopeId);
      const isDone = saved.do("do", scope ? `${label}, in ${scope.name}` : label, scopedEdit(saved.take, scope, edit));
      if (!isDone) this.endPreview();
    },

    /** Looks at the take through a pattern of its song, so that what is set is set there; null for the take itself. */
    setScope(patternId: string | null): void {
      const { take } = saved;
      const scope = scopeOf(take, patternId);
      set({ scopeId: scope?.id ?? null });
      takeSaved();
      if (!scope) return;
      const { maps: now, viewport } = get();
      const bars = scope.bars.flatMap((bar) => (bar === null ? [] : [barByIndex(now.meterMap, bar)]));
      const startTick = Math.min(...bars.map((bar) => bar.startTick));
      const endTick = Math.min(take.lengthTicks, Math.max(...bars.map((bar) => bar.endTick)));
      if (!(endTick > startTick)) return;
      set({
        loop: { startTick, endTick },
        viewport: fitViewport(viewport, startTick, endTick, take.lengthTicks),
        playheadTick: startTick,
      });
    },

    /** Shows what an edit would do, without doing it: for the time of a drag. */
    preview(edit: Edit): void {
      const { side, pattern } = get();
      // What is dragged by hand is only laid over the lanes; the recorded side does not show it, and settings treat anew.
      if (side === "cleaned" && edit.kind === "setVelocity") {
        layOver((lanes) => lanesWithVelocities(lanes, edit.changes));
        return;
      }
      // Other sides, and patterns of a song, are made of more than one treatment.
      if (edit.kind === "setTreatments" && side === "cleaned" && get().scopeId === null) treatmentDrag.show(edit);
      else {
        treatmentDrag.end();
        set({ isPreviewing: true, ...show(applyEdit(pattern, edit)) });
      }
    },

    /** Shows hits elsewhere, without moving them. @param placed the same list during one drag, as they were when it began */
    previewMove(placed: readonly PlacedHit[], deltaTicks: number): void {
      const { side, pattern } = get();
      if (side !== "cleaned") this.preview(moveHitsBy(pattern, placed, deltaTicks));
      else layOver((lanes) => lanesWithMoved(lanes, placed, farthestMove(pattern, placed, deltaTicks)));
    },

    endPreview(): void {
      treatmentDrag.end();
      liftOverlay();
      if (get().isPreviewing) set({ isPreviewing: false, ...show(get().pattern) });
    },

    /** Takes the last step back, or a run of equal ones. Returns what was undone, in words, or null if there is nothing left. */
    undo(): string | null {
      const run = runAtEnd(get().history.done);
      if (!run) return null;
      for (const step of get().history.done.slice(-run.count).reverse())
        saved.do("undo", step.label, invertEdit(step.edit));
      set({ picked: stillThere(get()) });
      return run.label;
    },

    redo(): string | null {
      const run = runAtEnd(get().history.undone);
      if (!run) return null;
      for (const step of get().history.undone.slice(-run.count).reverse()) saved.do("redo", step.label, step.edit);
      set({ picked: stillThere(get()) });
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

    /** Picks hits. With a lane in front, hits of the others stay out of reach. */
    pick(picked: ReadonlySet<string>): void {
      set({ picked: withinFront(get(), picked) });
    },

    /** Opens or closes a part of the card. */
    openPart(part: string, isOpen: boolean): void {
      const openParts = new Set(get().openParts);
      if (isOpen) openParts.add(part);
      else openParts.delete(part);
      set({ openParts });
    },

    /** Brings a lane to the front, or puts it back among the others. */
    setFront(frontVoiceId: string | null): void {
      set({ frontVoiceId });
      set({ picked: withinFront(get(), get().picked) });
    },

    setViewport(viewport: Viewport): void {
      set({ viewport: limitViewport(viewport, get().pattern.lengthTicks) });
    },

    /** The first size shows the first bars, or what was shown last time; later ones keep the place. */
    setWidth(widthPx: number): void {
      const { viewport, pattern: current, maps: currentMaps } = get();
      if (viewport.widthPx === widthPx) return;
      const isFirst = viewport.widthPx === 0;
      const isRestored = isFirst && viewport.ticksPerPx !== 1;
      const barTicks = currentMaps.meterMap.segments[0]!.barTicks;
      const next = { ...viewport, widthPx };
      // Where the playing begins: a take may have been counted in for long.
      const begins = isFirst && !isRestored;
      const firstBarTick = begins ? barAt(currentMaps.meterMap, firstTickOf(current)).startTick : 0;
      if (begins) set({ playheadTick: firstBarTick });
      set({
        viewport: begins
          ? fitViewport(
              next,
              firstBarTick,
              Math.min(current.lengthTicks, firstBarTick + BARS_SHOWN_AT_FIRST * barTicks),
              current.lengthTicks,
            )
          : limitViewport(next, current.lengthTicks),
      });
    },

    /** The take as it is saved, whatever it is looked at through. */
    take: () => saved.take,

    hasUnsaved: () => saved.hasUnsaved,

    /** The revision that is on disk; that of the pattern once everything is saved. */
    savedRevision: () => saved.revision,

    /** Waits until everything is saved. Returns false if that does not happen soon. */
    saved: (patienceMs?: number) => saved.saved(patienceMs),

    /** Keeps the view at once, as when the page goes away. */
    keepView(): void {
      keepView(viewKey, get());
    },

    close(): void {
      treatmentDrag.end();
      keepView(viewKey, get());
      clearTimeout(viewTimer);
      stopKeeping();
      void saved.close();
    },
  };
}

function withinFront({ frontVoiceId, pattern }: BenchState, picked: ReadonlySet<string>): ReadonlySet<string> {
  if (frontVoiceId === null || picked.size === 0) return picked;
  return new Set(pattern.hits.flatMap((hit) => (hit.voiceId === frontVoiceId && picked.has(hit.id) ? [hit.id] : [])));
}

/** Where the first hit of a take is; its start if there is none. */
function firstTickOf({ hits, lengthTicks }: Pattern): number {
  const first = hits.reduce((least, hit) => Math.min(least, baseTick(hit)), Number.POSITIVE_INFINITY);
  return first < lengthTicks ? Math.max(0, first) : 0;
}

function stillThere({ picked, pattern }: BenchState): ReadonlySet<string> {
  if (picked.size === 0) return picked;
  return new Set(pattern.hits.flatMap((hit) => (picked.has(hit.id) ? [hit.id] : [])));
}
