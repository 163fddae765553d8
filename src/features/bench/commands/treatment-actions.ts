import { bakeIn, changeTiming, takeOffLatency } from "../../../core/commands/index.ts";
import { type Hit, isTreated } from "../../../core/document/index.ts";
import { recipeOf, type TimingRecipe, withRecipe } from "../../../core/recipe.ts";
import { remembering } from "../../../core/remember.ts";
import { type FoundLatency, type FreeOpening, findLatency, type LateReading } from "../../../core/study/index.ts";
import { withoutTicks } from "../../../core/time/index.ts";
import { AS_RECORDED, withException } from "../../../core/timing/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { keepCopiedSettings, readCopiedSettings } from "../../../store/bench/copied-settings.ts";
import { hitCount, workingLane } from "./actions.ts";
import { meantStretch } from "./write-actions.ts";

// What is done with the treatments of lanes as a whole: taking them from the shelf, giving them on, and baking them in.

type Said = string | null;

/** How voices would be treated by a recipe; to be shown, or to be done. */
export function recipeEdit(
  { pattern }: Pick<BenchState, "pattern">,
  voiceIds: ReadonlySet<string>,
  recipe: TimingRecipe,
) {
  return changeTiming(pattern, voiceIds, (timing) => withRecipe(timing, recipe));
}

/** Treats the open lane as another one is: each keeps its own grid. */
export function giveSettings({ store }: Bench, toVoiceIds: ReadonlySet<string>): Said {
  const state = store.getState();
  const lane = workingLane(state);
  if (!lane) return "Open a lane first.";
  const names = state.lanes.filter(({ voiceId }) => toVoiceIds.has(voiceId)).map(({ voice }) => voice.name);
  const toWhom = names.length === 1 ? names[0]! : `${names.length} voices`;
  store.commit(
    `Treat ${toWhom} like ${lane.voice.name}`,
    recipeEdit(state, toVoiceIds, recipeOf(lane.treatment.timing)),
  );
  return `${toWhom} ${names.length === 1 ? "is" : "are"} treated like ${lane.voice.name} now, each on its own grid.`;
}

export function copySettings({ store }: Bench): Said {
  const lane = workingLane(store.getState());
  if (!lane) return "Open a lane first.";
  if (!keepCopiedSettings(recipeOf(lane.treatment.timing))) return "The browser has no room to keep settings in.";
  return `Copied the settings of ${lane.voice.name}. They can be put on any lane, of other projects too.`;
}

export function pasteSettings({ store }: Bench): Said {
  const state = store.getState();
  const lane = workingLane(state);
  if (!lane) return "Open a lane first.";
  const recipe = readCopiedSettings();
  if (!recipe) return "No settings are copied yet.";
  store.commit(`Put copied settings on ${lane.voice.name}`, recipeEdit(state, new Set([lane.voiceId]), recipe));
  return `${lane.voice.name} has the copied settings now, on its own grid.`;
}

export type BakeScope = "voice" | "stretch" | "all";

/** Makes cleaned places the hits' own: of the open voice, of the loop or the bars in view of it, or of all voices. */
export function bakeInScope({ store }: Bench, scope: BakeScope): Said {
  const state = store.getState();
  if (state.scopeId !== null)
    return "Patterns share the hits of the take, so baking in works on its own settings. Choose those of the take first.";
  const lane = workingLane(state);
  if (!lane && scope !== "all") return "Open a lane first.";
  const meant = scope === "all" ? state.lanes : [lane!];
  if (!meant.some(({ treatment }) => isTreated(treatment)))
    return "Nothing is treated there, so there is nothing to bake in.";
  const range = scope === "stretch" ? meantStretch(state) : null;
  const edit = bakeIn(state.pattern, new Set(meant.map(({ voiceId }) => voiceId)), range);
  const what = scope === "all" ? "all voices" : lane!.voice.name;
  const where = scope === "stretch" ? (state.loop ? " in the loop" : " in the bars in view") : "";
  const before = new Map(state.pattern.hits.map((hit) => [hit.id, hit]));
  store.commit(`Bake in ${what}${where}`, edit);
  const pinned = store.getState().pattern.hits.filter((hit) => hit !== before.get(hit.id)).length;
  const rest = scope === "stretch" ? "" : " Its steps are off: what they did is in the hits.";
  return `Baked ${hitCount(pinned)} of ${what}${where} in.${scope === "all" ? "" : rest}`;
}

type Told = Pick<BenchState, "lanes" | "summaries" | "pattern">;

