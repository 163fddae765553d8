import type { TickRange } from "../commands/bake-in.ts";
import { AHEAD_QUARTERS } from "../commands/change-bars.ts";
import { channelOf, isNoteOff, isNoteOn, META, type MidiMessage } from "../smf/index.ts";
import { ADDED, type Outgoing } from "./outgoing-track.ts";

/** What a meta message says that holds from its place on, or for the whole track: the last one before a stretch holds in it, too. */
const LASTING_METAS: ReadonlySet<number> = new Set([
  META.trackName,
  META.instrumentName,
  META.tempo,
  META.meter,
  META.key,
  META.port,
  META.channelPrefix,
]);

/**
 * What of a track lies in a stretch, counted from its start: notes that begin in it, ended at its end at the latest; everything else in
 * it; and at its start what was set before and still holds.
 * @param track in order of time
 */
export function cutRange(
  track: readonly Outgoing[],
  { startTick, endTick }: TickRange,
  ppq: number,
): readonly Outgoing[] {
  const lengthTicks = endTick - startTick;
  const set = new Map<string, Outgoing>();
  const inside: Outgoing[] = [];
  /** Notes that sound, by key: how often they were struck in the stretch, and out of it. */
  const open = new Map<number, boolean[]>();
  for (const one of track) {
    const { message } = one;
    const { tick } = message;
    if (message.kind === "meta" && message.metaType === META.endOfTrack) continue;
    const isDrum = one.voiceId !== null;
    const ahead = isDrum ? ppq * AHEAD_QUARTERS : 0;
    const at = (place: number) => ({ ...one, message: { ...message, tick: place } });
    if (isNoteOn(message)) {
      const isIn = tick >= startTick - ahead && tick < endTick - ahead;
      const key = keyOf(message);
      open.set(key, [...(open.get(key) ?? []), isIn]);
      if (isIn) inside.push(at(Math.max(0, tick - startTick)));
    } else if (isNoteOff(message)) {
      const isIn = open.get(keyOf(message))?.shift() ?? false;
      if (isIn) inside.push(at(Math.max(1, Math.min(lengthTicks, tick - startTick))));
    } else if (tick < startTick) {
      const sort = sortOf(message);
      if (sort !== null) set.set(sort, at(0));
    } else if (tick < endTick) inside.push(at(tick - startTick));
  }
  const end: Outgoing = {
    message: { kind: "meta", tick: lengthTicks, metaType: META.endOfTrack, data: new Uint8Array() },
    sourceIndex: ADDED,
    isMovedEnd: false,
    voiceId: null,
    hit: null,
  };
  return [...set.values(), ...inside, end];
}

const keyOf = (message: Extract<MidiMessage, { kind: "channel" }>) => (channelOf(message) << 7) | message.data1;

/** What a message sets, where a later one of the same sort takes its place; null for what passes. */
function sortOf(message: MidiMessage): string | null {
  if (message.kind === "sysex") return `sysex ${[...message.data].join(" ")}`;
  if (message.kind === "meta") return LASTING_METAS.has(message.metaType) ? `meta ${message.metaType}` : null;
  const kind = message.status >> 4;
  if (kind === 0xb) return `controller ${message.status} ${message.data1}`;
  return kind === 0xc || kind === 0xd || kind === 0xe ? `status ${message.status}` : null;
}
