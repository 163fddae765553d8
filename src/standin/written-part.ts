import { GENERAL_MIDI } from "../core/notemap/index.ts";

/**
 * One bar as it is written down. Each row is a voice, or `voice.articulation`, and a line of even steps over the bar, so
 * that 16 signs in 4/4 are sixteenths and 12 are eighth triplets. Signs: `-` rest, `g` ghost, `s` stroke, `a` accent,
 * `f` accent with a flam, `d` accent with a drag. A row named twice in different steps is given as a list.
 */
export type WrittenBar = Readonly<Record<string, string | readonly string[]>>;

export interface WrittenPart {
  readonly title: string;
  readonly bpm: number;
  readonly numerator: number;
  readonly denominator: number;
  readonly bars: readonly WrittenBar[];
  /** Other tempos and meters from a bar on, in order. */
  readonly changes?: readonly PartChange[];
  /** Where the second of each pair of eighths or sixteenths is meant, in percent of the pair. */
  readonly swing?: { readonly denominator: 8 | 16; readonly percent: number };
}

export interface PartChange {
  readonly barIndex: number;
  readonly bpm?: number;
  readonly numerator?: number;
  readonly denominator?: number;
}

/** A bar of a part in time. */
export interface TimedBar {
  readonly startTick: number;
  readonly barTicks: number;
  readonly bpm: number;
  readonly numerator: number;
  readonly denominator: number;
}

/** Where the bars of a part are, and under which meter and tempo. */
export function barsOfPart(part: WrittenPart, ppq: number): readonly TimedBar[] {
  let { bpm, numerator, denominator } = part;
  let startTick = 0;
  return part.bars.map((_, barIndex) => {
    const change = part.changes?.find((one) => one.barIndex === barIndex);
    bpm = change?.bpm ?? bpm;
    numerator = change?.numerator ?? numerator;
    denominator = change?.denominator ?? denominator;
    const barTicks = (numerator * 4 * ppq) / denominator;
    const bar = { startTick, barTicks, bpm, numerator, denominator };
    startTick += barTicks;
    return bar;
  });
}

/** Moves a tick of a bar to where the part's swing means it: only what is exactly half-way through a pair is late. */
function swungTick({ swing }: WrittenPart, inBarTick: number, ppq: number): number {
  if (!swing) return inBarTick;
  const stepTicks = (4 * ppq) / swing.denominator;
  const step = inBarTick / stepTicks;
  const isSecond = Math.abs(step - Math.round(step)) < 1e-6 && Math.round(step) % 2 === 1;
  return isSecond ? inBarTick + stepTicks * (swing.percent / 50 - 1) : inBarTick;
}

export type Role = "ghost" | "stroke" | "accent";

/** A hit as it is meant: where, on what, how strong, and with how many grace notes before it. */
export interface WrittenHit {
  readonly tick: number;
  readonly voiceId: string;
  readonly articulationId: string;
  readonly note: number;
  readonly role: Role;
  readonly graceNotes: number;
}

const SIGNS: Readonly<Record<string, { role: Role; graceNotes: number } | null>> = {
  "-": null,
  g: { role: "ghost", graceNotes: 0 },
  s: { role: "stroke", graceNotes: 0 },
  a: { role: "accent", graceNotes: 0 },
  f: { role: "accent", graceNotes: 1 },
  d: { role: "accent", graceNotes: 2 },
};

/** Reads the bars of a part into hits at exact ticks, in order. */
export function hitsOfPart(part: WrittenPart, ppq: number): readonly WrittenHit[] {
  const timed = barsOfPart(part, ppq);
  const hits = part.bars.flatMap((bar, barIndex) => {
    const { startTick, barTicks } = timed[barIndex]!;
    return Object.entries(bar).flatMap(([row, lines]) =>
      (typeof lines === "string" ? [lines] : lines).flatMap((line) =>
        hitsOfLine(row, line, startTick, barTicks).map((hit) => ({
          ...hit,
          tick: Math.round(startTick + swungTick(part, hit.tick - startTick, ppq)),
        })),
      ),
    );
  });
  return hits.sort((a, b) => a.tick - b.tick);
}

function hitsOfLine(row: string, line: string, startTick: number, barTicks: number): WrittenHit[] {
  const [voiceId = row, articulation] = row.split(".");
  // A voice without an articulation is struck in its first way.
  const articulationId =
    articulation ?? GENERAL_MIDI.voices.find((candidate) => candidate.id === voiceId)?.articulations[0]?.id;
  const entry = GENERAL_MIDI.entries.find(
    (candidate) => candidate.voiceId === voiceId && candidate.articulationId === articulationId,
  );
  const unnamed = /^note-(\d+)$/.exec(voiceId);
  if (!entry && !unnamed) throw new Error(`The part names a row “${row}” that no drum has.`);
  const steps = [...line.replaceAll(" ", "")];
  return steps.flatMap((sign, index) => {
    const meaning = SIGNS[sign];
    if (meaning === undefined) throw new Error(`The row “${row}” holds a sign that means nothing: ${sign}`);
    if (meaning === null) return [];
    const tick = Math.round(startTick + (index * barTicks) / steps.length);
    const note = entry?.note ?? Number(unnamed?.[1]);
    return [{ tick, voiceId, articulationId: entry?.articulationId ?? "unnamed", note, ...meaning }];
  });
}
