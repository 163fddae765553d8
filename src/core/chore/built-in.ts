import type { SiftClause, SiftTest } from "../sift/index.ts";
import type { ChoreAct } from "./acts/index.ts";
import type { Chore, ChoreStep } from "./chore.ts";

const only = (...tests: SiftTest[]): SiftClause => ({ anyOf: tests });
const not = (...tests: SiftTest[]): SiftClause => ({ not: true, anyOf: tests });
const hats: SiftTest = { kind: "families", families: ["hats"] };
const snares: SiftTest = { kind: "families", families: ["snare"] };
const kicks: SiftTest = { kind: "families", families: ["kick"] };
const footHats: SiftTest = { kind: "stroke", voiceId: "hat", articulationId: "foot" };
const openHats: SiftTest = { kind: "stroke", voiceId: "hat", articulationId: "open" };
const rides: SiftTest = { kind: "voices", voiceIds: ["ride", "ride-2"] };
const places = (...wanted: Extract<SiftTest, { kind: "places" }>["places"]): SiftTest => ({
  kind: "places",
  places: wanted,
});
const roles = (...wanted: Extract<SiftTest, { kind: "roles" }>["roles"]): SiftTest => ({
  kind: "roles",
  roles: wanted,
});

const step = (clauses: readonly SiftClause[], ...acts: ChoreAct[]): ChoreStep => ({ sift: { clauses }, acts });
const everySecond = (clauses: readonly SiftClause[], ...acts: ChoreAct[]): ChoreStep => ({
  sift: { clauses, nth: { every: 2, from: 2, perBar: true } },
  acts,
});

/** The chores that come with the application. */
export const CHORES: readonly Chore[] = [
  {
    id: "second-hats-softer",
    name: "Every second hat softer",
    steps: [everySecond([only(hats), not(footHats, openHats)], { kind: "scale", percent: 70 })],
  },
  {
    id: "second-hats-late",
    name: "Every second hat a little late",
    steps: [everySecond([only(hats), not(footHats)], { kind: "shiftMs", ms: 7 })],
  },
  {
    id: "back-beat-up",
    name: "Lift the back-beat",
    steps: [
      step([only(snares), only(places("beats")), not(places("downBeats"), roles("ghost"))], {
        kind: "add",
        velocity: 8,
      }),
    ],
  },
  {
    id: "soften-ghosts",
    name: "Soften ghosts, keep their shape",
    steps: [step([only(roles("ghost")), not(hats)], { kind: "scale", percent: 75 })],
  },
  {
    id: "ghosts-alike",
    name: "Bring ghosts closer together",
    steps: [step([only(snares), only(roles("ghost"))], { kind: "evenOut", percent: 50 })],
  },
  {
    id: "foot-quieter",
    name: "Foot hats quieter",
    steps: [step([only(footHats)], { kind: "scale", percent: 65 })],
  },
  {
    id: "ride-quarters",
    name: "Thin the ride to the beats",
    steps: [step([only(rides), not(places("beats"))], { kind: "mute" })],
  },
  { id: "kick-out", name: "Kick to a pattern of its own", steps: [step([only(kicks)], { kind: "takeOut" })] },
  {
    id: "snare-back",
    name: "Lean the snare back",
    steps: [step([only(snares), not(roles("ghost"))], { kind: "shiftMs", ms: 6 })],
  },
  {
    id: "off-beats-up",
    name: "Lift the off-beat hats",
    steps: [step([only(hats), only(places("offBeats"))], { kind: "scale", percent: 118 })],
  },
  {
    id: "calm-hard",
    name: "Calm what is hit too hard",
    steps: [step([only({ kind: "velocity", from: 118, to: 127 })], { kind: "scale", percent: 92 })],
  },
  {
    id: "downs-first",
    name: "Kick first: down-beats louder, the rest a little softer",
    steps: [
      step([only(kicks), only(places("downBeats"))], { kind: "add", velocity: 8 }),
      step([only(kicks), not(places("downBeats"))], { kind: "scale", percent: 94 }),
    ],
  },
  {
    id: "build-bar",
    name: "Let every bar of snares grow",
    steps: [step([only(snares)], { kind: "contour", contour: "slow start", from: 45, to: 112, span: "every bar" })],
  },
];
