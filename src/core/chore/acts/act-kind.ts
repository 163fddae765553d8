import type { Edit, Hit, Pattern } from "../../document/index.ts";
import type { Phrase } from "../../phrase.ts";
import type { SiftedHit } from "../../sift/index.ts";
import type { TimeMaps } from "../../time/index.ts";

/** A hit as the acts of a step change it, before it is written. */
export interface Working {
  readonly sifted: SiftedHit;
  readonly tick: number;
  readonly velocity: number;
}

/** What an act does to what is struck: an edit, or why it cannot be done. Both left out, there is nothing to do. */
export interface Handled {
  readonly edit?: Edit;
  readonly refusal?: string;
}

/** All that there is to know of one thing that a chore can do. */
export interface ActKind<Act> {
  /** As it is offered, and what it begins with. */
  readonly offers: readonly { readonly name: string; readonly act: Act }[];
  /** The shapes of its fields beside `kind`, in JSON schema. */
  readonly fields: Readonly<Record<string, object>>;
  /** Its one sentence. */
  phrase(act: Act): Phrase<Act>;
  /** What it does to time and velocity. Left out, nothing. */
  readonly change?: (working: readonly Working[], act: Act, maps: TimeMaps) => readonly Working[];
  /** What it does to the hits themselves, after their time and velocity are written. Left out, nothing. */
  readonly strike?: (pattern: Pattern, hits: readonly Hit[], act: Act) => Handled;
  /** Whether the take gets bars for hits that go past its end. Left out, they stop there. */
  readonly growsTake?: true;
  /** Whether the voices of the hits go to a pattern of their own. */
  readonly extracts?: true;
}

export const louder = (working: readonly Working[], change: (one: Working, index: number) => number) =>
  working.map((one, index) => ({ ...one, velocity: change(one, index) }));

export const moved = (working: readonly Working[], change: (one: Working) => number) =>
  working.map((one) => ({ ...one, tick: change(one) }));
