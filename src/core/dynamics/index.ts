export {
  alongContour,
  CONTOUR_SPANS,
  CONTOURS,
  type Contour,
  type ContourSpan,
  type CopiedContour,
  contourAt,
  copyContour,
  type LoudPlace,
  layContour,
} from "./contour.ts";
export { dynamicsSentence } from "./dynamics-sentence.ts";
export { findRoleBorders } from "./find-roles.ts";
export { type KitProfile, layerAt, layerBorders, parseBorders } from "./kit-profile.ts";
export { type OtherBorders, otherBorders } from "./other-borders.ts";
export { bordersOf, rolesOf } from "./roles.ts";
export { fitIn, type ShapedVelocities, shapeVelocities } from "./shape-lane.ts";
export {
  levelVelocities,
  limitVelocity,
  lineAt,
  meanVelocity,
  type ShapePoint,
  scaleAround,
  scaleVelocities,
  setVelocities,
} from "./shapes.ts";
export {
  type BarDifference,
  barsThatDiffer,
  findAlike,
  type LoudnessSummary,
  summarizeLoudness,
} from "./summary.ts";
