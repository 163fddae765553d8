import { baseTick, type Pattern, type StepId } from "../../core/document/index.ts";
import type { KitProfile } from "../../core/dynamics/index.ts";
import { barAt, type Grid, type TimeMaps } from "../../core/time/index.ts";
import { keptKit } from "../playback/kit-choice.ts";
import { EMPTY_DRAFT, type SiftDraft } from "./sift-draft.ts";
import { fitViewport, limitViewport, type Viewport } from "./viewport.ts";
import { FIRST_WISHES, type Tool, type WriteWishes } from "./write-settings.ts";

export const COLOUR_BYS = ["family", "role", "velocity", "note", "track", "channel"] as const;
export type ColourBy = (typeof COLOUR_BYS)[number];

/** How far lanes can be made lower and taller, all of them; slim ones have room for their name alone. */
export const LEAST_LANE_ZOOM = 0.4;
export const MOST_LANE_ZOOM = 4;
export const SLIM_LANE_ZOOM = 0.6;

const BARS_SHOWN_AT_FIRST = 4;

/** How tall a hand made a lane, in px; left out where it is as tall as the others. */
export interface LaneSize {
  readonly closedPx?: number;
  /** The velocity field, while the lane is open. */
  readonly fieldPx?: number;
}

/** What opens over the Bench, one at a time. `exact` types place and loudness; `revoice` chooses another drum for the selection. */
export type Sheet = "export" | "history" | "tracks" | "tempo" | "kit" | "mix" | "exact" | "revoice";

/** How the Bench is looked at and worked on: nothing of it changes the take. */
export interface ViewState extends WriteWishes {
  readonly viewport: Viewport;
  /** What was shown before a jump, to go back to; null if there was none. */
  readonly viewBefore: Viewport | null;
  /** How much of the lanes the screen shows at once, from top to bottom. */
  readonly lanesViewPx: number;
  readonly sheet: Sheet | null;
  /** Whether a part can be played in. */
  readonly isPlayInOpen: boolean;

  readonly openVoiceId: string | null;
  /** Lanes that stay open while another is worked on, by voice. */
  readonly keptOpen: ReadonlySet<string>;
  /** The one lane that can be changed while the others stand behind it; null for all. */
  readonly frontVoiceId: string | null;
  /** Voices whose lane is put away. They are heard and exported all the same. */
  readonly hidden: ReadonlySet<string>;
  /** How tall all lanes are, as a share of their usual height. */
  readonly laneZoom: number;
  /** Lanes that a hand made taller or lower, by voice. */
  readonly laneSizes: ReadonlyMap<string, LaneSize>;
  /** What the ink of a fin says. */
  readonly colourBy: ColourBy;
  /** Whether every lane shows its controls, and not only the one that is worked on. */
  readonly showsControls: boolean;

  /** The step of its treatment that is opened on the card of the open lane. */
  readonly openStep: StepId;
  /** What is opened on the card beside it, such as what is behind “More”. */
  readonly openParts: ReadonlySet<string>;
  /** The voices that the card of the whole part changes; null for all. */
  readonly partVoiceIds: ReadonlySet<string> | null;
  /** Whether the doubtful hits are listed on the card. */
  readonly isReviewing: boolean;
  /** Hits that were looked at and found fine: they are not asked about again. */
  readonly seen: ReadonlySet<string>;
  /** Whose layers are shown behind the loudness of the open lane. */
  readonly kit: KitProfile;

  readonly picked: ReadonlySet<string>;
  /** Whether what is not picked stands back. It is heard all the same. */
  readonly fadesOthers: boolean;
  /** Whether a rule is being made in place of the lane card. */
  readonly isSifting: boolean;
  readonly siftDraft: SiftDraft;

  /** What the pointer does in the lanes. */
  readonly tool: Tool;
  /** The keys that count as held while a finger works the lanes. */
  readonly heldForFingers: { readonly isShift: boolean; readonly isAlt: boolean };
  /** What hits are drawn on where that is not the grid of the lane's timing. */
  readonly drawGrids: ReadonlyMap<string, Grid>;
}

