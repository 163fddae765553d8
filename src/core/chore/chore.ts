import type { Contour, ContourSpan } from "../dynamics/index.ts";
import type { Sift } from "../sift/index.ts";

/** One change that a chore makes to the hits that its rule picks. */
export type ChoreAct =
  /** In proportion; the shape stays. */
  | { readonly kind: "scale"; readonly percent: number }
  | { readonly kind: "add"; readonly velocity: number }
  | { readonly kind: "set"; readonly velocity: number }
  /** Towards the mean of what was picked of the same voice and role. */
  | { readonly kind: "evenOut"; readonly percent: number }
  /** More or less dynamic around the mean of what was picked of the same voice. */
  | { readonly kind: "range"; readonly percent: number }
  | {
      readonly kind: "contour";
      readonly contour: Contour;
      readonly from: number;
      readonly to: number;
      readonly span: ContourSpan;
    }
  /** What is beyond 1 to 127 by now is scaled, role by role of each voice, until it is not; the shape stays. */
  | { readonly kind: "fitIn" }
  | { readonly kind: "shiftMs"; readonly ms: number }
  | { readonly kind: "shiftTicks"; readonly ticks: number }
  | { readonly kind: "humanize"; readonly ms: number; readonly velocity: number; readonly seed: number }
  | { readonly kind: "revoice"; readonly voiceId: string; readonly articulationId: string }
  | { readonly kind: "mute" }
  | { readonly kind: "remove" }
  /** 0.5 plays it twice as fast, 2 half as fast, from the first of the hits on. */
  | { readonly kind: "stretchTime"; readonly factor: 0.5 | 2 }
  /** Their voices go to a pattern of their own, and stay here muted. */
  | { readonly kind: "takeOut" };

export interface ChoreStep {
  readonly sift: Sift;
  readonly acts: readonly ChoreAct[];
}

/** A rule and what it should do, under a name; or several of them, one after the other. */
export interface Chore {
  readonly id: string;
  readonly name: string;
  readonly steps: readonly ChoreStep[];
}
