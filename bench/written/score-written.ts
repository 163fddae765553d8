import { columnsOf, type Hit, hitsByVoice } from "../../src/core/document/index.ts";
import { rolesOf } from "../../src/core/dynamics/index.ts";
import { importTake } from "../../src/core/file/index.ts";
import { GENERAL_MIDI } from "../../src/core/notemap/index.ts";
import { writeMidiFile } from "../../src/core/smf/index.ts";
import { findLatency, studyVoices } from "../../src/core/study/index.ts";
import { buildTimeMaps, tickToMs } from "../../src/core/time/index.ts";
import { summarizeDrifts } from "../../src/core/timing/index.ts";
import { treat } from "../../src/core/treat.ts";
import { createRandom } from "../../src/standin/random.ts";
import { drawManner, HANDS, type Hand, type PlayedTake, play, type TrueStroke } from "./player.ts";
import { readWrittenParts, type WrittenPart } from "./read-parts.ts";

/** Ends within this of where it was meant: a swing that is found a percent off is still the same slot. */
const SAME_SLOT_MS = 5;
const OFF_MS = 10;

/** What is to blame for a hit on a wrong slot, the first that holds. */
export const CAUSES = [
  "the whole take a step off",
  "taken for something else than a stroke",
  "a triplet left straight",
  "a straight stroke taken for a triplet",
  "swing",
  "a roll",
  "a fill that hurries",
  "a small voice",
  "a voice as a whole",
  "a single hit",
] as const;
export type Cause = (typeof CAUSES)[number];

export interface WrittenScore {
  readonly title: string;
  readonly hand: Hand;
  readonly hits: number;
  readonly onSlot: number;
  readonly rolls: number;
  readonly rollsOnSlot: number;
  readonly graces: number;
  readonly gracesKept: number;
  readonly causes: Readonly<Partial<Record<Cause, number>>>;
  readonly doubles: number;
  readonly doublesFound: number;
  readonly doublesRight: number;
  readonly talks: number;
  readonly talksFound: number;
  readonly talksRight: number;
  readonly realLost: number;
  /** Hits over 10 ms off, those of them that are flagged, and all that are flagged. */
  readonly far: number;
  readonly farFlagged: number;
  readonly flagged: number;
  readonly latencyMs: number;
  /** How late its drums were played on average: the latency, and what the habits of the limbs come to. */
  readonly lateAsPlayedMs: number;
  readonly latencyFoundMs: number | null;
  readonly isConstantFound: boolean;
  readonly roles: Readonly<Record<"ghost" | "normal" | "accent", { real: number; found: number; right: number }>>;
  readonly isNarrow: boolean;
}

/** Takes of all parts by all hands. Every third is set aside: it is scored, and not looked at while working. */
export function playWritten(seed: number): readonly { readonly take: PlayedTake; readonly isSetAside: boolean }[] {
  let index = 0;
  return readWrittenParts().flatMap((part) =>
    handsFor(part).map((hand) => {
      const takeSeed = seed * 10_007 + index++;
      const manner = drawManner(part, hand, createRandom(takeSeed * 31 + 7));
      // By a number of its own, so that every hand and style is among those set aside.
      const isSetAside = createRandom(takeSeed * 17 + 3).uniform() < 1 / 3;
      return { take: play(part, manner, takeSeed), isSetAside };
    }),
  );
}

function handsFor({ title }: WrittenPart): readonly Hand[] {
  if (title.startsWith("programmed")) return ["sequenced", "sequenced", "sequenced"];
  if (/finger/.test(title)) return ["fingers", "fingers", "fingers"];
  const played = HANDS.filter((hand) => hand !== "fingers" && hand !== "sequenced");
  // Every fourth part has been typed in as well.
  return title.length % 4 === 0 ? [...played, "sequenced"] : played;
}

interface Outcome {
  readonly stroke: TrueStroke;
  readonly voiceId: string;
  readonly voiceHits: number;
  /** How far it ended from where it was meant; late is positive. */
  readonly offMs: number;
  readonly isFlagged: boolean;
  /** Whether it was put on a place that only triplets have. */
  readonly isOnTriplet: boolean;
}

