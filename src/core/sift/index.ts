export { describeHits } from "./describe-hits.ts";
export { isAtPlace, isOnStep, offBeatsOf, type PlaceInBar, placeInBar } from "./places.ts";
export {
  ALL_HITS,
  COMPANIES,
  type Company,
  PLACES,
  type Place,
  type Sift,
  type SiftClause,
  type SiftTest,
} from "./rule.ts";
export { COMPANY_WORDS, PLACE_WORDS, type SiftNames, siftSentence, testWords } from "./sentence.ts";
export { type SiftedHit, type SiftLane, siftHits, siftLanesOf } from "./sift-hits.ts";
