import {
  type ChanceTest,
  type CompanyTest,
  chance,
  company,
  type DriftTest,
  drift,
  type PinnedTest,
  pinned,
  type VelocityTest,
  velocity,
} from "./how.ts";
import type { TestKind } from "./test-kind.ts";
import { type BarsTest, bars, type PlacesTest, places, type StepsTest, steps } from "./when.ts";
import {
  type FamiliesTest,
  families,
  type RolesTest,
  roles,
  type StrokeTest,
  stroke,
  type VoicesTest,
  voices,
} from "./who.ts";

/** One thing that a hit is asked. */
export type SiftTest =
  | VoicesTest
  | FamiliesTest
  | StrokeTest
  | RolesTest
  | VelocityTest
  | PlacesTest
  | StepsTest
  | DriftTest
  | BarsTest
  | CompanyTest
  | PinnedTest
  | ChanceTest;

/** Every test, in the order in which they are offered. */
export const TEST_KINDS = {
  voices,
  families,
  stroke,
  roles,
  velocity,
  places,
  steps,
  drift,
  bars,
  company,
  pinned,
  chance,
} satisfies { readonly [Kind in SiftTest["kind"]]: TestKind<Extract<SiftTest, { readonly kind: Kind }>> };

/** The record holds for each kind what answers tests of that kind, which the compiler knows of each and not of any. */
export function kindOfTest(test: SiftTest): TestKind<SiftTest> {
  return TEST_KINDS[test.kind] as unknown as TestKind<SiftTest>;
}
