import type { Hit } from "../../../core/document/index.ts";
import { ROLES } from "../../../core/document/index.ts";
import { barAt } from "../../../core/time/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { pickedHits } from "../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { clipboard } from "../../../store/bench/clipboard.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { xToTick } from "../../../store/bench/viewport.ts";
import { setHidden } from "../lanes/lane-actions.ts";
import { boxAt, boxesOf } from "../lanes/lane-layout.ts";
import { hitAtPoint, isBehind, type Point } from "../lanes/under-pointer.ts";
import { hitCount, leftOutIds, toggleVoice } from "./actions.ts";
import { commandById } from "./commands.ts";
import { drawnMarks, drawnTick, paste, strokeOfLane, write } from "./write-actions.ts";

/** One thing that can be done where the pointer is. */
export interface MenuItem {
  readonly id: string;
  readonly name: string;
  /** The command whose key is shown beside it. */
  readonly commandId?: string;
  run(bench: Bench): string | null | void | Promise<string | null>;
}

export interface PointMenu {
  readonly title: string;
  readonly groups: readonly (readonly MenuItem[])[];
}

/** A command under its own name, or a shorter one that says more in its place. */
function command(id: string, name?: string): MenuItem {
  const found = commandById(id);
  if (!found) throw new Error(`There is no command ${id}.`);
  return { id, name: name ?? found.name, commandId: id, run: (bench) => found.run(bench) };
}

/**
 * What can be done at a point of the lanes: only what fits what is there. A hit that is pointed at is picked first, if it is not.
 * @param point in px of the lanes; null for what is picked, as when the menu is asked for by key
 */
export function menuAt(bench: Bench, point: Point | null): PointMenu | null {
  const { store } = bench;
  if (point) {
    const state = store.getState();
    const grabbed = hitAtPoint(state, point);
    if (grabbed && !state.picked.has(grabbed.hit.id)) store.pick(new Set([grabbed.hit.id]));
    if (!grabbed) return groundMenu(bench, point);
  }
  return pickedMenu(bench);
}

function pickedMenu({ store }: Bench): PointMenu | null {
  const placed = pickedHits(store.getState());
  if (placed.length === 0) return null;
  const hits = placed.map(({ hit }) => hit);
  const isAnyPinned = hits.some((hit) => hit.pinnedTick !== null && hit.recordedTick !== null);
  const isAnyFree = hits.some((hit) => hit.pinnedTick === null);
  const leftOut = leftOutIds(store.getState().pattern);
  const areMuted = hits.every((hit) => hit.isMuted || leftOut.has(hit.id));
  const voices = new Set(hits.map((hit) => hit.voiceId)).size;
  return {
    title: `${hitCount(hits.length)} selected`,
    groups: [
      [
        command("exact", "Type place and loudness …"),
        command("revoice", "Another drum or stroke …"),
        ...(isAnyFree ? [command("pin")] : []),
        ...(isAnyPinned ? [command("unpin")] : []),
        command("muteHits", areMuted ? "Let sound again" : "Mute"),
      ],
      [
        ...(hits.length > 1 ? [command("level")] : []),
        command("split"),
        ...(hits.length > voices ? [command("glue")] : []),
        command("repeat"),
      ],
      [command("copy"), command("cut"), command("remove")],
      roleItems(store.getState(), hits),
      [command("likeStrokes"), command("likeLoudness"), command("likePlaces")],
    ],
  };
}

const ROLE_ITEMS = [
  { role: "ghost", id: "asGhosts", name: "Role: ghost" },
  { role: "stroke", id: "asStrokes", name: "Role: normal" },
  { role: "accent", id: "asAccents", name: "Role: accent" },
] as const;

/** What hits can be counted as that they are not already, and back to their loudness where a hand has said it. */
function roleItems({ lanes }: BenchState, hits: readonly Hit[]): readonly MenuItem[] {
  const ids = new Set(hits.map((hit) => hit.id));
  const roles = new Set(
    lanes.flatMap((lane) => lane.hits.flatMap((hit, row) => (ids.has(hit.id) ? [ROLES[lane.roles[row]!]!] : []))),
  );
  const others = ROLE_ITEMS.filter(({ role }) => roles.size > 1 || !roles.has(role));
  return [
    ...others.map(({ id, name }) => command(id, name)),
    ...(hits.some(({ role }) => role) ? [command("byLoudness", "Role: by velocity")] : []),
  ];
}

