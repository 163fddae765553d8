import { lengthFaultOf } from "../file/index.ts";
import { META } from "../smf/index.ts";
import { barAt, type TimeMaps, tickToMs } from "../time/index.ts";
import type { MessageTable } from "./message-table.ts";

const ODD_KINDS = [
  "hanging",
  "zeroLength",
  "overlong",
  "beforeFirstBar",
  "pressure",
  "jitter",
  "program",
  "repeatedTempo",
] as const;
export type OddKind = (typeof ODD_KINDS)[number];

/** Messages of a take that are likely not meant, of one kind, with the reason in a sentence. */
export interface OddMessages {
  readonly kind: OddKind;
  /** In two or three words. */
  readonly title: string;
  readonly sentence: string;
  readonly rows: readonly number[];
}

/** A controller that sends this often and goes nowhere is a worn pedal or a loose cable. */
const JITTER_LEAST_COUNT = 24;
const JITTER_WIDEST = 6;

/**
 * Finds messages that spoil playback and that no drum part needs.
 * @param isDrumRow whether the row is on the track and channel of a stream that is taken for drums
 * @returns one entry for each kind that there is, in the order of `ODD_KINDS`
 */
export function findOddMessages(
  table: MessageTable,
  maps: TimeMaps,
  isDrumRow: (row: number) => boolean,
): readonly OddMessages[] {
  const rowsOf: Record<OddKind, number[]> = {
    hanging: [],
    zeroLength: [],
    overlong: [],
    beforeFirstBar: [],
    pressure: [],
    jitter: [],
    program: [],
    repeatedTempo: [],
  };
  const msOf = (tick: number) => tickToMs(maps.tempoMap, tick);
  const controllers = new Map<number, number[]>();
  const noteTicks = new Map<number, number[]>();
  let lastTempo = -1;
  const firstNote = firstDrumRow(table, isDrumRow);
  for (let row = 0; row < table.count; row++) {
    const status = table.statuses[row]!;
    const tick = table.ticks[row]!;
    if (status === 0xff) {
      if (table.data1s[row] !== META.tempo) continue;
      const [a = 0, b = 0, c = 0] = table.data.subarray(table.dataStarts[row], table.dataEnds[row]);
      const tempo = (a << 16) | (b << 8) | c;
      if (tempo === lastTempo) rowsOf.repeatedTempo.push(row);
      lastTempo = tempo;
      continue;
    }
    if (status >= 0xf0 || !isDrumRow(row)) continue;
    switch (status >> 4) {
      case 0x9: {
        if (table.data2s[row] === 0) break;
        const end = table.partnerRows[row]!;
        const fault = lengthFaultOf(tick, end < 0 ? null : table.ticks[end]!, msOf);
        if (fault) rowsOf[fault].push(row);
        const key = ((status & 0x0f) << 8) | table.data1s[row]!;
        const ticks = noteTicks.get(key);
        if (ticks) ticks.push(tick);
        else noteTicks.set(key, [tick]);
        break;
      }
      case 0xa:
        // Pressure on a note that was struck is a hand that chokes it; without a stroke it belongs to nothing.
        if (!noteTicks.has(((status & 0x0f) << 8) | table.data1s[row]!)) rowsOf.pressure.push(row);
        break;
      case 0xd:
        rowsOf.pressure.push(row);
        break;
      case 0xb: {
        const key = ((status & 0x0f) << 8) | table.data1s[row]!;
        const rows = controllers.get(key);
        if (rows) rows.push(row);
        else controllers.set(key, [row]);
        break;
      }
      case 0xc:
        if (tick > 0) rowsOf.program.push(row);
        break;
      default:
    }
  }
  for (const rows of controllers.values()) for (const row of jitterOf(table, rows)) rowsOf.jitter.push(row);
  rowsOf.jitter.sort((a, b) => a - b);
  rowsOf.beforeFirstBar = strayStart(table, maps, firstNote, isDrumRow);
  return ODD_KINDS.flatMap((kind): OddMessages[] => {
    const rows = rowsOf[kind];
    return rows.length === 0 ? [] : [{ kind, rows, ...WORDS[kind] }];
  });
}

const WORDS: Readonly<Record<OddKind, { readonly title: string; readonly sentence: string }>> = {
  hanging: {
    title: "Notes that never end",
    sentence: "The kit sent no note-off for them. A sampler that waits for one lets them ring for ever.",
  },
  zeroLength: {
    title: "Zero-length notes",
    sentence: "They start and end at the same tick. Some players skip such notes, and the hit is not heard.",
  },
  overlong: {
    title: "Overlong notes",
    sentence: "They last over five seconds, which no drum needs: a stuck trigger, or a note-off that came late.",
  },
  beforeFirstBar: {
    title: "Before the part starts",
    sentence: "A few strokes, then more than two bars of silence: a pad was tried before the playing began.",
  },
  pressure: {
    title: "Pressure on drums",
    sentence: "Pressure that belongs to no stroke. Drums have no use for it, and it can bend the sound of a sampler.",
  },
  jitter: {
    title: "Jittering controller",
    sentence: "It sends again and again and goes nowhere: a worn pedal or a loose cable, not a movement.",
  },
  program: {
    title: "Kit change in mid-take",
    sentence: "A program change in the middle of the take puts another kit under the rest of it.",
  },
  repeatedTempo: {
    title: "Repeated tempo",
    sentence: "The same tempo is set a second time, which changes nothing.",
  },
};

/** A controller that moves within a few values the whole time. */
function jitterOf(table: MessageTable, rows: readonly number[]): readonly number[] {
  if (rows.length < JITTER_LEAST_COUNT) return [];
  let lowest = 127;
  let highest = 0;
  for (const row of rows) {
    lowest = Math.min(lowest, table.data2s[row]!);
    highest = Math.max(highest, table.data2s[row]!);
  }
  return highest - lowest <= JITTER_WIDEST ? rows : [];
}

function firstDrumRow(table: MessageTable, isDrumRow: (row: number) => boolean): number {
  for (let row = 0; row < table.count; row++) if (isOnset(table, row) && isDrumRow(row)) return row;
  return -1;
}

const isOnset = (table: MessageTable, row: number) =>
  table.statuses[row]! >> 4 === 0x9 && table.statuses[row]! < 0xf0 && table.data2s[row]! > 0;

const MOST_TRIED = 6;
const SILENCE_BARS = 2;

/** The first few drum notes, if more than two bars of silence follow them and then the part. */
function strayStart(
  table: MessageTable,
  { meterMap }: TimeMaps,
  firstRow: number,
  isDrumRow: (row: number) => boolean,
): number[] {
  const rows: number[] = [];
  for (let row = Math.max(0, firstRow); row < table.count; row++) {
    if (!isOnset(table, row) || !isDrumRow(row)) continue;
    const last = rows.at(-1);
    if (last !== undefined) {
      const { startTick, endTick } = barAt(meterMap, table.ticks[last]!);
      if (table.ticks[row]! - table.ticks[last]! > SILENCE_BARS * (endTick - startTick)) return rows;
    }
    if (rows.length === MOST_TRIED) return [];
    rows.push(row);
  }
  return [];
}
