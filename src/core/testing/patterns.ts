import type { Hit, Lane, Pattern } from "../document/index.ts";
import { DEFAULT_TREATMENT, type TimingTreatment } from "../document/treatment.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";

// Small patterns for tests: one quarter is 480 ticks, and at 120 bpm a tick is 25/24 ms.

export const MS_PER_TICK = 500 / 480;

export function hitAt(tick: number, more: Partial<Hit> = {}): Hit {
  return {
    id: `0:${tick}`,
    streamIndex: 0,
    note: 38,
    voiceId: "snare",
    articulationId: "centre",
    pedal: null,
    shutTicks: null,
    chokedTicks: null,
    recordedTick: tick,
    recordedVelocity: 90,
    pinnedTick: null,
    pinnedVelocity: null,
    ...more,
  };
}

export function laneOf(voiceId: string, timing: Partial<TimingTreatment> = {}): Lane {
  return { voiceId, treatment: { timing: { ...DEFAULT_TREATMENT.timing, ...timing } } };
}

export function patternOf(hits: readonly Hit[], more: Partial<Pattern> = {}): Pattern {
  const voiceIds = [...new Set(hits.map((hit) => hit.voiceId))];
  return {
    ppq: 480,
    lengthTicks: 7680,
    meters: [],
    tempos: [],
    streams: [{ trackIndex: 0, channel: 9, trackName: "Kit", noteCount: hits.length, isDrums: true, reason: "" }],
    noteMap: GENERAL_MIDI,
    outgoingMap: null,
    changedMessages: {},
    hits,
    lanes: voiceIds.map((voiceId) => laneOf(voiceId)),
    ...more,
  };
}