export function viewAtFirst(pattern: Pattern): ViewState {
  return {
    viewport: { startTick: 0, ticksPerPx: 1, widthPx: 0 },
    viewBefore: null,
    lanesViewPx: 0,
    sheet: null,
    isPlayInOpen: false,
    openVoiceId: firstOpen(pattern),
    keptOpen: new Set(),
    frontVoiceId: null,
    hidden: new Set(),
    laneZoom: 1,
    laneSizes: new Map(),
    colourBy: "family",
    showsControls: false,
    openStep: "timing",
    openParts: new Set(),
    partVoiceIds: null,
    isReviewing: false,
    seen: new Set(),
    kit: keptKit(),
    picked: new Set(),
    fadesOthers: false,
    isSifting: false,
    siftDraft: EMPTY_DRAFT,
    tool: "select",
    heldForFingers: { isShift: false, isAlt: false },
    drawGrids: new Map(),
    ...FIRST_WISHES,
  };
}

/** What the view needs to know of the take. */
interface Shown {
  readonly pattern: Pattern;
  readonly maps: TimeMaps;
}

/** What can be done about how the Bench is looked at. */
export function viewActions(get: () => ViewState & Shown, set: (change: Partial<ViewState>) => void) {
  return {
    /** Opens a lane, with the card of its treatment; null for none, and the card of the whole part. */
    openLane: (openVoiceId: string | null) => set({ openVoiceId }),

    setKeptOpen: (keptOpen: ReadonlySet<string>) => set({ keptOpen }),

    setHidden: (hidden: ReadonlySet<string>) => set({ hidden }),

    /** Brings a lane to the front, or puts it back among the others. */
    setFront(frontVoiceId: string | null): void {
      set({ frontVoiceId });
      set({ picked: withinFront(get(), get().picked) });
    },

    /** @param sizes what hands made of single lanes; left out, that stays */
    setLaneZoom: (laneZoom: number, laneSizes = get().laneSizes) => set({ laneZoom, laneSizes }),

    /** @param size null for that of the others */
    setLaneSize(voiceId: string, size: LaneSize | null): void {
      const laneSizes = new Map(get().laneSizes);
      if (size) laneSizes.set(voiceId, size);
      else laneSizes.delete(voiceId);
      set({ laneSizes });
    },

    colourLanesBy: (colourBy: ColourBy) => set({ colourBy }),

    setShowsControls: (showsControls: boolean) => set({ showsControls }),

    /** Opens a sheet in place of any other, or closes it if it is the one that is open. */
    showSheet(sheet: Sheet, isOpen = true): void {
      if (isOpen) set({ sheet });
      else if (get().sheet === sheet) set({ sheet: null });
    },

    showPlayIn: (isPlayInOpen: boolean) => set({ isPlayInOpen }),

    openStep: (openStep: StepId) => set({ openStep }),

    /** Opens or closes a part of the card. */
    openPart(part: string, isOpen: boolean): void {
      const openParts = new Set(get().openParts);
      if (isOpen) openParts.add(part);
      else openParts.delete(part);
      set({ openParts });
    },

    /** Says which voices the card of the whole part changes; null for all. */
    choosePart: (partVoiceIds: ReadonlySet<string> | null) => set({ partVoiceIds }),

    setReviewing: (isReviewing: boolean) => set({ isReviewing }),

    addSeen: (hitIds: Iterable<string>) => set({ seen: new Set([...get().seen, ...hitIds]) }),

    chooseKit: (kit: KitProfile) => set({ kit }),

    /** Picks hits. With a lane in front, hits of the others stay out of reach. */
    pick: (picked: ReadonlySet<string>) => set({ picked: withinFront(get(), picked) }),

    setFadesOthers: (fadesOthers: boolean) => set({ fadesOthers }),

    /** Opens the panel of rules in place of the lane card. */
    openSift: (siftDraft: SiftDraft) => set({ isSifting: true, siftDraft }),

    closeSift: () => set({ isSifting: false }),

    setSiftDraft: (siftDraft: SiftDraft) => set({ siftDraft }),

    setTool: (tool: Tool) => set({ tool }),

    /** Says which keys count as held for fingers. */
    holdForFingers(change: Partial<ViewState["heldForFingers"]>): void {
      set({ heldForFingers: { ...get().heldForFingers, ...change } });
    },

    setDrawGrids: (drawGrids: ReadonlyMap<string, Grid>) => set({ drawGrids }),

    /** Says how something will be written the next time. */
    wish<What extends keyof WriteWishes>(what: What, change: Partial<WriteWishes[What]>): void {
      set({ [what]: { ...get()[what], ...change } });
    },

    setLanesView: (lanesViewPx: number) => set({ lanesViewPx }),

    setViewport: (viewport: Viewport) => set({ viewport: limitViewport(viewport, get().pattern.lengthTicks) }),

    setViewBefore: (viewBefore: Viewport | null) => set({ viewBefore }),

    /** Shows a stretch from end to end. */
    showStretch(startTick: number, endTick: number): void {
      const { viewport, pattern } = get();
      set({ viewport: fitViewport(viewport, startTick, endTick, pattern.lengthTicks) });
    },

    /**
     * The first size shows the first bars, or what was shown last time; later ones keep the place.
     * @returns where the bar begins that it shows first for the first time; null otherwise
     */
    setWidth(widthPx: number): number | null {
      const { viewport, pattern, maps } = get();
      if (viewport.widthPx === widthPx) return null;
      const isFirst = viewport.widthPx === 0;
      const isRestored = isFirst && viewport.ticksPerPx !== 1;
      const next = { ...viewport, widthPx };
      if (!isFirst || isRestored) {
        set({ viewport: limitViewport(next, pattern.lengthTicks) });
        return null;
      }
      // Where the playing begins: a take may have been counted in for long.
      const { startTick } = barAt(maps.meterMap, firstTickOf(pattern));
      const endTick = startTick + BARS_SHOWN_AT_FIRST * maps.meterMap.segments[0]!.barTicks;
      set({ viewport: fitViewport(next, startTick, Math.min(pattern.lengthTicks, endTick), pattern.lengthTicks) });
      return startTick;
    },
  };
}

