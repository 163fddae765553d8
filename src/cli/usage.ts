import { parseArgs } from "node:util";
import { GENERAL_MIDI } from "../core/notemap/index.ts";
import { type Grid, parseGrid } from "../core/time/index.ts";
import { TIGHTNESSES, type Tightness } from "../standin/player.ts";
import type { FindSettings } from "./find.ts";
import type { RecordSettings } from "./record.ts";

/** Wrong words on the command line; the message says which and what would be right. */
export class UsageError extends Error {
  override readonly name = "UsageError";
}

export interface CleanSettings {
  /** Where the plans of voices are read from, in place of what is found; undefined for none. */
  readonly planPath: string | undefined;
  /** The name or the file of the recipe that all voices are treated by; undefined for plain pulling. */
  readonly recipe: string | undefined;
  /** The time that the take is put on first: that of its file, its own as it was found, or that at a steady tempo. */
  readonly tempo: "file" | "follow" | number;
  /** Whether a take that fits its click is put on another time all the same. */
  readonly retimesClick: boolean;
  /** What is taken off every hit first: ms, or what is found. */
  readonly latency: number | "auto";
  /** `auto`, one grid for every voice, or a grid for each voice named; the rest stay as recorded. */
  readonly grid: { readonly kind: "auto" } | { readonly kind: "all"; readonly grid: Grid } | PerVoiceGrids;
  /** Undefined for what the recipe says, or all the way without one. */
  readonly strengthPercent: number | undefined;
  /** Whether hits that nobody played are left out. */
  readonly isRepairing: boolean;
}

interface PerVoiceGrids {
  readonly kind: "perVoice";
  readonly grids: ReadonlyMap<string, Grid>;
}

export type Command =
  | { readonly kind: "help"; readonly text: string }
  | { readonly kind: "inspect"; readonly inputPath: string; readonly isJson: boolean }
  | { readonly kind: "find"; readonly inputPath: string; readonly isJson: boolean; readonly settings: FindSettings }
  | {
      readonly kind: "record";
      readonly inputPath: string;
      readonly outputPath: string;
      readonly reportPath: string | undefined;
      readonly settings: RecordSettings;
    }
  | {
      readonly kind: "clean";
      readonly inputPath: string;
      readonly outputPath: string;
      readonly reportPath: string | undefined;
      readonly settings: CleanSettings;
    };

const HELP = `marten inspect FILE [--json]
    Says what is in a recorded take: meters, tempos, and for each voice its notes, hits, grid and drift.
    --json  all that was found, hit by hit, as inspect.schema.json describes it

marten clean IN.mid --out OUT.mid [--grid GRID] [--strength 0-100] [--repair]
                    [--plan PLAN.json] [--recipe RECIPE] [--latency MS] [--tempo TEMPO]
                    [--report REPORT.json]
    Quantizes every voice to its grid and writes a new file. The input file is not changed.
    The report says of every hit where it came from, its slot and why, and which are doubtful,
    as clean-report.schema.json describes it.
    --grid auto                        each voice to the grid it was played on, beat by beat (default)
    --grid 1/16                        every voice to one grid: 1/8, 1/8-triplet, 1/8-dotted ...
    --grid snare=1/16,hat=1/8-triplet  the named voices; the others stay as recorded
    --repair                           mutes double triggers and crosstalk, and fixes note lengths
    --tempo follow                     for takes played without a click: finds the beats and follows them
    --tempo 96                         the same, made steady at 96 bpm
    --even-with-click                  with --tempo: also a take that fits the click of its file
    --strength 80                      how far each hit moves: 0 stays, 100 lands on its slot (default 100)
    --plan PLAN.json                   the grids of each voice, stretch by stretch, as a report writes them
    --recipe tight-studio              a built-in recipe, or a .json file with a name and quantize settings
    --latency auto                     removes what the whole take is late by; or give the ms

marten record --from PART.mid --out TAKE.mid [--tightness T] [--passes PASSES] [--bars N]
                    [--latency MS] [--grid GRID] [--strength 0-100] [--count-in BARS]
                    [--seed N] [--report REPORT.json]
    Plays a part with the stand-in player into the recorder, pass by pass, and writes the take.
    --tightness loose                  none, tight, normal or loose (default normal)
    --passes "kick,snare;hat;ghosts"   what each pass plays: drums, families, ghosts, rest (default all)
    --bars 2                           plays over so many bars at a time (default: the whole part)
    --latency 12                       the input is so many ms late; the recorder takes it off
    --grid 1/16                        quantizes on the way in; none keeps what was struck (default none)
    --count-in 1                       bars of count-in, 0 to 4 (default 1)
    --seed 1                           another number plays it another way

marten find KNOCK.mid [--in FOLDER] [--json] [--most N]
    Finds the patterns that are most like a knocked rhythm, best first: on the shelf of patterns,
    or in the bars of every .mid file of a folder.
    --most 20                          how many are listed (default 20)

Exit codes: 0 done, 2 wrong usage, 3 unreadable input.`;

