import { DEFAULT_TREATMENT, type Lane, type Pattern } from "../document/index.ts";
import type { NoteMap } from "../document/note-map.ts";
import type { Limit } from "../limit.ts";
import { META, type MidiFile, writeText } from "../smf/index.ts";

/** What a take that nobody has played yet begins with. */
export interface NewTake {
  readonly tempoBpm: number;
  readonly numerator: number;
  /** A power of two, 1 to 32. */
  readonly denominator: number;
  readonly bars: number;
}

/** What each can be. */
export const NEW_TAKE_LIMITS = {
  tempoBpm: { label: "Tempo", min: 20, max: 400, step: 0.1, unit: "bpm" },
  numerator: { label: "Beats in a bar", min: 1, max: 32, step: 1, unit: "" },
  bars: { label: "Bars", min: 1, max: 400, step: 1, unit: "" },
} as const satisfies Readonly<Record<string, Limit>>;
export const NEW_TAKE_DENOMINATORS = [2, 4, 8, 16] as const;

const PPQ = 480;
/** The channel of percussion in General MIDI, counted from 0. */
const DRUM_CHANNEL = 9;
/** Drums that a part is begun with: of each map those that it has. */
const FIRST_LANES = ["crash", "ride", "hat", "tom-2", "tom-5", "snare", "kick"];

/**
 * An empty take: a file with tempo, meter and a drum track on which nothing is played, and the pattern of it with a lane for each drum
 * of an ordinary kit.
 * @source Standard MIDI Files 1.0: tempo in µs a quarter, meter as numerator and power of two
 */
export function newTake(
  { tempoBpm, numerator, denominator, bars }: NewTake,
  noteMap: NoteMap,
): { file: MidiFile; pattern: Pattern } {
  const usPerQuarter = Math.round(60_000_000 / tempoBpm);
  const lengthTicks = Math.round((bars * numerator * 4 * PPQ) / denominator);
  const meta = (tick: number, metaType: number, data: readonly number[] | Uint8Array) => ({
    kind: "meta" as const,
    tick,
    metaType,
    data: Uint8Array.from(data),
  });
  const file: MidiFile = {
    format: 0,
    division: { kind: "ppq", ppq: PPQ },
    headerExtra: new Uint8Array(),
    unknownChunks: [],
    tracks: [
      {
        messages: [
          meta(0, META.trackName, writeText("Drums")),
          meta(0, META.tempo, [usPerQuarter >> 16, (usPerQuarter >> 8) & 255, usPerQuarter & 255]),
          meta(0, META.meter, [numerator, Math.log2(denominator), 24, 8]),
          meta(lengthTicks, META.endOfTrack, []),
        ],
      },
    ],
  };
  const meters = [{ tick: 0, numerator, denominator }];
  const known = FIRST_LANES.filter((voiceId) => noteMap.voices.some(({ id }) => id === voiceId));
  const voiceIds = known.length > 0 ? known : noteMap.voices.slice(0, FIRST_LANES.length).map(({ id }) => id);
  const order = new Map(noteMap.voices.map(({ id }, index) => [id, index]));
  const lanes = voiceIds
    .toSorted((one, other) => order.get(one)! - order.get(other)!)
    .map((voiceId): Lane => ({ voiceId, treatment: FIRST_TREATMENT }));
  return {
    file,
    pattern: {
      ppq: PPQ,
      lengthTicks,
      meters,
      tempos: [{ tick: 0, usPerQuarter }],
      streams: [
        {
          trackIndex: 0,
          channel: DRUM_CHANNEL,
          trackName: "Drums",
          noteCount: 0,
          isDrums: true,
          reason: "it is the drum track of a new take",
        },
      ],
      noteMap,
      outgoingMap: null,
      changedMessages: {},
      hits: [],
      lanes,
    },
  };
}

/** Nothing was played that a grid could be found from: it is drawn on sixteenths. */
const FIRST_TREATMENT: Lane["treatment"] = {
  ...DEFAULT_TREATMENT,
  timing: { ...DEFAULT_TREATMENT.timing, grid: { family: "straight", denominator: 16 } },
};

/** What is wrong with a wish for a new take, in words; null if nothing is. */
export function faultOfNewTake({ tempoBpm, numerator, denominator, bars }: NewTake): string | null {
  const values = { tempoBpm, numerator, bars };
  for (const [name, { label, min, max, unit }] of Object.entries(NEW_TAKE_LIMITS)) {
    const value = values[name as keyof typeof values];
    const isWhole = name === "tempoBpm" || Number.isInteger(value);
    if (!(value >= min && value <= max && isWhole))
      return `${label} goes from ${min} to ${max}${unit ? ` ${unit}` : ""}.`;
  }
  const isMeter = NEW_TAKE_DENOMINATORS.some((one) => one === denominator);
  return isMeter ? null : `The lower number of a meter is ${NEW_TAKE_DENOMINATORS.join(", ")}.`;
}
