import { revoiceHits } from "../../../core/commands/index.ts";
import { findVoice } from "../../../core/document/index.ts";
import { type Bar, barAt, tickToBarBeat } from "../../../core/time/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { heardBetween } from "../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { hitCount } from "../commands/actions.ts";

// What is done to the end of a bar, so that the next one begins with weight: a break, or an open hat.

/** The bar before the bar line at the playhead, or before the next one; null at the start of the take. */
function barBefore({ playheadTick, maps: { meterMap } }: BenchState): Bar | null {
  const bar = barAt(meterMap, playheadTick);
  const line = playheadTick <= bar.startTick ? bar.startTick : bar.endTick;
  return line <= 0 ? null : barAt(meterMap, line - 1);
}

const NO_BAR = "There is no bar before this one. Put the playhead where the next part begins.";

/**
 * Silence before a bar line: everything in the last beats of the bar is muted, except the drums of the selected hits, which go on.
 * @param beats how many of them, at most all that the bar has
 */
export function cutBreak({ store }: Bench, beats: number): string {
  const state = store.getState();
  const bar = barBefore(state);
  if (!bar) return NO_BAR;
  const first = bar.pulseTicks[Math.max(0, bar.pulseTicks.length - beats)]!;
  const goingOn = new Set(state.pattern.hits.flatMap(({ id, voiceId }) => (state.picked.has(id) ? [voiceId] : [])));
  const silenced = heardBetween(state.lanes, bar.startTick + first, bar.endTick).filter(
    ({ hit }) => !goingOn.has(hit.voiceId),
  );
  const where = beats === 1 ? "the last beat" : `the last ${beats} beats`;
  if (silenced.length === 0) return `Nothing sounds in ${where} of bar ${bar.barIndex + 1}.`;
  store.commit(`Break before bar ${bar.barIndex + 2}`, {
    kind: "muteHits",
    hitIds: silenced.map(({ hit }) => hit.id),
    toIsMuted: true,
  });
  const names = [...goingOn].map((voiceId) => findVoice(state.pattern.noteMap, voiceId).name.toLowerCase());
  const rest = names.length === 0 ? "" : `; ${names.join(" and ")} ${names.length === 1 ? "goes" : "go"} on`;
  return `Muted ${hitCount(silenced.length)} in ${where} of bar ${bar.barIndex + 1}${rest}.`;
}

/** A hat on the beat itself is no off-beat: it lies at least this share of a beat after it. */
const OFF_BEAT_SHARE = 0.2;

/** The last hat of the bar before the playhead's is opened, if it is on an off-beat. */
export function openLastHat({ store }: Bench): string {
  const state = store.getState();
  const bar = barBefore(state);
  if (!bar) return NO_BAR;
  const { noteMap } = state.pattern;
  const beat = bar.startTick + bar.pulseTicks.at(-1)!;
  const from = beat + (bar.endTick - beat) * OFF_BEAT_SHARE;
  const hats = heardBetween(state.lanes, from, bar.endTick).filter(
    ({ hit }) => findVoice(noteMap, hit.voiceId).family === "hats",
  );
  const last = hats.toSorted((a, b) => b.tick - a.tick)[0];
  const open = last && findVoice(noteMap, last.hit.voiceId).articulations.find(({ mark }) => mark === "open");
  if (!last || !open) return `No hat is struck on the last off-beat of bar ${bar.barIndex + 1}.`;
  if (last.hit.articulationId === open.id) return `The last hat of bar ${bar.barIndex + 1} is open already.`;
  const { barIndex, beatIndex } = tickToBarBeat(state.maps.meterMap, last.tick);
  const meaning = { voiceId: last.hit.voiceId, articulationId: open.id };
  store.commit(`Open hat before bar ${barIndex + 2}`, revoiceHits(state.pattern, [last.hit], meaning));
  return `Opened the last hat of bar ${barIndex + 1}, after beat ${beatIndex + 1}.`;
}
