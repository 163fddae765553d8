export { findRoleBorders, type Role, type RoleBorders, roleOf } from "./roles.ts";
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
