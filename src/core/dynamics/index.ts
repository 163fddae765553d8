export { findRoleBorders } from "./find-roles.ts";
export { bordersOf, ROLES, type Role, type RoleBorders, roleOf, rolesOf } from "./roles.ts";
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
