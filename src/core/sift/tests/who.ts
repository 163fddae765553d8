import { FAMILIES, type Family, ROLES, type Role } from "../../document/index.ts";
import { id } from "../../json-shape.ts";
import { oneOf, some, type TestKind } from "./test-kind.ts";

// Which hits: by drum, family, stroke and role.

export interface VoicesTest {
  readonly kind: "voices";
  readonly voiceIds: readonly string[];
}

export const voices: TestKind<VoicesTest> = {
  name: "a drum",
  first: { kind: "voices", voiceIds: [] },
  fields: { voiceIds: some(id) },
  place: "noun",
  phrase: (test) => [{ kind: "voices", voiceIds: test.voiceIds, set: (voiceId) => ({ ...test, voiceIds: [voiceId] }) }],
  holds: ({ voiceIds }, { hit }) => voiceIds.includes(hit.voiceId),
};

export interface FamiliesTest {
  readonly kind: "families";
  readonly families: readonly Family[];
}

const FAMILY_WORDS: Readonly<Record<Family, string>> = {
  cymbals: "cymbal",
  hats: "hat",
  snare: "snare",
  toms: "tom",
  kick: "kick",
  percussion: "percussion",
};

export const families: TestKind<FamiliesTest> = {
  name: "a family of drums",
  first: { kind: "families", families: ["hats"] },
  fields: { families: some({ enum: FAMILIES }) },
  place: "noun",
  phrase: (test) => [
    {
      kind: "choice",
      label: "Family",
      chosenIds: test.families,
      choices: FAMILIES.map((family) => ({ id: family, name: FAMILY_WORDS[family] })),
      set: (family) => ({ ...test, families: [oneOf(FAMILIES, family)] }),
    },
  ],
  holds: (test, { lane }) => test.families.includes(lane.voice.family),
};

export interface StrokeTest {
  readonly kind: "stroke";
  readonly voiceId: string;
  readonly articulationId: string;
}

export const stroke: TestKind<StrokeTest> = {
  name: "a stroke",
  first: { kind: "stroke", voiceId: "hat", articulationId: "closed" },
  fields: { voiceId: id, articulationId: id },
  place: "noun",
  phrase: (test) => [{ kind: "stroke", meaning: test, set: (meaning) => ({ ...test, ...meaning }) }],
  holds: ({ voiceId, articulationId }, { hit }) => hit.voiceId === voiceId && hit.articulationId === articulationId,
};

export interface RolesTest {
  readonly kind: "roles";
  readonly roles: readonly Role[];
}

const ROLE_WORDS: Readonly<Record<Role, string>> = { ghost: "ghosts", stroke: "normal hits", accent: "accents" };

export const roles: TestKind<RolesTest> = {
  name: "ghosts, normal hits or accents",
  first: { kind: "roles", roles: ["ghost"] },
  fields: { roles: some({ enum: ROLES }) },
  place: "role",
  phrase: (test) => [
    {
      kind: "choice",
      label: "Role",
      chosenIds: test.roles,
      choices: ROLES.map((role) => ({ id: role, name: ROLE_WORDS[role] })),
      set: (role) => ({ ...test, roles: [oneOf(ROLES, role)] }),
    },
  ],
  holds: (test, { lane, row }) => test.roles.some((role) => ROLES.indexOf(role) === lane.roles[row]),
};
