import type { StrokeKind, Strokes } from "./strokes.ts";

/** How beats make bars. */
export interface FoundBars {
  readonly beatsPerBar: number;
  /** Which beat is the first one of a bar: 0 up to, not including, beats per bar. */
  readonly firstDownbeat: number;
  readonly beatUnit: BeatUnit;
}

/** What a beat is written as: a dotted quarter if it is made of three, as in 6/8. */
export type BeatUnit = "eighth" | "quarter" | "dotted";

/** Faster beats than this are read as eighths where a bar has so many of them, as in 7/8; four of them are a fast four. */
const FASTEST_QUARTER_MS = 330;
const FEWEST_EIGHTHS = 5;
/** Three eighths in less than this nobody counts as a beat. */
const SHORTEST_DOTTED_MS = 375;

const BAR_LENGTHS = [4, 3, 2, 5, 6, 7] as const;
/** Four is what most music in straight beats is in: others must fit better by this. */
const BONUS_OF_FOUR = 0.04;
/** What a stroke on the first beat of a bar says for it, and one of the snare against it. */
const SAYS_ONE: Readonly<Record<StrokeKind, number>> = { kick: 1, snare: -0.7, cymbal: 1.6, hats: 0, other: 0 };
/** Strokes nearer to a part of the beat than this share of it are on it. */
const NEAR_SHARE = 0.09;
const PARTS_KEPT = 4;

/**
 * Finds how many beats make a bar, and which is the first: the length after which what is played comes again, and the
 * place where kick and crash rather than the snare are.
 * @param beatsMs ascending
 */
export function findBars(beatsMs: Float64Array, strokes: Strokes): FoundBars {
  const meanMs = (beatsMs.at(-1)! - beatsMs[0]!) / (beatsMs.length - 1);
  const isCompound = meanMs >= SHORTEST_DOTTED_MS && areBeatsOfThree(beatsMs, strokes);
  const features = describeBeats(beatsMs, strokes);
  let best = { length: 4, fit: Number.NEGATIVE_INFINITY };
  for (const length of BAR_LENGTHS) {
    if (beatsMs.length < 3 * length) continue;
    const isFour = length === 4 && !isCompound;
    const fit = likenessOf(features, length, isFour) + (isFour ? BONUS_OF_FOUR : 0) - (length > 4 ? 0.02 : 0);
    if (fit > best.fit) best = { length, fit };
  }
  // In two, four fits as well, and is what is meant in straight beats; a bar of 6/8 has two.
  const beatsPerBar = best.length === 2 && !isCompound ? 4 : best.length;
  const areEighths = meanMs < FASTEST_QUARTER_MS && beatsPerBar >= FEWEST_EIGHTHS;
  const beatUnit = isCompound ? "dotted" : areEighths ? "eighth" : "quarter";
  return { beatsPerBar, firstDownbeat: findFirst(beatsMs, strokes, beatsPerBar), beatUnit };
}

/** How much more kick and snare must say for beats of three. */
const MORE_FOR_THREES = 1.2;

/**
 * Whether kick and snare are rather on every third half of the beats than on the beats: what was taken for three beats is
 * two, half as long again. Hats and rides play all halves in either case, and say nothing.
 */
export function leansOnThrees(beatsMs: Float64Array, strokes: Strokes): boolean {
  const onBeats = [0, 0];
  const onThrees = [0, 0, 0];
  forStrokes(beatsMs, strokes, (row, beat, share) => {
    const kind = strokes.kinds[strokes.voices[row]!];
    if (kind !== "kick" && kind !== "snare") return;
    const half = Math.round(share * 2);
    if (Math.abs(share - half / 2) > NEAR_SHARE) return;
    const halves = 2 * beat + half;
    onBeats[halves % 2]! += strokes.weights[row]! ** 2;
    onThrees[halves % 3]! += strokes.weights[row]! ** 2;
  });
  // Weighed by how many such places there are: a third of the halves against a half of them.
  return 3 * Math.max(...onThrees) > MORE_FOR_THREES * 2 * Math.max(...onBeats);
}

