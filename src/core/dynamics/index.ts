export { findRoleBorders, type Role, type RoleBorders, roleOf } from "./roles.ts";
