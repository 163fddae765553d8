import type { Groove } from "../document/groove.ts";
import { layerFor } from "../document/groove.ts";
import type { Family } from "../document/index.ts";
import { compareHits, type Hit, type Pattern } from "../document/pattern.ts";
import { DEFAULT_TREATMENT, type Treatment } from "../document/treatment.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { gridStepTicks } from "../time/index.ts";

const PPQ = 960;
const SHORTEST_QUARTERS = 4;

/** A drum of each family, and the quarters that it plays in a bar; the hats play every place of the groove. */
const PLAYERS: readonly {
  readonly voiceId: string;
  readonly family: Family;
  readonly note: number;
  readonly velocity: number;
  readonly isAt: (quarter: number) => boolean;
}[] = [
  { voiceId: "ride", family: "cymbals", note: 51, velocity: 78, isAt: (quarter) => Number.isInteger(quarter * 2) },
  { voiceId: "hat", family: "hats", note: 42, velocity: 74, isAt: () => true },
  { voiceId: "snare", family: "snare", note: 38, velocity: 96, isAt: (quarter) => quarter % 2 === 1 },
  { voiceId: "kick", family: "kick", note: 36, velocity: 100, isAt: (quarter) => quarter % 2 === 0 },
];

/**
 * A plain part on the grid that a groove lies on, so that it can be heard by itself: hats on its places, a kick and a snare by turns,
 * and a ride if it says something of cymbals alone. Long enough for the groove to go round.
 */
export function neutralPart(groove: Groove, bpm: number): Pattern {
  const { grid, lengthQuarters, layers } = groove;
  const stepTicks = gridStepTicks(grid, PPQ);
  const quarters = lengthQuarters * Math.ceil(SHORTEST_QUARTERS / lengthQuarters);
  const isOwn = (family: Family) => layers.some((layer) => layer.family === family);
  const players = PLAYERS.filter(({ family }) => family !== "cymbals" || isOwn(family));
  const hits = players.flatMap(({ voiceId, note, velocity, isAt }) =>
    Array.from({ length: Math.round((quarters * PPQ) / stepTicks) }, (_, slot) => slot * stepTicks)
      .filter((tick) => isAt(Math.round((tick / PPQ) * 48) / 48))
      .map((tick): Hit => hitOf(`${voiceId} ${tick}`, Math.round(tick), voiceId, note, velocity)),
  );
  const isWhole = Number.isInteger(quarters);
  return {
    ppq: PPQ,
    lengthTicks: Math.round(quarters * PPQ),
    meters: [{ tick: 0, numerator: isWhole ? quarters : quarters * 2, denominator: isWhole ? 4 : 8 }],
    tempos: [{ tick: 0, usPerQuarter: Math.round(60_000_000 / bpm) }],
    streams: [{ trackIndex: 0, channel: 9, trackName: "", noteCount: hits.length, isDrums: true, reason: "" }],
    noteMap: GENERAL_MIDI,
    outgoingMap: null,
    changedMessages: {},
    hits: hits.sort(compareHits),
    lanes: players.map(({ voiceId, family }) => ({
      voiceId,
      treatment: withFeel({ timing: { ...DEFAULT_TREATMENT.timing, grid } }, groove, family),
    })),
  };
}

/** A treatment with a groove laid on all the way; as it is if the groove says nothing of the family. */
export function withFeel(treatment: Treatment, groove: Groove, family: Family): Treatment {
  if (!layerFor(groove, family)) return treatment;
  return { ...treatment, feel: { isOn: true, groove, timingPercent: 100, accentPercent: 100 } };
}

function hitOf(id: string, tick: number, voiceId: string, note: number, velocity: number): Hit {
  return {
    id,
    streamIndex: 0,
    note,
    voiceId,
    articulationId: GENERAL_MIDI.entries.find((entry) => entry.note === note)?.articulationId ?? "centre",
    pedal: null,
    shutTicks: null,
    chokedTicks: null,
    recordedTick: tick,
    recordedVelocity: velocity,
    pinnedTick: null,
    pinnedVelocity: null,
  };
}
