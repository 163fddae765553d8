import type { OpenProject } from "../../api/wire.ts";
import type { LengthFault, PasteWish } from "../../core/commands/index.ts";
import type { History, Pattern, StepId } from "../../core/document/index.ts";
import type { KitProfile } from "../../core/dynamics/index.ts";
import type { Marker, Tone } from "../../core/file/index.ts";
import type { Guess } from "../../core/notemap/index.ts";
import type { LaneSummary } from "../../core/overview/index.ts";
import type { Side } from "../../core/song/index.ts";
import type { Grid, TimeMaps } from "../../core/time/index.ts";
import type { FreeOpening, Lateness } from "../../core/timing/index.ts";
import type { SaveState } from "../project/autosave.ts";
import type { LaneView } from "./lane-view.ts";
import type { SiftDraft } from "./sift-draft.ts";
import type { Viewport } from "./viewport.ts";
import type { BurstSetting, DrawSetting, FillSetting, SelectionQuantize, Tool } from "./write-settings.ts";

export const COLOUR_BYS = ["family", "role", "velocity", "note", "track", "channel"] as const;
export type ColourBy = (typeof COLOUR_BYS)[number];

/** How far lanes can be made lower and taller, all of them; slim ones have room for their name alone. */
export const LEAST_LANE_ZOOM = 0.4;
export const MOST_LANE_ZOOM = 4;
export const SLIM_LANE_ZOOM = 0.6;

/** How tall a hand made a lane, in px; left out where it is as tall as the others. */
export interface LaneSize {
  readonly closedPx?: number;
  /** The velocity field, while the lane is open. */
  readonly fieldPx?: number;
}

/** A loop in ticks. */
export interface LoopRange {
  readonly startTick: number;
  readonly endTick: number;
}

export interface BenchState {
  readonly project: Omit<OpenProject, "pattern" | "revision">;
  /** As it is saved; looked at through a pattern of the song, with the settings that it has there. */
  readonly pattern: Pattern;
  /** The pattern of the song whose settings are shown and changed; null for those of the take. */
  readonly scopeId: string | null;
  /** What is shown: the pattern, or what a drag that is not over yet would make of it. */
  readonly shown: Pattern;
  readonly maps: TimeMaps;
  readonly lanes: readonly LaneView[];
  /** Whether the grids of a new take are still being found: it can be looked at and heard, and is not changed before. */
  readonly isSeekingGrids: boolean;
  /** How much of them is found, 0 to 1. */
  readonly soughtShare: number;
  /** The keys that count as held while a finger works the lanes. */
  readonly heldForFingers: { readonly isShift: boolean; readonly isAlt: boolean };
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
  readonly picked: ReadonlySet<string>;
  readonly openVoiceId: string | null;
  /** The step of its treatment that is opened on its card. */
  readonly openStep: StepId;
  /** What is opened on the card beside it, such as what is behind “More”. */
  readonly openParts: ReadonlySet<string>;
  /** The voices that the card of the whole part changes; null for all. */
  readonly partVoiceIds: ReadonlySet<string> | null;
  /** Whether the doubtful hits are listed on the card. */
  readonly isReviewing: boolean;
  readonly side: Side;
  /** Voices that are shown and heard as recorded while the others are cleaned. */
  readonly asRecorded: ReadonlySet<string>;
  /** The one lane that can be changed while the others stand behind it; null for all. */
  readonly frontVoiceId: string | null;
  readonly muted: ReadonlySet<string>;
  readonly soloed: ReadonlySet<string>;
  /** Voices whose lane is put away. They are heard and exported all the same. */
  readonly hidden: ReadonlySet<string>;
  /** What the ink of a fin says. */
  readonly colourBy: ColourBy;
  /** Whether every lane shows its controls, and not only the one that is worked on. */
  readonly showsControls: boolean;
  /** Hits that were looked at and found fine: they are not asked about again. */
  readonly seen: ReadonlySet<string>;
  /** Streams that are not drums and are heard all the same, by index, with their notes. */
  readonly heardTones: ReadonlyMap<number, readonly Tone[]>;
  readonly viewport: Viewport;
  /** What was shown before a jump, to go back to; null if there was none. */
  readonly viewBefore: Viewport | null;
  readonly loop: LoopRange | null;
  readonly click: { readonly isOn: boolean; readonly hasOffBeats: boolean };
  readonly isPlaying: boolean;
  /** Whether something is dragged that has not been done yet. */
  readonly isPreviewing: boolean;
  /** Whether the choice of another drum for the picked hits is open. */
  readonly isRevoicing: boolean;
  /** Whether the sheet on which place and loudness are typed is open. */
  readonly isTyping: boolean;
  /** Whether the sheet on which the tempo is found is open. */
  readonly isTempoOpen: boolean;
  /** Whether the list of what was done, and the versions, is open. */
  readonly isHistoryOpen: boolean;
  /** Whether the sheet that exports is open. */
  readonly isExportOpen: boolean;
  /** Whether the sheet with the tracks of the take is open. */
  readonly areTracksOpen: boolean;
  /** Whether a part can be played in. */
  readonly isPlayInOpen: boolean;
  /** Whether the sheet with the sound output and the mix is open. */
  readonly isMixOpen: boolean;
  /** Whether a rule is being made in place of the lane card. */
  readonly isSifting: boolean;
  /** Whose layers are shown behind the loudness of the open lane. */
  readonly kit: KitProfile;
  /** Whether the sheet of its layers is open. */
  readonly isKitOpen: boolean;
  readonly siftDraft: SiftDraft;
  /** Whether what is not picked stands back. It is heard all the same. */
  readonly fadesOthers: boolean;
  /** What the pointer does in the lanes. */
  readonly tool: Tool;
  readonly drawing: DrawSetting;
  /** How the selection is quantized by hand: as it was the last time. */
  readonly selectionQuantize: SelectionQuantize;
  /** What hits are drawn on where that is not the grid of the lane's timing. */
  readonly drawGrids: ReadonlyMap<string, Grid>;
  /** What the next fill and burst will be. */
  readonly fill: FillSetting;
  readonly burst: BurstSetting;
  /** Lanes that stay open while another is worked on, by voice. */
  readonly keptOpen: ReadonlySet<string>;
  /** How tall all lanes are, as a share of their usual height. */
  readonly laneZoom: number;
  /** Lanes that a hand made taller or lower, by voice. */
  readonly laneSizes: ReadonlyMap<string, LaneSize>;
  /** How much of the lanes the screen shows at once, from top to bottom. */
  readonly lanesViewPx: number;
  /** Where and how what was copied is laid. */
  readonly pasteWish: PasteWish;
  /** Where playing starts, or stopped. */
  readonly playheadTick: number;
}
