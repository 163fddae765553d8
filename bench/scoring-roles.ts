import { columnsOf, hitsByVoice, ROLES, type Role } from "../src/core/document/index.ts";
import { rolesOf } from "../src/core/dynamics/index.ts";
import { importTake } from "../src/core/file/index.ts";
import { GENERAL_MIDI } from "../src/core/notemap/index.ts";
import { writeMidiFile } from "../src/core/smf/index.ts";
import { buildTimeMaps } from "../src/core/time/index.ts";
import { type Habits, perform } from "../src/standin/perform.ts";
import { createRandom } from "../src/standin/random.ts";
import type { Study } from "../src/standin/studies.ts";

/** Players who hit softly, as most do, and hard: the ghosts of the last reach 70. */
export const PLAYERS: Readonly<Record<string, Habits["velocities"]>> = {
  soft: { ghost: { mean: 22, spread: 5 }, stroke: { mean: 60, spread: 7 }, accent: { mean: 94, spread: 7 } },
  usual: { ghost: { mean: 34, spread: 6 }, stroke: { mean: 82, spread: 8 }, accent: { mean: 112, spread: 6 } },
  "heavy-handed": { ghost: { mean: 56, spread: 7 }, stroke: { mean: 94, spread: 7 }, accent: { mean: 121, spread: 5 } },
};

/** Of one role: hits that have it, that were given it, and both. */
export interface RoleCounts {
  readonly real: number;
  readonly found: number;
  readonly right: number;
}

export interface RoleScore {
  readonly player: string;
  readonly roles: Readonly<Record<Role, RoleCounts>>;
}

/** The harmonic mean of precision and recall, 0 to 1. */
export function f1({ real, found, right }: RoleCounts): number {
  return real + found === 0 ? 1 : (2 * right) / (real + found);
}

/** Plays every part by one of the players in turn, and compares the roles that are found with those that were meant. */
export function scoreRoles(studies: readonly { study: Study; seed: number }[]): readonly RoleScore[] {
  const players = Object.entries(PLAYERS);
  return studies.map(({ study, seed }, index) => {
    const [player, velocities] = players[index % players.length]!;
    const { file, truth } = perform(study.part, { ...study.habits, velocities }, createRandom(seed));
    const { pattern } = importTake(writeMidiFile(file), GENERAL_MIDI);
    const meant = new Map(truth.flatMap(({ id, kind, role }) => (kind === "hit" ? [[id, role] as const] : [])));
    const counts = Object.fromEntries(ROLES.map((role) => [role, { real: 0, found: 0, right: 0 }])) as Record<
      Role,
      { real: number; found: number; right: number }
    >;
    const { meterMap } = buildTimeMaps(pattern);
    for (const hits of hitsByVoice(pattern.hits).values()) {
      const roles = rolesOf(columnsOf(hits), meterMap);
      for (const [row, hit] of hits.entries()) {
        const real = meant.get(hit.id);
        if (!real) continue;
        const found = ROLES[roles[row]!]!;
        counts[real].real++;
        counts[found].found++;
        if (real === found) counts[real].right++;
      }
    }
    return { player, roles: counts };
  });
}

export function sumRoles(scores: readonly RoleScore[], role: Role): RoleCounts {
  const total = (part: keyof RoleCounts) => scores.reduce((sum, { roles }) => sum + roles[role][part], 0);
  return { real: total("real"), found: total("found"), right: total("right") };
}