/** Cleans a take as it is proposed, at full strength and with repair, without any hint, and compares with what was meant. */
export function scoreWritten({ title, manner, file, truth }: PlayedTake): WrittenScore {
  const { pattern } = importTake(writeMidiFile(file), GENERAL_MIDI);
  const maps = buildTimeMaps(pattern);
  const factor = pattern.ppq / manner.ppq;
  const trueById = new Map(truth.map((stroke) => [stroke.id, stroke]));
  const byVoice = hitsByVoice(pattern.hits);
  const { found, faults } = studyVoices(byVoice, pattern.noteMap, maps);
  const faulty = new Set(faults.map(({ hitId }) => hitId));
  const msOf = (tick: number) => tickToMs(maps.tempoMap, tick);
  const outcomes: Outcome[] = [];
  const roles = {
    ghost: { real: 0, found: 0, right: 0 },
    normal: { real: 0, found: 0, right: 0 },
    accent: { real: 0, found: 0, right: 0 },
  };
  let [graces, gracesKept, flagged] = [0, 0, 0];
  for (const { voiceId, treatment } of pattern.lanes) {
    const hits = byVoice.get(voiceId) ?? [];
    const leftOut = hits.flatMap(({ id }) => (faulty.has(id) ? [id] : []));
    const timing = { ...treatment.timing, isOn: true, strengthPercent: 100 };
    const full = { ...treatment, timing, repair: { leftOut } };
    const cleaned = treat(hits, full, maps, pattern.lengthTicks);
    const roleOf = rolesOf(columnsOf(hits), maps.meterMap);
    for (const [row, hit] of hits.entries()) {
      const stroke = trueById.get(hit.id);
      if (!stroke || faulty.has(hit.id)) continue;
      const isFlagged = cleaned.flags[row]! !== 0;
      if (isFlagged) flagged++;
      if (stroke.kind === "hit") {
        const offMs = msOf(cleaned.ticks[row]!) - msOf(stroke.tick * factor);
        const isOnTriplet = isTripletPlace(cleaned.slotTicks[row]! / pattern.ppq);
        outcomes.push({ stroke, voiceId, voiceHits: hits.length, offMs, isFlagged, isOnTriplet });
        const foundRole = (["ghost", "normal", "accent"] as const)[roleOf[row]!]!;
        roles[stroke.role].real++;
        roles[foundRole].found++;
        if (stroke.role === foundRole) roles[foundRole].right++;
      }
      if (stroke.kind !== "grace") continue;
      const main = hits.findIndex((other, at) => at > row && trueById.get(other.id)?.kind === "hit");
      if (main === -1) continue;
      graces++;
      const apart = msOf(hits[main]!.recordedTick!) - msOf(hit.recordedTick!);
      if (Math.abs(msOf(cleaned.ticks[main]!) - msOf(cleaned.ticks[row]!) - apart) <= SAME_SLOT_MS) gracesKept++;
    }
  }
  const lost = truth.filter(({ id, kind }) => (kind === "hit" || kind === "grace") && faulty.has(id));
  const wrong = outcomes.filter(({ offMs }) => Math.abs(offMs) > SAME_SLOT_MS);
  const far = outcomes.filter(({ offMs }) => Math.abs(offMs) > OFF_MS);
  const real = truth.filter(({ kind }) => kind === "hit").length;
  const causes: Partial<Record<Cause, number>> = {};
  const blame = blamer(outcomes);
  for (const outcome of wrong) causes[blame(outcome)] = (causes[blame(outcome)] ?? 0) + 1;
  if (lost.length > 0) causes["taken for something else than a stroke"] = lost.length;
  const ofKind = (kind: TrueStroke["kind"], among: "double" | "crossTalk") =>
    faults.filter((fault) => fault.kind === among && trueById.get(fault.hitId)?.kind === kind).length;
  const latency = findLatency(
    [...found].map(([voiceId, one]) => ({ found: one, hitCount: byVoice.get(voiceId)?.length ?? 0 })),
  );
  return {
    title,
    hand: manner.hand,
    hits: real,
    onSlot: outcomes.length - wrong.length,
    rolls: outcomes.filter(({ stroke }) => stroke.isRoll).length,
    rollsOnSlot: outcomes.filter(({ stroke, offMs }) => stroke.isRoll && Math.abs(offMs) <= SAME_SLOT_MS).length,
    graces,
    gracesKept,
    causes,
    doubles: truth.filter(({ kind }) => kind === "double").length,
    doublesFound: faults.filter(({ kind }) => kind === "double").length,
    doublesRight: ofKind("double", "double"),
    talks: truth.filter(({ kind }) => kind === "crossTalk").length,
    talksFound: faults.filter(({ kind }) => kind === "crossTalk").length,
    talksRight: ofKind("crossTalk", "crossTalk"),
    realLost: lost.length,
    far: far.length,
    farFlagged: far.filter(({ isFlagged }) => isFlagged).length,
    flagged,
    latencyMs: manner.latencyMs,
    lateAsPlayedMs: lateAsPlayed(byVoice, trueById, (stroke) => msOf(stroke.tick * factor), msOf),
    latencyFoundMs: latency?.ms ?? null,
    isConstantFound: latency?.isConstant ?? false,
    roles,
    isNarrow: manner.isNarrow,
  };
}