const VERBS = ["inspect", "clean", "record", "find"] as const;
type Words = ReturnType<typeof readWords>["values"];

/** @throws UsageError if the words make no command */
export function parseCommand(words: readonly string[]): Command {
  const { values, positionals } = readWords(words);
  const [verb, named, ...rest] = positionals;
  if (values.help || verb === "help") return { kind: "help", text: HELP };
  const kind = VERBS.find((one) => one === verb);
  if (!kind) throw new UsageError(verb ? `Unknown command “${verb}”.` : `Say what to do: ${VERBS.join(", ")}.`);
  const inputPath = kind === "record" ? (values.from ?? named) : named;
  if (!inputPath) {
    throw new UsageError(kind === "record" ? "Say which part to play: --from PART.mid." : `Say which file to ${kind}.`);
  }
  const [extra] = kind === "record" && values.from !== undefined ? [named] : rest;
  if (extra !== undefined) throw new UsageError(`One file at a time: “${extra}” is one too many.`);
  switch (kind) {
    case "inspect":
      return { kind, inputPath, isJson: values.json ?? false };
    case "find":
      return { kind, inputPath, isJson: values.json ?? false, settings: findSettings(values) };
    case "record":
      return { kind, inputPath, ...outputs(values, "take"), settings: recordSettings(values) };
    case "clean":
      return { kind, inputPath, ...outputs(values, "cleaned file"), settings: cleanSettings(values) };
    default:
      return kind satisfies never;
  }
}

function outputs({ out, report }: Words, what: string) {
  if (!out) throw new UsageError(`Say where the ${what} goes: --out OUT.mid.`);
  return { outputPath: out, reportPath: report };
}

function cleanSettings(values: Words): CleanSettings {
  if (values.plan !== undefined && values.grid !== undefined) {
    throw new UsageError("Take either --grid or --plan: both say which grids are followed.");
  }
  return {
    grid: readGrids(values.grid ?? "auto"),
    planPath: values.plan,
    recipe: values.recipe,
    tempo: readTempo(values.tempo ?? "file"),
    retimesClick: values["even-with-click"] ?? false,
    latency: readLatency(values.latency ?? "0"),
    strengthPercent: values.strength === undefined ? undefined : readStrength(values.strength),
    isRepairing: values.repair ?? false,
  };
}

function recordSettings(values: Words): RecordSettings {
  const latencyMs = readLatency(values.latency ?? "0");
  if (latencyMs === "auto") throw new UsageError("--latency takes a number of ms when recording.");
  const grid = values.grid ?? "none";
  return {
    tightness: readTightness(values.tightness ?? "normal"),
    passes: values.passes ?? "all",
    bars: values.bars === undefined ? null : readWhole("--bars", values.bars, 1, 999),
    latencyMs,
    countInBars: readWhole("--count-in", values["count-in"] ?? "1", 0, 4),
    grid: grid === "none" ? null : readGrid(grid),
    strengthPercent: readStrength(values.strength ?? "100"),
    seed: readWhole("--seed", values.seed ?? "1", 0, 2 ** 31),
  };
}

function findSettings(values: Words): FindSettings {
  return { folder: values.in ?? null, most: readWhole("--most", values.most ?? "20", 1, 10_000) };
}

