import { findVoice, type NoteMap, type Voice } from "../../document/note-map.ts";
import { baseVelocity, columnOf, type Hit } from "../../document/pattern.ts";
import { extentOf } from "../../extent.ts";
import { type TempoMap, type TimeMaps, ticksToMs, tickToMs } from "../../time/index.ts";
import { findGraceNotes } from "../../timing/grace-notes.ts";
import { stepOf } from "../onsets.ts";
import type { DoubleTrigger, Fault, VoiceTimes } from "./fault.ts";
import { findCrossTalk } from "./find-cross-talk.ts";
import { togetherMs, WRITTEN_MS } from "./played-together.ts";

// Hits that nobody played: a pad that triggered twice, and pads that picked up a hard stroke on another.

interface EchoLimit {
  readonly upToMs: number;
  readonly loudness: number;
}

/** A pad that rebounds or rings triggers again within this, and clearly weaker. */
const DOUBLE_MS = [6, 50] as const;
/** The sooner an echo comes, the louder it may be: no hand strikes again so soon. Each to so many ms. */
const DOUBLES: readonly EchoLimit[] = [
  { upToMs: 20, loudness: 0.65 },
  { upToMs: 32, loudness: 0.62 },
  { upToMs: DOUBLE_MS[1], loudness: 0.55 },
];
const DOUBLES_IN_ROLLS: readonly EchoLimit[] = [
  { upToMs: 20, loudness: 0.5 },
  { upToMs: 36, loudness: 0.4 },
];
const FEWEST_ALIKE = 3;
/** A voice that plays so much in so quick steps plays rolls, and a weak stroke of a roll is none. */
const MOST_DOUBLES_SHARE = 0.25;
/** A voice with so many strokes as near as this plays rolls: there, only what is faint and at once is no stroke. */
const ROLL_MS = 98;
const ROLLS_SHARE = 0.08;
const GRACE_STEP_MS = 100;

/**
 * Finds double triggers and cross-talk of a take. Hits that a hand has added or muted are left out.
 * @param byVoice the hits of each voice
 * @param noteMap says which drum a voice is
 * @returns what was found, double triggers first, each kind voice by voice; nothing is changed
 */
export function findFaults(
  byVoice: ReadonlyMap<string, readonly Hit[]>,
  noteMap: NoteMap,
  { meterMap, tempoMap }: TimeMaps,
): readonly Fault[] {
  const voices = [...byVoice].map(([voiceId, all]) => {
    const recorded = all.filter((hit) => hit.recordedTick !== null && !hit.isMuted);
    // Only where a hand has moved hits past each other are they not in order already.
    const isOrdered = recorded.every((hit, row) => row === 0 || recorded[row - 1]!.recordedTick! <= hit.recordedTick!);
    const hits = isOrdered ? recorded : recorded.toSorted((a, b) => a.recordedTick! - b.recordedTick!);
    return timesOf(findVoice(noteMap, voiceId), hits, tempoMap);
  });
  const playedMs = togetherMs(voices);
  const doubles = voices.flatMap((voice) => findDoubles(voice, playedMs));
  const doubled = new Set(doubles.map(({ hitId }) => hitId));
  const stepMs = tickToMs(tempoMap, stepOf(byVoice.values(), meterMap.ppq));
  const pads = voices.flatMap((voice) => padsOf(voice, tempoMap));
  // What is heard is the stroke, and not its echo.
  const strokes = voices.map((voice) => withHits(voice, ({ id }) => !doubled.has(id), tempoMap));
  const talks = pads.flatMap((pad) => findCrossTalk(pad, doubled, strokes, meterMap, { stepMs, playedMs }));
  const talked = new Set(talks.map(({ hitId }) => hitId));
  return [...doubles.filter(({ hitId }) => !talked.has(hitId)), ...talks];
}

/** A voice may be struck on several pads or zones, each of which hears others in its own way. */
function padsOf(voice: VoiceTimes, tempoMap: TempoMap): readonly VoiceTimes[] {
  const notes = new Set(voice.hits.map(({ note }) => note));
  return [...notes].map((note) => withHits(voice, (hit) => hit.note === note, tempoMap));
}