/** A drum of fewer hits than this says less of how late the whole was. */
const TELLING_HITS = 4;

/** The mean of what the drums of a take are late by, of each the middle of its hits. */
function lateAsPlayed(
  byVoice: ReadonlyMap<string, readonly Hit[]>,
  trueById: ReadonlyMap<string, TrueStroke>,
  meantMs: (stroke: TrueStroke) => number,
  msOf: (tick: number) => number,
): number {
  const drums = [...byVoice.values()].flatMap((hits) => {
    const latesMs = hits.flatMap(({ id, recordedTick }) => {
      const stroke = trueById.get(id);
      return stroke?.kind === "hit" ? [msOf(recordedTick ?? 0) - meantMs(stroke)] : [];
    });
    const weight = latesMs.length / (latesMs.length + TELLING_HITS);
    return latesMs.length > 0 ? [{ ms: summarizeDrifts(latesMs).meanMs, weight }] : [];
  });
  const total = drums.reduce((sum, { weight }) => sum + weight, 0);
  return drums.reduce((sum, { ms, weight }) => sum + ms * weight, 0) / Math.max(1e-9, total);
}

const FEW_HITS = 30;

/** Whether a place, in quarters, is a third or a sixth of a quarter and no half. */
function isTripletPlace(quarters: number): boolean {
  const isWhole = (count: number) => Math.abs(count - Math.round(count)) < 0.01;
  return isWhole(quarters * 6) && !isWhole(quarters * 2);
}

/** Says what is to blame for a wrong hit, by what has happened to the others. */
function blamer(outcomes: readonly Outcome[]): (outcome: Outcome) => Cause {
  const isWrong = ({ offMs }: Outcome) => Math.abs(offMs) > SAME_SLOT_MS;
  const wrongOf = new Map<string, { all: number; wrong: number }>();
  for (const outcome of outcomes) {
    const of = wrongOf.get(outcome.voiceId) ?? { all: 0, wrong: 0 };
    wrongOf.set(outcome.voiceId, { all: of.all + 1, wrong: of.wrong + (isWrong(outcome) ? 1 : 0) });
  }
  const isTakeOff = outcomes.filter(isWrong).length > 0.6 * outcomes.length;
  return ({ stroke, voiceId, voiceHits, isOnTriplet }) => {
    const of = wrongOf.get(voiceId)!;
    const isVoiceOff = of.wrong > 0.5 * of.all;
    if (isTakeOff) return "the whole take a step off";
    if (stroke.isRoll) return "a roll";
    if (stroke.isSwung) return "swing";
    if (isVoiceOff) return voiceHits < FEW_HITS ? "a small voice" : "a voice as a whole";
    if (stroke.isTuplet) return "a triplet left straight";
    if (!stroke.isTuplet && isOnTriplet) return "a straight stroke taken for a triplet";
    if (stroke.isInFill) return "a fill that hurries";
    if (voiceHits < FEW_HITS) return "a small voice";
    return "a single hit";
  };
}