function readTightness(text: string): Tightness {
  if (text in TIGHTNESSES) return text as Tightness;
  throw new UsageError(`--tightness takes ${Object.keys(TIGHTNESSES).join(", ")}, not “${text}”.`);
}

function readWhole(flag: string, text: string, min: number, max: number): number {
  const value = Number(text);
  if (text.trim() === "" || !Number.isInteger(value) || value < min || value > max) {
    throw new UsageError(`${flag} takes a whole number from ${min} to ${max}, not “${text}”.`);
  }
  return value;
}

/** A number below zero is the value of the flag before it, and no flag itself. */
function withNegatives(words: readonly string[]): string[] {
  const args: string[] = [];
  for (const word of words) {
    const flag = args.at(-1);
    if (/^-[\d.]/.test(word) && flag?.startsWith("--")) args[args.length - 1] = `${flag}=${word}`;
    else args.push(word);
  }
  return args;
}

function readWords(words: readonly string[]) {
  try {
    return parseArgs({
      args: withNegatives(words),
      allowPositionals: true,
      options: {
        help: { type: "boolean", short: "h" },
        json: { type: "boolean" },
        out: { type: "string" },
        grid: { type: "string" },
        strength: { type: "string" },
        report: { type: "string" },
        repair: { type: "boolean" },
        plan: { type: "string" },
        recipe: { type: "string" },
        tempo: { type: "string" },
        "even-with-click": { type: "boolean" },
        latency: { type: "string" },
        from: { type: "string" },
        tightness: { type: "string" },
        passes: { type: "string" },
        bars: { type: "string" },
        "count-in": { type: "string" },
        seed: { type: "string" },
        in: { type: "string" },
        most: { type: "string" },
      },
    });
  } catch (error) {
    if (error instanceof TypeError) throw new UsageError(error.message, { cause: error });
    throw error;
  }
}

function readGrids(text: string): CleanSettings["grid"] {
  if (text === "auto") return { kind: "auto" };
  if (!text.includes("=")) return { kind: "all", grid: readGrid(text) };
  const grids = new Map<string, Grid>();
  for (const part of text.split(",")) {
    const [name = "", grid = ""] = part.split("=");
    const voiceId = voiceNamed(name.trim());
    if (!voiceId) throw new UsageError(`There is no voice “${name}”. \`marten inspect\` lists those of a file.`);
    grids.set(voiceId, readGrid(grid));
  }
  return { kind: "perVoice", grids };
}

/** The voice of a name as `inspect` prints it, or of its id: `Hi-hat`, `hat`, `Note 22`. */
function voiceNamed(name: string): string | null {
  const wanted = name.toLowerCase();
  const voice = GENERAL_MIDI.voices.find((one) => one.id === wanted || one.name.toLowerCase() === wanted);
  const [, note] = /^note[- ](\d+)$/.exec(wanted) ?? [];
  return voice?.id ?? (note ? `note-${note}` : null);
}

function readGrid(text: string): Grid {
  const grid = parseGrid(text);
  if (!grid) throw new UsageError(`“${text}” is not a grid. Write it like 1/16, 1/8-triplet or 1/4-dotted.`);
  return grid;
}

function readStrength(text: string): number {
  const strength = Number(text);
  if (text.trim() === "" || !(strength >= 0 && strength <= 100)) {
    throw new UsageError(`--strength takes a number from 0 to 100, not “${text}”.`);
  }
  return strength;
}

function readLatency(text: string): number | "auto" {
  if (text === "auto") return "auto";
  const ms = Number(text);
  if (text.trim() === "" || !(Math.abs(ms) <= 200)) {
    throw new UsageError(`--latency takes auto, or a number of ms up to 200, not “${text}”.`);
  }
  return ms;
}

function readTempo(text: string): CleanSettings["tempo"] {
  if (text === "file" || text === "follow") return text;
  const bpm = Number(text);
  if (text.trim() === "" || !(bpm >= 20 && bpm <= 400)) {
    throw new UsageError(`--tempo takes follow, or a number of bpm from 20 to 400, not “${text}”.`);
  }
  return bpm;
}