/** A voice with some of its hits; with all of them it is itself. */
function withHits(voice: VoiceTimes, isOf: (hit: Hit) => boolean, tempoMap: TempoMap): VoiceTimes {
  const hits = voice.hits.filter(isOf);
  if (hits.length === voice.hits.length) return voice;
  return timesOf({ id: voice.voiceId, family: voice.family }, hits, tempoMap);
}

function timesOf({ id, family }: Pick<Voice, "id" | "family">, hits: readonly Hit[], tempoMap: TempoMap): VoiceTimes {
  return {
    voiceId: id,
    family,
    hits,
    timesMs: ticksToMs(
      tempoMap,
      columnOf(hits, (hit) => hit.recordedTick!),
    ),
    velocities: columnOf(hits, (hit) => hit.recordedVelocity ?? baseVelocity(hit)),
  };
}

function findDoubles({ voiceId, hits, timesMs, velocities }: VoiceTimes, playedMs: number): readonly DoubleTrigger[] {
  const mainRows = findGraceNotes({ timesMs, velocities }, new Float64Array(hits.length).fill(GRACE_STEP_MS));
  const found: DoubleTrigger[] = [];
  let causeRow = 0;
  let quick = 0;
  for (let row = 1; row < hits.length; row++) {
    const afterMs = timesMs[row]! - timesMs[causeRow]!;
    const loudness = velocities[row]! / velocities[causeRow]!;
    if (timesMs[row]! - timesMs[row - 1]! <= DOUBLE_MS[1] && mainRows[row] === -1 && mainRows[row - 1] === -1) quick++;
    const isGrace = mainRows[row] !== -1 || mainRows[causeRow] !== -1;
    if (!isGrace && afterMs >= DOUBLE_MS[0] && loudness <= loudestEcho(afterMs, DOUBLES)) {
      const [hit, cause] = [hits[row]!, hits[causeRow]!];
      found.push({
        kind: "double",
        hitId: hit.id,
        voiceId,
        causeId: cause.id,
        causeVoiceId: voiceId,
        afterMs,
        loudness,
      });
      continue; // what comes next is measured from the stroke, not from its echo
    }
    causeRow = row;
  }
  if (quick > MOST_DOUBLES_SHARE * hits.length && hits.length > 8) return [];
  if (playedMs < WRITTEN_MS && areAlike(found)) return [];
  if (!playsRolls(timesMs, found, hits)) return found;
  return found.filter(({ afterMs, loudness }) => loudness <= loudestEcho(afterMs, DOUBLES_IN_ROLLS));
}

const loudestEcho = (afterMs: number, limits: readonly EchoLimit[]) =>
  limits.find(({ upToMs }) => afterMs <= upToMs)?.loudness ?? 0;

/** Whether echoes are all as far from their strokes, as what is written is. */
function areAlike(echoes: readonly DoubleTrigger[]): boolean {
  const [soonest, latest] = extentOf(echoes.map(({ afterMs }) => afterMs));
  return echoes.length >= FEWEST_ALIKE && latest - soonest < WRITTEN_MS;
}

/** Whether enough strokes, without those that may be echoes, follow each other as quickly as in a roll. */
function playsRolls(timesMs: Float64Array, echoes: readonly DoubleTrigger[], hits: readonly Hit[]): boolean {
  const echoIds = new Set(echoes.map(({ hitId }) => hitId));
  let quick = 0;
  let before = Number.NEGATIVE_INFINITY;
  for (let row = 0; row < hits.length; row++) {
    if (echoIds.has(hits[row]!.id)) continue;
    // Grace notes are nearer still, and no roll.
    const afterMs = timesMs[row]! - before;
    if (afterMs <= ROLL_MS && afterMs > DOUBLE_MS[1]) quick++;
    before = timesMs[row]!;
  }
  return quick >= ROLLS_SHARE * hits.length;
}