/** How late the whole take came in; null if nothing says that it did, or it was taken off already. */
export function latencyOf(state: Told): FoundLatency | null {
  const { lanes, summaries } = state;
  // Against beats that are not those of the player nothing is late.
  if (lanes.some(({ treatment }) => treatment.timing.latencyMs !== 0) || isOffTheCount(state)) return null;
  return findLatency(
    lanes.map(({ voiceId, hits }) => ({ found: summaries.get(voiceId)?.found ?? null, hitCount: hits.length })),
  );
}

/** Takes the latency off every voice, and quantizes none. */
export function correctLatency({ store }: Bench, latencyMs: number): Said {
  const { pattern } = store.getState();
  store.commit(`Take ${latencyMs} ms of latency off`, takeOffLatency(pattern, latencyMs));
  return `Took ${latencyMs} ms off all ${pattern.lanes.length} voices. One undo takes it back.`;
}

/** Another reading of how late the take came in, where it is nearly as likely: a step apart from the one that is followed. */
export function otherReading(state: Told & Pick<BenchState, "lateness">): LateReading | null {
  const { lateness, pattern } = state;
  // Asked on every frame of a drag: of most takes there is none, and no hit has to be looked at.
  if (!lateness?.runnerUp || lateness.confidence >= SURE_READING) return null;
  // What was played in here was played to a click, and what its input is late by is taken off.
  return hasPlayedIn(pattern.hits) || isOffTheCount(state) ? null : lateness.runnerUp;
}

const rememberPlayedIn = remembering<readonly Hit[], boolean>();
const hasPlayedIn = (hits: readonly Hit[]) =>
  rememberPlayedIn(hits, [], () => hits.some(({ pass }) => pass !== undefined));

/** Surer than this, nobody is asked. */
const SURE_READING = 0.93;

/** Follows the other reading: every voice on the slots that it was played for if that is right. */
export async function followReading({ store }: Bench, { lateMs }: LateReading): Promise<Said> {
  // What finds grids is large, and hardly ever asked for in the page.
  const file = await import("../../../core/commands/read-late.ts").catch(() => null);
  if (!file) return "What reads a take could not be fetched: the server does not answer. Nothing was changed.";
  store.commit(`Read the take as ${lateWords(lateMs)}`, file.readLate(store.getState().pattern, lateMs));
  return `Every voice is on the slots of a take that came in ${lateWords(lateMs)}.`;
}

/** `20 ms late`, `on time`. */
export function lateWords(lateMs: number): string {
  const ms = Math.round(Math.abs(lateMs) * 2) / 2;
  return ms === 0 ? "on time" : `${ms} ms ${lateMs > 0 ? "late" : "early"}`;
}

/** The opening that was played freely; null where there is none, or where a lane leaves its bars as played already. */
export function openingOf({ opening, lanes, pattern }: Pick<BenchState, "opening" | "lanes" | "pattern">) {
  // On a time of its own a take has been followed.
  if (!opening || pattern.timeline || hasPlayedIn(pattern.hits)) return null;
  const isLeft = lanes.some(({ treatment }) =>
    treatment.timing.exceptions?.some(({ startTick, strengthPercent }) => startTick === 0 && strengthPercent === 0),
  );
  return isLeft ? null : opening;
}

/** Leaves the bars of a free opening as they were played, in every voice. */
export function leaveOpening({ store }: Bench, { bars, endTick }: FreeOpening): Said {
  const { pattern } = store.getState();
  const all = new Set(pattern.lanes.map(({ voiceId }) => voiceId));
  const edit = changeTiming(pattern, all, ({ stretches = [], ...timing }) => {
    // Grids that an earlier version found there say nothing.
    const kept = withoutTicks(stretches, 0, endTick);
    const exceptions = withException(timing.exceptions ?? [], 0, endTick, AS_RECORDED);
    return { ...timing, ...(kept.length > 0 ? { stretches: kept } : {}), exceptions };
  });
  store.commit(`Leave bars 1 to ${bars} as played`, edit);
  return `Bars 1 to ${bars} stay as they were played, whatever is done to the rest.`;
}

/** Whether most of what was played fits no grid: the beats of the file are not those of the player. What was played in here had a click. */
export function isOffTheCount({ lanes, summaries, pattern }: Told): boolean {
  let poor = 0;
  let all = 0;
  for (const { voiceId, hits } of lanes) {
    const found = summaries.get(voiceId)?.found;
    if (!found) continue;
    all += hits.length;
    if (found.isPoor) poor += hits.length;
  }
  return all >= FEWEST_HITS && poor > 0.6 * all && !hasPlayedIn(pattern.hits);
}

/** With fewer there is nothing to find a tempo in. */
const FEWEST_HITS = 40;
