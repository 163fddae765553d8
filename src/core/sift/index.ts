export { isAtPlace, isOnStep, offBeatsOf, PLACES, type Place, type PlaceInBar, placeInBar } from "../timing/places.ts";
export { describeHits } from "./describe-hits.ts";
export { ALL_HITS, type Sift, type SiftClause } from "./rule.ts";
export { siftSentence, testWords } from "./sentence.ts";
export { siftHits } from "./sift-hits.ts";
export { type SiftedHit, type SiftLane, siftLanesOf } from "./sift-lane.ts";
export { COMPANIES, type Company } from "./tests/how.ts";
export { kindOfTest, type SiftTest, TEST_KINDS } from "./tests/index.ts";