function withinFront({ frontVoiceId, pattern }: ViewState & Shown, picked: ReadonlySet<string>): ReadonlySet<string> {
  if (frontVoiceId === null || picked.size === 0) return picked;
  return new Set(pattern.hits.flatMap((hit) => (hit.voiceId === frontVoiceId && picked.has(hit.id) ? [hit.id] : [])));
}

/** Where the first hit of a take is; its start if there is none. */
function firstTickOf({ hits, lengthTicks }: Pattern): number {
  const first = hits.reduce((least, hit) => Math.min(least, baseTick(hit)), Number.POSITIVE_INFINITY);
  return first < lengthTicks ? Math.max(0, first) : 0;
}

/** An open lane would be all that a lower window shows. */
const LOW_WINDOW_PX = 520;

/** Which lane is open at first: the one that most come for, or the one with most to see. */
function firstOpen({ lanes, hits }: Pattern): string | null {
  // Where there is no window, as in a test, there is room.
  if ((globalThis.innerHeight ?? Number.POSITIVE_INFINITY) < LOW_WINDOW_PX) return null;
  if (lanes.some(({ voiceId }) => voiceId === "snare")) return "snare";
  const counts = new Map<string, number>();
  for (const { voiceId } of hits) counts.set(voiceId, (counts.get(voiceId) ?? 0) + 1);
  const [first, ...others] = lanes.map(({ voiceId }) => voiceId);
  const countOf = (voiceId: string) => counts.get(voiceId) ?? 0;
  return others.reduce((most, voiceId) => (countOf(voiceId) > countOf(most) ? voiceId : most), first ?? "") || null;
}
