import { importTake } from "../../src/core/file/index.ts";
import { GENERAL_MIDI } from "../../src/core/notemap/index.ts";
import { META, type MidiFile, type MidiMessage, writeMidiFile } from "../../src/core/smf/index.ts";
import { studyTempo } from "../../src/core/tempo/index.ts";
import { createRandom } from "../../src/standin/random.ts";
import { percent } from "../scoring.ts";
import { drawManner, type PlayedTake, play } from "./player.ts";
import { readWrittenParts, type WrittenPart } from "./read-parts.ts";

/** Beats are counted at this in every file, whatever was played. */
const FILE_BPM = 120;
const FILE_US = 60_000_000 / FILE_BPM;
/** The tempo goes up and down by this share, over so many quarters. */
const SWAY = { share: 0.03, quarters: 16 } as const;
/** Nobody counts slower beats. */
const SLOWEST_BPM = 53;
const SAME_SHARE = 0.04;

interface CountScore {
  readonly isSetAside: boolean;
  /** How many times as fast as they were played the beats were counted. */
  readonly speed: number;
  readonly isBarRight: boolean;
}

/** Plays each part at its slowest and at its fastest to no click, and compares how its beats and bars are counted. */
export function scoreCounts(): readonly CountScore[] {
  return readWrittenParts().flatMap((part, index) => {
    const meter = evenMeter(part);
    if (!meter) return [];
    return part.bpm.flatMap((bpm, turn): CountScore[] => {
      const beatBpm = bpm / meter.beatQuarters;
      if (beatBpm < SLOWEST_BPM) return [];
      const hand = turn === 0 ? "loose" : "normal";
      const drawn = drawManner(part, hand, createRandom(index * 31 + 7));
      const manner = { ...drawn, bpm, latencyMs: 0, leadBars: 0, otherInstruments: false };
      const { pattern } = importTake(writeMidiFile(freed(play(part, manner, index * 97 + 5))), GENERAL_MIDI);
      const study = studyTempo(pattern);
      const isBarRight = study.beatsPerBar === meter.beatsPerBar;
      return [{ isSetAside: index % 3 === 2, speed: study.bpm / beatBpm, isBarRight }];
    });
  });
}

/** Parts that have one meter, with beats that are even. */
function evenMeter({ bars }: WrittenPart): { readonly beatQuarters: number; readonly beatsPerBar: number } | null {
  const [first] = bars;
  if (!first || bars.some((bar) => bar.numerator !== first.numerator || bar.denominator !== first.denominator))
    return null;
  if (first.denominator === 4) return { beatQuarters: 1, beatsPerBar: first.numerator };
  return first.numerator % 3 === 0 ? { beatQuarters: 1.5, beatsPerBar: first.numerator / 3 } : null;
}

/** The same strokes in a file that counts by itself, in a tempo that breathes. */
function freed({ file, manner }: PlayedTake): MidiFile {
  const { bpm, ppq } = manner;
  const tickOf = (tick: number) => {
    const turn = (2 * Math.PI * tick) / ppq / SWAY.quarters;
    const quarter = tick / ppq + ((SWAY.share * SWAY.quarters) / (2 * Math.PI)) * (1 - Math.cos(turn));
    return Math.round(quarter * (FILE_BPM / bpm) * ppq);
  };
  const time: MidiMessage = {
    kind: "meta",
    tick: 0,
    metaType: META.tempo,
    data: Uint8Array.of(FILE_US >> 16, (FILE_US >> 8) & 0xff, FILE_US & 0xff),
  };
  const isTime = (message: MidiMessage) =>
    message.kind === "meta" && (message.metaType === META.tempo || message.metaType === META.meter);
  const tracks = file.tracks.map(({ messages }, track) => {
    const others = messages
      .filter((message) => !isTime(message))
      .map((message) => ({ ...message, tick: tickOf(message.tick) }));
    return { messages: track === 0 ? [time, ...others] : others };
  });
  return { ...file, tracks };
}

/** What is said of it in docs/accuracy.md. */
export function countTable(all: readonly CountScore[]): string {
  const isAt = (speed: number) => (score: CountScore) => Math.abs(score.speed / speed - 1) < SAME_SHARE;
  const row = (name: string, isMeant: (score: CountScore) => boolean) => {
    const cells = [false, true].map((isSetAside) => {
      const third = all.filter((score) => score.isSetAside === isSetAside);
      return percent(third.filter(isMeant).length, third.length);
    });
    return `| ${name} | ${cells.join(" | ")} |`;
  };
  return `The same parts at their slowest and their fastest, to no click, in files that count ${FILE_BPM} bpm: ${all.length} takes, of parts with even beats.

| beats are counted | looked at | set aside |
| --- | --- | --- |
${row("as they are written", isAt(1))}
${row("half as fast", isAt(1 / 2))}
${row("twice as fast", isAt(2))}
${row("as they are written, and the beats of a bar as well", (score) => isAt(1)(score) && score.isBarRight)}`;
}
