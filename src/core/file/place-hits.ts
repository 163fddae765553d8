import { playsThisTime } from "../chance.ts";
import {
  entryOf,
  findVoice,
  isSameMeaning,
  meaningWithoutName,
  type NoteMap,
  type NoteMeaning,
  strokeName,
  trackLabel,
  USUAL_FULLNESS,
} from "../document/index.ts";
import { type Hit, hitsByVoice, type Pattern, strikeOf } from "../document/pattern.ts";
import { outgoingStroke } from "../notemap/index.ts";
import { buildTimeMaps } from "../time/index.ts";
import { treat } from "../treat.ts";
import { isReset, type NoteLength, noteLengths } from "./note-lengths.ts";

/** Where a hit ends up, in pattern ticks. */
export interface Placement {
  readonly hit: Hit;
  readonly tick: number;
  readonly velocity: number;
  /** The note and channel it goes out on. */
  readonly note: number;
  readonly channel: number;
  /** The track it goes out on, in the file. */
  readonly trackIndex: number;
  readonly voiceId: string;
  readonly length: NoteLength;
  /** The stroke that the note plays, if that is another one than the hit's own; null if the kit has no note for the drum. */
  readonly playsInstead: NoteMeaning | null | undefined;
}

/** Where every hit ends up that is neither muted, nor left out by the repair, nor by chance: its cleaned place and loudness, and the note that the outgoing map gives it. */
export function placeHits(pattern: Pattern): ReadonlyMap<string, Placement> {
  const maps = buildTimeMaps(pattern);
  const { fullness = USUAL_FULLNESS } = pattern;
  const byVoice = hitsByVoice(pattern.hits);
  const placements = new Map<string, Placement>();
  const outOf = notesOut(pattern);
  for (const { voiceId, treatment } of pattern.lanes) {
    const hits = byVoice.get(voiceId) ?? [];
    const cleaned = treat(hits, treatment, maps, pattern.lengthTicks, findVoice(pattern.noteMap, voiceId).family);
    const isSilent = cleaned.isLeftOut.map((isLeftOut, row) => {
      const hit = hits[row]!;
      return isLeftOut === 1 || hit.isMuted || !playsThisTime(hit, fullness, 0) ? 1 : 0;
    });
    const lengths = noteLengths(hits, cleaned.ticks, isSilent, treatment.lengths, maps.tempoMap);
    for (let row = 0; row < hits.length; row++) {
      const hit = hits[row]!;
      if (isSilent[row] === 1) continue;
      const { note, channel, trackIndex, playsInstead } = outOf(hit);
      placements.set(hit.id, {
        hit,
        tick: cleaned.ticks[row]!,
        velocity: cleaned.velocities[row]!,
        note,
        channel,
        trackIndex,
        voiceId,
        length: lengths[row]!,
        playsInstead,
      });
    }
  }
  return placements;
}

/** `noteOut` for one hit after another: of hundreds of thousands there are a few dozen sorts, and many in a row are of one. */
export function notesOut(pattern: Pattern): (hit: Hit) => ReturnType<typeof noteOut> {
  const known = new Map<string, ReturnType<typeof noteOut>>();
  let last: Hit | null = null;
  let lastOut: ReturnType<typeof noteOut> | null = null;
  return (hit) => {
    const isAsLast =
      hit.note === last?.note &&
      hit.pedal === last.pedal &&
      hit.streamIndex === last.streamIndex &&
      hit.voiceId === last.voiceId &&
      hit.articulationId === last.articulationId;
    if (isAsLast && lastOut) return lastOut;
    const sort = `${hit.note} ${hit.streamIndex} ${hit.pedal} ${hit.voiceId} ${hit.articulationId}`;
    const out = known.get(sort) ?? noteOut(pattern, hit);
    known.set(sort, out);
    [last, lastOut] = [hit, out];
    return out;
  };
}

/**
 * The note that a hit goes out on. Without an outgoing map it is the one it came in on, unless the map of the take names
 * another or a hand has moved it to another drum. A drum that the kit has no note for keeps the note it came in on, so that no hit is lost.
 */
