import { revoiceHits, setNoteMap } from "../../../core/commands/index.ts";
import {
  arranging,
  findVoice,
  type Hit,
  type NoteMap,
  type NoteMeaning,
  strokeName,
} from "../../../core/document/index.ts";
import { type Part, removePart } from "../../../core/file/index.ts";
import { moveVoice, NoteMapError } from "../../../core/notemap/index.ts";
import { addPattern, barsOf, NO_ARRANGEMENT } from "../../../core/song/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { visibleLanes } from "../../../store/bench/bench-selectors.ts";
import { ServerProblem, takeOutPart } from "../../../store/server-api.ts";
import { hitCount } from "../commands/actions.ts";

// What is done to a lane as a whole.

/** Changes the map of the take. Returns why it cannot be, or null if it was. */
export function changeMap({ store }: Bench, label: string, change: (map: NoteMap) => NoteMap): string | null {
  const { pattern } = store.getState();
  try {
    store.commit(label, setNoteMap(pattern, change(pattern.noteMap)));
    return null;
  } catch (error) {
    if (!(error instanceof NoteMapError)) throw error;
    return `${error.message} ${error.remedy}`;
  }
}

/** Moves the open lane past its neighbour, up or down. */
export function moveLane(bench: Bench, voiceId: string | null, direction: 1 | -1): string | null | void {
  const lanes = visibleLanes(bench.store.getState());
  const index = lanes.findIndex((lane) => lane.voiceId === voiceId);
  const lane = lanes[index];
  if (!lane) return "Open a lane first.";
  const neighbour = lanes[index + direction];
  const { voices } = bench.store.getState().pattern.noteMap;
  const isKnown = (candidate: string) => voices.some(({ id }) => id === candidate);
  if (!neighbour) return `${lane.voice.name} is the ${direction === -1 ? "first" : "last"} lane.`;
  if (!isKnown(lane.voiceId) || !isKnown(neighbour.voiceId)) return "Unmapped notes stay below the drums.";
  // Before the neighbour above, or before whatever comes after the one below.
  const after = voices[voices.findIndex(({ id }) => id === neighbour.voiceId) + 1]?.id ?? null;
  const beforeId = direction === -1 ? neighbour.voiceId : after;
  return changeMap(bench, `Move ${lane.voice.name} ${direction === -1 ? "up" : "down"}`, (map) =>
    moveVoice(map, lane.voiceId, beforeId),
  );
}

export function setHidden({ store }: Bench, voiceId: string, isHidden: boolean): void {
  const hidden = new Set(store.getState().hidden);
  if (isHidden) hidden.add(voiceId);
  else hidden.delete(voiceId);
  store.setHidden(hidden);
  if (isHidden && store.getState().openVoiceId === voiceId) store.openLane(null);
}

/** Puts the open lane away. It is heard and exported all the same. */
export function putAway(bench: Bench): string | null | void {
  const { openVoiceId, lanes } = bench.store.getState();
  const lane = lanes.find(({ voiceId }) => voiceId === openVoiceId);
  if (!lane) return "Open a lane first.";
  setHidden(bench, lane.voiceId, true);
  return `${lane.voice.name} is hidden. It is still heard and exported; “Lanes” shows it again.`;
}

export function hideUnused({ store }: Bench): string {
  const { lanes, hidden } = store.getState();
  const empty = lanes.filter((lane) => lane.hits.length === 0 && !hidden.has(lane.voiceId));
  if (empty.length === 0) return "Every lane that is shown has hits.";
  store.setHidden(new Set([...hidden, ...empty.map(({ voiceId }) => voiceId)]));
  return `Hid ${empty.map(({ voice }) => voice.name).join(", ")}.`;
}

/** Moves all hits of a lane to another drum, in one step. */
export function moveAllHits({ store }: Bench, hits: readonly Hit[], meaning: NoteMeaning): string {
  const { pattern } = store.getState();
  const name = strokeName(pattern.noteMap, meaning);
  store.commit(`Move ${hitCount(hits.length)} to ${name}`, revoiceHits(pattern, hits, meaning));
  store.openLane(meaning.voiceId);
  return `Moved ${hitCount(hits.length)} to ${name}.`;
}

/** Makes a pattern of the song in which one voice, or one stroke of it, is heard alone. @returns what it is called */
export function partToPattern({ store }: Bench, part: Part): string {
  const take = store.take();
  const { arrangement = NO_ARRANGEMENT, noteMap } = take;
  const { voiceId, articulationId } = part;
  const name =
    articulationId === null ? findVoice(noteMap, voiceId).name : strokeName(noteMap, { voiceId, articulationId });
  const bars = barsOf(take, store.getState().maps).map((_, bar) => bar);
  const wish = { name, bars, only: [part] };
  const { arrangement: wanted, pattern } = addPattern(arrangement, bars.length, wish, store.newId);
  store.commit(`Extract ${name} to a pattern`, { kind: "arrange", ...arranging(arrangement, wanted) });
  return pattern.name;
}

/**
 * Makes a project of one voice, or one stroke of it, and takes it away from this one unless it shall stay here too.
 * @returns the new project, or what kept it from being made
 */
export async function takeOutToProject(
  { store }: Bench,
  part: Part,
  staysHere: boolean,
): Promise<{ readonly id: string; readonly name: string } | string> {
  // It is made from what is on disk.
  if (!(await store.saved())) return "Your last changes are not saved yet. Try again when it says “Saved”.";
  try {
    const made = await takeOutPart(store.getState().project.id, part);
    const { pattern } = store.getState();
    if (staysHere) return made;
    store.commit(`Extract ${made.name}`, removePart(pattern, part));
    const { openVoiceId, lanes } = store.getState();
    if (lanes.every(({ voiceId }) => voiceId !== openVoiceId)) store.openLane(null);
    return made;
  } catch (error) {
    if (!(error instanceof ServerProblem)) throw error;
    return `${error.problem.message} ${error.problem.remedy}`;
  }
}
