import { arranging, type Edit, FULLNESS_LIMITS, USUAL_FULLNESS } from "../../../core/document/index.ts";
import { changePattern, NO_ARRANGEMENT, scopeOf } from "../../../core/song/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";

// How full the part is played: of the take, or of the pattern that it is seen through.

export function fullnessEdit({ pattern, scopeId }: BenchState, percent: number): Edit {
  const { arrangement = NO_ARRANGEMENT, fullness = USUAL_FULLNESS } = pattern;
  const rounded = Math.round(percent);
  const scope = scopeOf(pattern, scopeId);
  if (!scope) return { kind: "setFullness", from: pattern.fullness ?? null, to: { ...fullness, percent: rounded } };
  const wanted = changePattern(arrangement, scope.id, () => ({ fullnessPercent: rounded }));
  return { kind: "arrange", ...arranging(arrangement, wanted) };
}

/** Others of the hits that are played sometimes are played. */
export function rerollFullness({ store }: Bench): string {
  const { pattern } = store.getState();
  const { fullness = USUAL_FULLNESS } = pattern;
  const some = pattern.hits.filter(({ chance }) => chance).length;
  if (some === 0) return "Every hit is played always. Select some, and choose how often with Sometimes.";
  const seed = (fullness.seed % FULLNESS_LIMITS.seed.max) + 1;
  store.commit("Re-roll what is played sometimes", {
    kind: "setFullness",
    from: pattern.fullness ?? null,
    to: { ...fullness, seed },
  });
  return `Drew ${some === 1 ? "1 hit" : `${some.toLocaleString("en")} hits`} anew.`;
}
