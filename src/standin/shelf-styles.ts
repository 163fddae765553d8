import { every, STYLES, type Style } from "./styles.ts";

/** What a style of the shelf has beside how it keeps time: the words that it is looked for by, and how it swings. */
export interface ShelfStyle extends Style {
  readonly words: readonly string[];
  /** What keeps time: hats, ride, or a cross-stick over the hats. */
  readonly hand: "hat" | "ride";
  readonly backBeat: "snare" | "snare.cross-stick";
  readonly swing?: { readonly denominator: 8 | 16; readonly percent: number };
}

const usual = { hand: "hat", backBeat: "snare" } as const;
const fourFour = { ...usual, numerator: 4, denominator: 4, steps: 16, openSteps: [] } as const;
const known = (name: string) => {
  const style = STYLES[name];
  if (!style) throw new Error(`There is no style “${name}”.`);
  return style;
};

/** Straight and swung, half-time, in three, five, six, seven and twelve. */
export const SHELF_STYLES: Readonly<Record<string, ShelfStyle>> = {
  eighths: { ...usual, ...known("eighths"), words: ["straight", "driving"] },
  sixteenths: { ...usual, ...known("sixteenths"), words: ["straight", "busy"] },
  halfTime: { ...usual, ...known("halfTime"), words: ["half-time", "heavy"] },
  floor: { ...usual, ...known("floor"), words: ["four on the floor", "dance"] },
  shuffle: { ...usual, ...known("shuffle"), words: ["shuffle", "swung"] },
  sixEight: { ...usual, ...known("sixEight"), words: ["compound", "rolling"] },
  sevenEight: { ...usual, ...known("sevenEight"), words: ["odd", "driving"] },
  fiveFour: { ...usual, ...known("fiveFour"), words: ["odd", "straight"] },
  funk: {
    ...fourFour,
    bpm: [88, 112],
    timeSteps: every(1, 16),
    backBeats: [4, 12],
    kickSteps: [0, 10],
    kickMaybe: [2, 3, 7, 11, 14],
    ghostMaybe: [1, 5, 7, 9, 13, 15],
    swing: { denominator: 16, percent: 56 },
    words: ["funk", "ghosted", "swung"],
  },
  halfShuffle: {
    ...fourFour,
    steps: 24,
    bpm: [80, 104],
    timeSteps: [0, 2, 3, 5, 6, 8, 9, 11, 12, 14, 15, 17, 18, 20, 21, 23],
    backBeats: [12],
    kickSteps: [0],
    kickMaybe: [5, 9, 15, 17, 20, 21],
    ghostMaybe: [4, 7, 10, 16, 19, 22],
    words: ["shuffle", "half-time", "ghosted"],
  },
  ballad: {
    ...fourFour,
    bpm: [60, 82],
    backBeat: "snare.cross-stick",
    timeSteps: every(2, 16),
    backBeats: [4, 12],
    kickSteps: [0, 8],
    kickMaybe: [6, 7, 10, 14],
    ghostMaybe: [],
    words: ["slow", "soft", "cross-stick"],
  },
  rideSwing: {
    ...fourFour,
    steps: 12,
    bpm: [110, 180],
    hand: "ride",
    timeSteps: [0, 3, 5, 6, 9, 11],
    backBeats: [],
    kickSteps: [0],
    kickMaybe: [3, 5, 6, 9],
    ghostMaybe: [2, 5, 7, 8, 11],
    words: ["swung", "ride", "light"],
  },
  train: {
    ...fourFour,
    bpm: [150, 210],
    timeSteps: every(4, 16),
    backBeats: [4, 12],
    kickSteps: [0, 8],
    kickMaybe: [6, 14],
    ghostMaybe: [1, 2, 3, 5, 6, 7, 9, 10, 11, 13, 14, 15],
    words: ["train", "busy", "ghosted"],
  },
  clave: {
    ...fourFour,
    bpm: [96, 140],
    hand: "ride",
    backBeat: "snare.cross-stick",
    timeSteps: every(2, 16),
    backBeats: [0, 3, 6, 10, 12],
    kickSteps: [0, 8],
    kickMaybe: [6, 7, 14, 15],
    ghostMaybe: [],
    words: ["latin", "cross-stick", "straight"],
  },
  waltz: {
    ...usual,
    numerator: 3,
    denominator: 4,
    steps: 12,
    openSteps: [],
    bpm: [90, 170],
    timeSteps: every(2, 12),
    backBeats: [4, 8],
    kickSteps: [0],
    kickMaybe: [2, 6, 10],
    ghostMaybe: [3, 5, 7, 11],
    words: ["three", "waltz"],
  },
  slowSix: {
    ...usual,
    numerator: 6,
    denominator: 8,
    steps: 12,
    openSteps: [],
    bpm: [54, 76],
    hand: "ride",
    backBeat: "snare.cross-stick",
    timeSteps: every(2, 12),
    backBeats: [6],
    kickSteps: [0],
    kickMaybe: [4, 5, 10],
    ghostMaybe: [],
    words: ["compound", "slow", "cross-stick"],
  },
  twelveEight: {
    ...usual,
    numerator: 12,
    denominator: 8,
    steps: 24,
    openSteps: [],
    bpm: [60, 96],
    timeSteps: every(2, 24),
    backBeats: [6, 18],
    kickSteps: [0],
    kickMaybe: [4, 10, 12, 16, 22],
    ghostMaybe: [3, 9, 15, 17, 21],
    words: ["compound", "slow blues"],
  },
};
