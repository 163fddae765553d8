import type { MeterChange, TempoChange } from "../time/index.ts";
import type { Arranging } from "./arrange.ts";
import type { NoteMap, NoteMeaning } from "./index.ts";
import type { OtherSide } from "./other-side.ts";
import type { ChangedMessage, Hit, HitMarks, Lane } from "./pattern.ts";
import type { Timeline } from "./timeline.ts";
import type { Treatment } from "./treatment.ts";

/** One change to a pattern, as plain data: it can be applied, taken back, merged, sent and stored. */
export type Edit =
  | { readonly kind: "moveHits"; readonly moves: readonly HitMove[] }
  | { readonly kind: "setVelocity"; readonly changes: readonly VelocityChange[] }
  | { readonly kind: "muteHits"; readonly hitIds: readonly string[]; readonly toIsMuted: boolean }
  | { readonly kind: "setLengths"; readonly changes: readonly LengthChange[] }
  | { readonly kind: "markHits"; readonly changes: readonly MarkChange[] }
  | { readonly kind: "addHits"; readonly hits: readonly Hit[] }
  | { readonly kind: "removeHits"; readonly hits: readonly Hit[] }
  | { readonly kind: "setTreatments"; readonly changes: readonly TreatmentChange[] }
  | { readonly kind: "setDrumStream"; readonly change: DrumStreamChange }
  | ({ readonly kind: "reassignHits" } & Reassignment)
  | { readonly kind: "setOutgoingMap"; readonly from: NoteMap | null; readonly to: NoteMap | null }
  | ({ readonly kind: "changeMessages" } & MessageChanges)
  | ({ readonly kind: "retime" } & Retiming)
  | ({ readonly kind: "arrange" } & Arranging)
  /** Keeps all settings aside under a letter; null is none. */
  | { readonly kind: "keepSide"; readonly from: OtherSide | null; readonly to: OtherSide | null }
  /** Turns to the settings that are kept aside. */
  | { readonly kind: "turnSide" }
  /** Several changes that are one step. */
  | { readonly kind: "together"; readonly edits: readonly Edit[] };

/** Null means not pinned: the lane's treatment places the hit. */
export interface HitMove {
  readonly hitId: string;
  readonly fromTick: number | null;
  readonly toTick: number | null;
}

export interface VelocityChange {
  readonly hitId: string;
  readonly fromVelocity: number | null;
  readonly toVelocity: number | null;
}

/** Null is the length that the note has in the file. */
export interface LengthChange {
  readonly hitId: string;
  readonly from: number | null;
  readonly to: number | null;
}

export interface MarkChange {
  readonly hitId: string;
  readonly from: HitMarks;
  readonly to: HitMarks;
}

export interface TreatmentChange {
  readonly voiceId: string;
  readonly from: Treatment;
  readonly to: Treatment;
}

/** Takes a stream for drums or no longer: its hits come or go, and so do lanes that only it needs. */
export interface DrumStreamChange {
  readonly streamIndex: number;
  readonly toIsDrums: boolean;
  readonly hits: readonly Hit[];
  readonly fromLanes: readonly Lane[];
  readonly toLanes: readonly Lane[];
}

/** Hits go to other drums: by hand, or because a note means something else from now on. Lanes come and go with them. */
export interface Reassignment {
  readonly changes: readonly MeaningChange[];
  /** Null if the note map stays as it is. */
  readonly noteMaps: { readonly from: NoteMap; readonly to: NoteMap } | null;
  readonly fromLanes: readonly Lane[];
  readonly toLanes: readonly Lane[];
}

/** Messages that are no hits are taken out, changed, or put back as they came; undefined is as it came. */
export interface MessageChanges {
  readonly changes: readonly {
    readonly messageId: string;
    readonly from?: ChangedMessage;
    readonly to?: ChangedMessage;
  }[];
  /** Meter and tempo, if the messages make them others. */
  readonly times: { readonly from: FileTimes; readonly to: FileTimes } | null;
}

export interface FileTimes {
  readonly meters: readonly MeterChange[];
  readonly tempos: readonly TempoChange[];
}

/** What says when things are: where the file is in the pattern, and how the pattern is counted. */
export interface TimeFrame extends FileTimes {
  /** Null for the time of the file. */
  readonly timeline: Timeline | null;
  readonly lengthTicks: number;
}

/** A take goes from one time to another. Hits follow the timeline; what a hand has pinned goes along as its moves say. */
export interface Retiming {
  readonly from: TimeFrame;
  readonly to: TimeFrame;
  readonly moves: readonly HitMove[];
}

export interface MeaningChange {
  readonly hitId: string;
  readonly from: NoteMeaning;
  readonly to: NoteMeaning;
}