function groundMenu(bench: Bench, point: Point): PointMenu | null {
  const { store, playback } = bench;
  const state = store.getState();
  const box = boxAt(boxesOf(state), point.y);
  const lane = state.lanes.find(({ voiceId }) => voiceId === box?.voice.id);
  if (!lane || isBehind(state, lane)) return null;
  const { voiceId, voice } = lane;
  const tick = Math.max(0, Math.round(xToTick(state.viewport, point.x)));
  const bar = barAt(state.maps.meterMap, tick);
  const isInside = tick < state.pattern.lengthTicks;
  const here: readonly MenuItem[] = isInside
    ? [
        { id: "playFromHere", name: "Play from here", run: () => playFrom(bench, tick) },
        {
          id: "loopBar",
          name: `Loop bar ${bar.barIndex + 1}`,
          run: () => {
            const endTick = Math.min(bar.endTick, store.getState().pattern.lengthTicks);
            store.setLoop({ startTick: bar.startTick, endTick });
          },
        },
        { id: "drawHere", name: "Write a hit here", run: () => drawAt(bench, lane, tick) },
        ...(clipboard.getState().clip !== null
          ? [
              {
                id: "pasteHere",
                name: `Paste into bar ${bar.barIndex + 1}`,
                run: () => {
                  playback.seek(bar.startTick);
                  return paste(bench);
                },
              },
            ]
          : []),
      ]
    : [];
  return { title: voice.name, groups: [here, laneItems(bench, lane), removal(lane, voiceId)] };
}

function playFrom({ store, playback }: Bench, tick: number): void {
  playback.seek(tick);
  if (!store.getState().isPlaying) void playback.play();
}

function drawAt(bench: Bench, lane: LaneView, tick: number): string | null | void {
  const state = bench.store.getState();
  const { articulationId, velocity } = strokeOfLane(lane, state.picked);
  const { voiceId } = lane;
  const marks = drawnMarks(state);
  return write(bench, "Draw", [
    { voiceId, articulationId, tick: drawnTick(state, lane, tick, false), velocity, marks },
  ]);
}

/** What concerns a lane as a whole, whichever is open. */
function laneItems({ store }: Bench, { voiceId, hits }: LaneView): readonly MenuItem[] {
  const { openVoiceId, frontVoiceId, muted, soloed } = store.getState();
  const isOpen = openVoiceId === voiceId;
  return [
    {
      id: "openLane",
      name: isOpen ? "Close the lane" : "Open the lane",
      run: () => store.openLane(isOpen ? null : voiceId),
    },
    ...(hits.length > 0
      ? [
          {
            id: "pickLane",
            name: `Select ${hits.length === 1 ? "its hit" : `all ${hits.length} hits`}`,
            run: () => store.pick(new Set(hits.map((hit) => hit.id))),
          },
        ]
      : []),
    {
      id: "muteLane",
      name: muted.has(voiceId) ? "Unmute the lane" : "Mute the lane",
      run: (bench) => toggleVoice(bench, "muted", voiceId),
    },
    {
      id: "soloLane",
      name: soloed.has(voiceId) ? "No longer solo" : "Solo the lane",
      run: (bench) => toggleVoice(bench, "soloed", voiceId),
    },
    {
      id: "frontLane",
      name: frontVoiceId === voiceId ? "Back among the others" : "Bring the lane to the front",
      run: () => {
        if (frontVoiceId !== voiceId) store.openLane(voiceId);
        store.setFront(frontVoiceId === voiceId ? null : voiceId);
      },
    },
    { id: "putLaneAway", name: "Put the lane away", run: (bench) => setHidden(bench, voiceId, true) },
  ];
}

function removal({ hits, voice }: LaneView, voiceId: string): readonly MenuItem[] {
  if (hits.length === 0) return [];
  return [
    {
      id: "removeLaneHits",
      name: hits.length === 1 ? "Remove its hit" : `Remove all ${hits.length} hits`,
      run: ({ store }) => {
        const own = store.getState().pattern.hits.filter((hit) => hit.voiceId === voiceId);
        store.commit(`Remove ${hitCount(own.length)} of ${voice.name}`, { kind: "removeHits", hits: own });
        store.pick(new Set());
        return `Removed ${hitCount(own.length)} of ${voice.name}.`;
      },
    },
  ];
}