/** What each kind of voice does in each quarter of each beat. */
function describeBeats(beatsMs: Float64Array, strokes: Strokes): readonly Float64Array[] {
  const { kinds } = strokes;
  const wide = kinds.length * PARTS_KEPT;
  const features = Array.from({ length: Math.max(0, beatsMs.length - 1) }, () => new Float64Array(wide));
  forStrokes(beatsMs, strokes, (row, beat, share) => {
    const part = Math.round(share * PARTS_KEPT);
    const [at, in_] = part === PARTS_KEPT ? [beat + 1, 0] : [beat, part];
    const feature = features[at];
    if (feature) feature[strokes.voices[row]! * PARTS_KEPT + in_]! += strokes.weights[row]!;
  });
  return features;
}

/** In half time two bars of four are one figure. */
const likenessOf = (features: readonly Float64Array[], length: number, isFour: boolean) =>
  isFour ? Math.max(likeness(features, 4), likeness(features, 8) - BONUS_OF_FOUR) : likeness(features, length);

/** How alike beats are that lie so many apart, 0 to 1. */
function likeness(features: readonly Float64Array[], apart: number): number {
  let sum = 0;
  let count = 0;
  for (let beat = 0; beat + apart < features.length; beat++) {
    const [a, b] = [features[beat]!, features[beat + apart]!];
    let dot = 0;
    let aa = 0;
    let bb = 0;
    for (let index = 0; index < a.length; index++) {
      dot += a[index]! * b[index]!;
      aa += a[index]! ** 2;
      bb += b[index]! ** 2;
    }
    if (aa === 0 && bb === 0) continue;
    sum += aa === 0 || bb === 0 ? 0 : dot / Math.sqrt(aa * bb);
    count++;
  }
  return count === 0 ? 0 : sum / count;
}

/** How much more a beat says that the playing begins on, by a kick or a cymbal: who counts in begins with the bar. */
const FIRST_SAYS_SHARE = 0.25;

function findFirst(beatsMs: Float64Array, strokes: Strokes, beatsPerBar: number): number {
  const says = new Float64Array(beatsPerBar);
  let firstStrong = -1;
  forStrokes(beatsMs, strokes, (row, beat, share) => {
    const isOn = share < NEAR_SHARE || share > 1 - NEAR_SHARE;
    if (!isOn) return;
    const at = share > 0.5 ? beat + 1 : beat;
    const kind = strokes.kinds[strokes.voices[row]!]!;
    if (firstStrong < 0 && SAYS_ONE[kind] > 0) firstStrong = at % beatsPerBar;
    says[at % beatsPerBar]! += SAYS_ONE[kind] * strokes.weights[row]!;
  });
  if (firstStrong >= 0) says[firstStrong]! += FIRST_SAYS_SHARE * Math.max(0, ...says);
  return says.reduce((best, value, index) => (value > says[best]! + 1e-9 ? index : best), 0);
}

/** A shuffle has only the last of three; where the middle one is played as well, beats are of three. */
export function areBeatsOfThree(beatsMs: Float64Array, strokes: Strokes): boolean {
  let thirds = 0;
  let middles = 0;
  let halves = 0;
  forStrokes(beatsMs, strokes, (_, __, share) => {
    const near = (place: number) => Math.abs(share - place) < NEAR_SHARE / 1.5;
    if (near(1 / 3)) middles++;
    if (near(1 / 3) || near(2 / 3)) thirds++;
    if (near(1 / 2) || near(1 / 4) || near(3 / 4)) halves++;
  });
  return thirds > 4 * halves && middles > 0.3 * thirds;
}

function forStrokes(
  beatsMs: Float64Array,
  { timesMs }: Strokes,
  visit: (row: number, beat: number, share: number) => void,
): void {
  let beat = 0;
  for (let row = 0; row < timesMs.length; row++) {
    const ms = timesMs[row]!;
    while (beat + 2 < beatsMs.length && ms >= beatsMs[beat + 1]!) beat++;
    const share = (ms - beatsMs[beat]!) / (beatsMs[beat + 1]! - beatsMs[beat]!);
    if (share >= 0 && share <= 1) visit(row, beat, share);
  }
}
