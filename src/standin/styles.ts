import type { Random } from "./random.ts";
import type { WrittenBar, WrittenPart } from "./written-part.ts";

/** A way of playing time, from which any number of parts can be drawn up. Steps are even over the bar. */
export interface Style {
  readonly numerator: number;
  readonly denominator: number;
  readonly bpm: readonly [slowest: number, fastest: number];
  readonly steps: number;
  /** Where the hand that keeps time strikes. */
  readonly timeSteps: readonly number[];
  /** Where the hats are opened throughout, as in dance music. */
  readonly openSteps: readonly number[];
  readonly backBeats: readonly number[];
  readonly kickSteps: readonly number[];
  readonly kickMaybe: readonly number[];
  readonly ghostMaybe: readonly number[];
}

export const every = (step: number, steps: number) =>
  Array.from({ length: Math.ceil(steps / step) }, (_, index) => index * step);
const common = { numerator: 4, denominator: 4, steps: 16, openSteps: [] } as const;

/** Straight, driving, half-time, shuffled, four on the floor, and in odd and compound meters. */
export const STYLES: Readonly<Record<string, Style>> = {
  eighths: {
    ...common,
    bpm: [84, 150],
    timeSteps: every(2, 16),
    backBeats: [4, 12],
    kickSteps: [0],
    kickMaybe: [6, 8, 10, 14],
    ghostMaybe: [7, 9, 15],
  },
  sixteenths: {
    ...common,
    bpm: [78, 112],
    timeSteps: every(1, 16),
    backBeats: [4, 12],
    kickSteps: [0],
    kickMaybe: [3, 6, 8, 10, 11],
    ghostMaybe: [2, 7, 9, 14],
  },
  halfTime: {
    ...common,
    bpm: [80, 150],
    timeSteps: every(2, 16),
    backBeats: [8],
    kickSteps: [0],
    kickMaybe: [3, 5, 6, 11, 13],
    ghostMaybe: [3, 6, 11, 14],
  },
  floor: {
    ...common,
    bpm: [112, 130],
    timeSteps: every(4, 16),
    openSteps: [2, 6, 10, 14],
    backBeats: [4, 12],
    kickSteps: [0, 4, 8, 12],
    kickMaybe: [],
    ghostMaybe: [],
  },
  shuffle: {
    ...common,
    steps: 12,
    bpm: [90, 138],
    timeSteps: [0, 2, 3, 5, 6, 8, 9, 11],
    backBeats: [3, 9],
    kickSteps: [0],
    kickMaybe: [5, 6, 8],
    ghostMaybe: [2, 5, 8, 10],
  },
  sixEight: {
    ...common,
    numerator: 6,
    denominator: 8,
    steps: 12,
    bpm: [84, 120],
    timeSteps: every(2, 12),
    backBeats: [6],
    kickSteps: [0],
    kickMaybe: [4, 8, 10],
    ghostMaybe: [3, 5, 9],
  },
  sevenEight: {
    ...common,
    numerator: 7,
    denominator: 8,
    steps: 14,
    bpm: [110, 150],
    timeSteps: every(2, 14),
    backBeats: [4, 12],
    kickSteps: [0],
    kickMaybe: [3, 6, 8, 10],
    ghostMaybe: [7, 9],
  },
  fiveFour: {
    ...common,
    numerator: 5,
    denominator: 4,
    steps: 20,
    bpm: [92, 140],
    timeSteps: every(2, 20),
    backBeats: [4, 12],
    kickSteps: [0],
    kickMaybe: [6, 8, 10, 16],
    ghostMaybe: [7, 9, 15],
  },
};

const SECTION_BARS = 8;

/** Draws up a part in a style: verses on the hats, choruses on the ride, a crash at each chorus, and fills on the toms. */
export function drawUpPart(style: Style, random: Random, sections = 4): WrittenPart {
  const [slowest, fastest] = style.bpm;
  const kick = [...style.kickSteps, ...style.kickMaybe.filter(() => random.chance(0.45))];
  const ghosts = style.ghostMaybe.filter((step) => random.chance(0.5) && !kick.includes(step));
  const bars = Array.from({ length: sections * SECTION_BARS }, (_, index) => {
    const section = Math.floor(index / SECTION_BARS);
    const isChorus = section % 2 === 1;
    const inSection = index % SECTION_BARS;
    const isFill = inSection === SECTION_BARS - 1;
    const ownKick =
      inSection % 2 === 1 ? kick.filter((step) => style.kickSteps.includes(step) || random.chance(0.7)) : kick;
    return drawUpBar(style, random, { kick: ownKick, ghosts, isChorus, isFill, hasCrash: isChorus && inSection === 0 });
  });
  const bpm = Math.round(slowest + random.uniform() * (fastest - slowest));
  return { title: "Drawn up", bpm, numerator: style.numerator, denominator: style.denominator, bars };
}

interface BarPlan {
  readonly kick: readonly number[];
  readonly ghosts: readonly number[];
  readonly isChorus: boolean;
  readonly isFill: boolean;
  readonly hasCrash: boolean;
}

function drawUpBar(style: Style, random: Random, { kick, ghosts, isChorus, isFill, hasCrash }: BarPlan): WrittenBar {
  const { steps, backBeats, timeSteps, openSteps } = style;
  // A fill takes over in the last third of its bar.
  const fillFrom = isFill ? Math.floor((steps * 2) / 3) : steps;
  const line = (places: readonly number[], sign: (step: number) => string) =>
    Array.from({ length: steps }, (_, step) => (places.includes(step) && step < fillFrom ? sign(step) : "-")).join("");
  const pulse = (step: number) => (step % (steps / style.numerator) === 0 ? "s" : "g");
  const opened = !isChorus && !isFill && openSteps.length === 0 && random.chance(0.3) ? [timeSteps.at(-1)!] : openSteps;
  const struck = timeSteps.filter((step) => !opened.includes(step) && !(hasCrash && step === 0));
  const fill = (from: number, until: number) =>
    Array.from({ length: steps }, (_, step) => (isFill && step >= from && step < until ? "s" : "-")).join("");
  const third = Math.ceil((steps - fillFrom) / 3);
  const snare = Array.from({ length: steps }, (_, step) =>
    step >= fillFrom
      ? step < fillFrom + third
        ? "s"
        : "-"
      : backBeats.includes(step)
        ? "a"
        : ghosts.includes(step)
          ? "g"
          : "-",
  ).join("");
  return {
    snare,
    kick: line(kick, (step) => (step === 0 ? "a" : "s")),
    ...(isChorus
      ? { ride: line(struck, pulse), "hat.foot": line(backBeats, () => "g") }
      : { hat: line(struck, pulse) }),
    ...(isChorus || opened.length === 0 ? {} : { "hat.open": line(opened, () => "s") }),
    ...(hasCrash ? { crash: line([0], () => "a") } : {}),
    ...(isFill
      ? { "tom-2": fill(fillFrom + third, fillFrom + 2 * third), "tom-5": fill(fillFrom + 2 * third, steps) }
      : {}),
  };
}