export function noteOut(
  pattern: Pattern,
  hit: Hit,
): Pick<Placement, "note" | "channel" | "trackIndex" | "playsInstead"> {
  const strike = strikeOf(pattern, hit);
  const { note, channel } = strike;
  const { outgoingMap, noteMap, streams } = pattern;
  const { trackIndex } = streams[hit.streamIndex] ?? { trackIndex: 0 };
  const isRouted = outgoingMap !== null || noteMap.outgoing.some((outgoing) => isSameMeaning(outgoing, hit));
  // What was played in on another note belongs on the track of its drum, too.
  const entry = entryOf(noteMap, strike);
  const isOnOwnTrack =
    entry?.track !== undefined ||
    noteMap.entries.every(({ track, ...meaning }) => track === undefined || !isSameMeaning(meaning, hit));
  if (!isRouted && isOnOwnTrack && isSameMeaning(entry ?? meaningWithoutName(note), hit)) {
    return { note, channel, trackIndex, playsInstead: undefined };
  }
  const stroke = outgoingStroke(outgoingMap ?? noteMap, hit);
  if (!stroke) return { note, channel, trackIndex, playsInstead: null };
  const stream = streams.find((one) => one.isDrums && trackLabel(one) === stroke.track);
  return {
    note: stroke.note,
    channel: stroke.channel ?? stream?.channel ?? channel,
    trackIndex: stream?.trackIndex ?? trackIndex,
    playsInstead: isSameMeaning(stroke.meaning, hit) ? undefined : stroke.meaning,
  };
}

/** What will be written of one voice. */
export interface OutgoingVoice {
  readonly voiceId: string;
  readonly name: string;
  readonly hitCount: number;
  /** Hits whose time, loudness, note or channel the file will have changed. */
  readonly changedCount: number;
  /** Hits that a hand has muted, or that the repair leaves out: they stay in the take and are not written. */
  readonly mutedCount: number;
  /** Hits that are played sometimes, and not this time. */
  readonly unplayedCount: number;
  readonly notes: readonly { readonly note: number; readonly channel: number; readonly hitCount: number }[];
  /** Strokes that have no note of their own, each with what sounds instead, in words. */
  readonly fallbacks: readonly string[];
}

/** Says what an export would write, voice by voice. */
export function describeExport(pattern: Pattern): readonly OutgoingVoice[] {
  const placements = placeHits(pattern);
  const byVoice = hitsByVoice(pattern.hits);
  const targetMap = pattern.outgoingMap ?? pattern.noteMap;
  const { fullness = USUAL_FULLNESS } = pattern;
  return pattern.lanes.map(({ voiceId }) => {
    const voice = findVoice(pattern.noteMap, voiceId);
    const ownHits = byVoice.get(voiceId) ?? [];
    const hits = ownHits.filter((hit) => placements.has(hit.id));
    const notes = new Map<string, { note: number; channel: number; hitCount: number }>();
    const fallbacks = new Set<string>();
    let changedCount = 0;
    for (const hit of hits) {
      const { tick, velocity, note, channel, trackIndex, length, playsInstead } = placements.get(hit.id)!;
      const key = `${note} ${channel}`;
      const entry = notes.get(key) ?? { note, channel, hitCount: 0 };
      notes.set(key, { ...entry, hitCount: entry.hitCount + 1 });
      const isMended = isReset(length);
      const from = pattern.streams[hit.streamIndex];
      const isRerouted = note !== hit.note || channel !== from?.channel || trackIndex !== from.trackIndex;
      if (tick !== hit.recordedTick || velocity !== hit.recordedVelocity || isRerouted || isMended) changedCount++;
      if (playsInstead !== undefined) fallbacks.add(fallbackWords(pattern.noteMap, targetMap, hit, playsInstead));
    }
    const sorted = [...notes.values()].sort((a, b) => a.note - b.note);
    const unplayedCount = ownHits.filter((hit) => !hit.isMuted && !playsThisTime(hit, fullness, 0)).length;
    const mutedCount = ownHits.length - hits.length - unplayedCount;
    const counts = { hitCount: hits.length, changedCount, mutedCount, unplayedCount };
    return { voiceId, name: voice.name, ...counts, notes: sorted, fallbacks: [...fallbacks] };
  });
}

function fallbackWords(map: NoteMap, targetMap: NoteMap, hit: Hit, instead: NoteMeaning | null): string {
  const name = strokeName(map, hit);
  if (instead === null) return `${name} has no note there: it keeps note ${hit.note}`;
  return `${name} is played as ${strokeName(targetMap, instead)}`;
}
