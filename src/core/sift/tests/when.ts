import { grid as gridShape } from "../../document/shapes/values.ts";
import { type Limit, shapeOf } from "../../limit.ts";
import type { Grid } from "../../time/index.ts";
import { isAtPlace, isOnStep, PLACES, type Place } from "../../timing/places.ts";
import { fromTo, oneOf, some, type TestKind } from "./test-kind.ts";

// When hits are played: at which place of the bar, and in which bars.

export interface PlacesTest {
  readonly kind: "places";
  readonly places: readonly Place[];
}

const PLACE_WORDS: Readonly<Record<Place, string>> = {
  downBeats: "on beat 1",
  beats: "on the beats",
  backBeats: "on the back-beats",
  offBeats: "on the off-beats",
  betweens: "between beats and off-beats",
  triplets: "on triplets of the beat",
};

export const places: TestKind<PlacesTest> = {
  name: "a place in the bar",
  first: { kind: "places", places: ["offBeats"] },
  fields: { places: some({ enum: PLACES }) },
  place: "condition",
  phrase: (test) => [
    {
      kind: "choice",
      label: "Place in the bar",
      chosenIds: test.places,
      choices: PLACES.map((place) => ({ id: place, name: PLACE_WORDS[place] })),
      set: (place) => ({ ...test, places: [oneOf(PLACES, place)] }),
    },
  ],
  holds: (test, one, asked) => test.places.some((place) => isAtPlace(asked.placeOf(one), place, asked.ppq)),
};

/** Steps of a grid, counted from 1 at each bar line. */
export interface StepsTest {
  readonly kind: "steps";
  readonly grid: Grid;
  readonly steps: readonly number[];
}

export const steps: TestKind<StepsTest> = {
  name: "steps of the bar",
  first: { kind: "steps", grid: { family: "straight", denominator: 16 }, steps: [1] },
  fields: { grid: gridShape, steps: some({ type: "integer", minimum: 1, maximum: 256 }) },
  place: "condition",
  phrase: (test) => [
    "on ",
    { kind: "steps", grid: test.grid, steps: test.steps, set: (grid, wanted) => ({ ...test, grid, steps: wanted }) },
    " of the bar",
  ],
  holds: (test, one, asked) => isOnStep(asked.placeOf(one), test.grid, test.steps, asked.ppq),
};

const FIRST_BAR: Limit = { label: "From bar", min: 1, max: 100_000, step: 1, unit: "", isWhole: true };
const LAST_BAR: Limit = { ...FIRST_BAR, label: "To bar" };

/** Counted from 1. Both ends are included. */
export interface BarsTest {
  readonly kind: "bars";
  readonly from: number;
  readonly to: number;
}

export const bars: TestKind<BarsTest> = {
  name: "some bars",
  first: { kind: "bars", from: 1, to: 4 },
  fields: { from: shapeOf(FIRST_BAR), to: shapeOf(LAST_BAR) },
  place: "condition",
  phrase: (test) => ["in bars ", ...fromTo(test, FIRST_BAR, LAST_BAR)],
  holds({ from, to }, one, asked) {
    const bar = asked.placeOf(one).bar.barIndex + 1;
    return bar >= from && bar <= to;
  },
};
