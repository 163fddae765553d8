import { findVoice, isUnnamedVoice, type NoteMap, type NoteMeaning } from "../document/note-map.ts";
import type { Hit } from "../document/pattern.ts";
import type { TimeMaps } from "../time/index.ts";
import { type Behaviour, describeNotes, nearShare, togetherShare } from "./behaviour.ts";
import { GENERAL_MIDI } from "./general-midi.ts";
import { findPedalPad } from "./pedal-pad.ts";

/** What an unnamed note may be. Nothing follows from it until a person takes it. */
export interface Guess {
  readonly note: number;
  readonly meaning: NoteMeaning;
  /** What it may be as well, where nothing tells the two apart. */
  readonly otherMeaning: NoteMeaning | null;
  /** 0 to 1. */
  readonly confidence: number;
  /** Why, in words: `on 2 and 4, loud, never with note 36`. */
  readonly reason: string;
  /** Whether the pedal says which hat each of its strokes is. */
  readonly isSplitByPedal: boolean;
}

type RoleName = "kick" | "snare" | "time" | "crash" | "foot" | "open" | "tom";

/**
 * Guesses the drum of each note from how it is played: where in the bar, how often, how loud, how evenly, and with what.
 * Note numbers are not used, since a kit may send any.
 * @param hits all hits of a take, named or not, sorted by time
 * @returns a guess for every note that has hits, the surest first
 */
export function guessNotes(hits: readonly Hit[], maps: TimeMaps): readonly Guess[] {
  const behaviours = describeNotes(hits, maps, findLate(hits, maps));
  if (behaviours.length === 0) return [];
  const roles = assignRoles(behaviours);
  const times = behaviours.filter(({ note }) => roles.get(note)?.role === "time");
  // What is hardly told itself tells nothing of others.
  const told = (role: RoleName) =>
    behaviours.find(({ note }) => roles.get(note)?.role === role && roles.get(note)!.confidence >= LEAST_EVIDENCE);
  const foot = told("foot");
  const open = told("open");
  const toms = behaviours.filter(({ note }) => roles.get(note)?.role === "tom");
  const pedalPad = findPedalPad(hits, maps.tempoMap);
  // Where a pad with a pedal is all the hats, what else keeps time is the ride.
  const hasHats = pedalPad !== null;
  const others = hasHats ? times.filter(({ note }) => note !== pedalPad) : times;
  const ride = hasHats ? (others[0] ?? null) : findRide(others, foot, open);
  // Of two that keep time, what says which one of them is says the other.
  const areToldApart = hasHats || times.some((one) => isToldApart(one, one === ride, foot, open));
  return behaviours
    .map((behaviour): Guess => {
      if (behaviour.note === pedalPad) return { note: pedalPad, ...PEDAL_GUESS };
      const { role, confidence } = roles.get(behaviour.note)!;
      const about = { note: behaviour.note, isSplitByPedal: false };
      const reason = reasonOf(role, behaviour, behaviour === ride ? foot : undefined, behaviours, roles);
      if (role === "time") {
        const isRide = behaviour === ride;
        const [meaning, other] = isRide ? [RIDE, HAT] : [HAT, RIDE];
        if (areToldApart) {
          return { ...about, meaning, otherMeaning: null, confidence, reason };
        }
        return { ...about, meaning, otherMeaning: other, confidence: Math.min(confidence, UNTOLD), reason };
      }
      const meaning = role === "tom" ? tomMeaning(toms.indexOf(behaviour), toms.length) : MEANINGS[role];
      if (role === "snare" && !foot && isLikeFoot(behaviour, behaviours)) {
        return { ...about, meaning, otherMeaning: MEANINGS.foot, confidence: Math.min(confidence, UNTOLD), reason };
      }
      return { ...about, meaning, otherMeaning: null, confidence, reason };
    })
    .sort((a, b) => b.confidence - a.confidence);
}

const HAT: NoteMeaning = { voiceId: "hat", articulationId: "closed" };
const RIDE: NoteMeaning = { voiceId: "ride", articulationId: "bow" };
/** A foot or an open hat that is less sure than this is no evidence. */
const LEAST_EVIDENCE = 0.5;
/** Hats and ride keep time alike: without anything that tells them apart nobody is surer. */
const UNTOLD = 0.58;
/** The foot closes hats while the hand is on the ride; hats are opened in place of being struck shut. */
const WITH_FOOT_SHARE = 0.5;
const BY_OPEN_SHARE = 0.6;
const ON_OPEN_SHARE = 0.12;

/** Whether anything says which of the two that keep time a note is. */
function isToldApart(
  one: Behaviour,
  isRide: boolean,
  foot: Behaviour | undefined,
  open: Behaviour | undefined,
): boolean {
  if (isRide) return foot !== undefined && togetherShare(foot, one) > WITH_FOOT_SHARE;
  return open !== undefined && nearShare(open, one) > BY_OPEN_SHARE && togetherShare(open, one) < ON_OPEN_SHARE;
}

/** A back-beat is as loud as anything that is played throughout. What is on it alone, and softer, may as well be the foot that closes the hats. */
const LOUD_SHARE = 0.85;
const THROUGHOUT = 0.5;
const ON_BACK_BEAT = 0.8;
const MOST_OFF = 0.1;

function isLikeFoot(one: Behaviour, all: readonly Behaviour[]): boolean {
  const down = one.pulses[0] ?? 0;
  const isOnBackBeat = backBeat(one) >= ON_BACK_BEAT && down < 1 - ON_BACK_BEAT && one.offShare < MOST_OFF;
  const peaks = all.flatMap(({ coverage, peakLoudness }) => (coverage >= THROUGHOUT ? [peakLoudness] : []));
  return isOnBackBeat && one.peakLoudness < LOUD_SHARE * Math.max(...peaks);
}

/** Takes come in so far off, and are tried at such steps. */
const FARTHEST_LATE_MS = 150;
const LATE_STEP_MS = 15;
/** How much better a kit must fit for each ms that its take is read as late. */
const PRICE_OF_MS = 0.0006;
/** More hits than these say it no better. */
const MOST_FOR_LATE = 900;

/** How late a take came in whose drums are not known yet: as late as a kit fits it best, each of its drums with work to do. */
function findLate(hits: readonly Hit[], maps: TimeMaps): number {
  const some = hits.length > MOST_FOR_LATE ? hits.slice(0, MOST_FOR_LATE) : hits;
  let best = { lateMs: 0, worth: Number.NEGATIVE_INFINITY };
  for (let lateMs = -FARTHEST_LATE_MS; lateMs <= FARTHEST_LATE_MS; lateMs += LATE_STEP_MS) {
    const behaviours = describeNotes(some, maps, lateMs);
    const scores = behaviours.map(scoresOf);
    const roles = shareOut(scores);
    const total = scores.reduce((sum, score, index) => sum + score[roles[index]!], 0);
    const worth = total / Math.max(1, behaviours.length) - PRICE_OF_MS * Math.abs(lateMs);
    if (worth > best.worth) best = { lateMs, worth };
  }
  return best.lateMs;
}

const PEDAL_GUESS: Omit<Guess, "note"> = {
  meaning: HAT,
  otherMeaning: null,
  confidence: 0.93,
  reason: "the pedal opens right before it, and it is struck shut as well",
  isSplitByPedal: true,
};

/** A guess turned to what it may be as well. */
export function otherGuess(guess: Guess): Guess {
  return guess.otherMeaning ? { ...guess, meaning: guess.otherMeaning, otherMeaning: guess.meaning } : guess;
}

/**
 * Guesses that speak against a name. What the map calls a piece of percussion may be played as a part of the drum kit: a map that does
 * not belong to the kit gives such names to notes that happen to be in it. Where so many of its names do not fit how their notes are
 * played that it is the map of another kit, the others are doubted as well.
 */
export function findDoubts(map: NoteMap, hits: readonly Hit[], guesses: readonly Guess[]): readonly Guess[] {
  const voiceOfNote = new Map(hits.map((hit) => [hit.note, hit.voiceId]));
  const named = guesses.flatMap((guess) => {
    const voiceId = voiceOfNote.get(guess.note) ?? "";
    if (guess.confidence < LEAST_DOUBT || isUnnamedVoice(voiceId)) return [];
    const { family } = findVoice(map, voiceId);
    const meant = [guess.meaning, ...(guess.otherMeaning ? [guess.otherMeaning] : [])];
    return [{ guess, family, fits: meant.some((one) => findVoice(GENERAL_MIDI, one.voiceId).family === family) }];
  });
  const telling = named.filter(({ guess }) => guess.confidence >= TELLING);
  const misfits = telling.filter(({ fits }) => !fits).length;
  const isOfAnotherKit = misfits >= FEWEST_MISFITS && misfits >= MISFIT_SHARE * telling.length;
  const doubted = named.flatMap(({ guess, family, fits }) =>
    family === "percussion" || (isOfAnotherKit && !fits) ? [guess] : [],
  );
  const odd = findOddNotes(map, hits).filter(
    ({ note }) => !doubted.some((guess) => guess.note === note && guess.confidence >= TELLING),
  );
  const oddNotes = new Set(odd.map(({ note }) => note));
  return [...doubted.filter(({ note }) => !oddNotes.has(note)), ...odd];
}

/** What hardly stands among the drums of a kit: where a kit seems to strike it a few times, it is something else of the kit. */
const RARE_BY_A_KIT: ReadonlySet<string> = new Set(
  "maracas cabasa claves agogo surdo cuica guiro whistle vibraslap castanets jingle-bell bell-tree sticks slap scratch high-q square-click metronome".split(
    " ",
  ),
);
/** So few strokes tell nothing of themselves, if they are a small part of a take that has a kick and a snare. */
const MOST_ODD_HITS = 8;
const MOST_ODD_SHARE = 0.02;
const FEWEST_OF_KIT = 8;
const ODD_CONFIDENCE = 0.45;

/** Notes of a few strokes whose name no kit has: most likely the rim or the edge of a pad. */
function findOddNotes(map: NoteMap, hits: readonly Hit[]): readonly Guess[] {
  const counts = new Map<string, number>();
  const byNote = new Map<number, { readonly voiceId: string; count: number }>();
  for (const { note, voiceId } of hits) {
    counts.set(voiceId, (counts.get(voiceId) ?? 0) + 1);
    const own = byNote.get(note) ?? { voiceId, count: 0 };
    own.count++;
    byNote.set(note, own);
  }
  const isKit = ["kick", "snare"].every((voiceId) => (counts.get(voiceId) ?? 0) >= FEWEST_OF_KIT);
  if (!isKit) return [];
  const most = Math.min(MOST_ODD_HITS, MOST_ODD_SHARE * hits.length);
  return [...byNote].flatMap(([note, { voiceId, count }]) =>
    count <= most && RARE_BY_A_KIT.has(voiceId)
      ? [
          {
            note,
            meaning: { voiceId: "snare", articulationId: "rim-shot" },
            otherMeaning: null,
            confidence: ODD_CONFIDENCE,
            reason: `${count} ${count === 1 ? "hit" : "hits"} in a drum kit, where the map says ${findVoice(map, voiceId).name}`,
            isSplitByPedal: false,
          },
        ]
      : [],
  );
}

/** So sure guesses say something of the map, and so many of them must speak against it for it to be that of another kit. */
const TELLING = 0.5;
const FEWEST_MISFITS = 3;
const MISFIT_SHARE = 0.5;
const LEAST_DOUBT = 0.4;

const MEANINGS = {
  kick: { voiceId: "kick", articulationId: "main" },
  snare: { voiceId: "snare", articulationId: "centre" },
  crash: { voiceId: "crash", articulationId: "crash" },
  foot: { voiceId: "hat", articulationId: "foot" },
  open: { voiceId: "hat", articulationId: "open" },
} as const satisfies Record<Exclude<RoleName, "time" | "tom">, NoteMeaning>;

/** Toms tend to be struck from the highest down in a fill, and notes are sorted by when they first sound. */
function tomMeaning(index: number, count: number): NoteMeaning {
  const ids = count <= 2 ? ["tom-2", "tom-5"] : ["tom-1", "tom-2", "tom-4", "tom-5", "tom-6"];
  return { voiceId: ids[Math.min(index, ids.length - 1)]!, articulationId: "centre" };
}

/** The back-beat of a bar: every second pulse, or the middle of the bar in half-time. */
function backBeat({ pulses }: Behaviour): number {
  const count = pulses.length;
  const odd = pulses.filter((_, pulse) => pulse % 2 === 1);
  const oddMean = odd.length > 0 ? odd.reduce((sum, share) => sum + share, 0) / odd.length : 0;
  const middle = count > 2 ? (pulses[Math.floor(count / 2)] ?? 0) - (odd[0] ?? 0) * 0.5 : 0;
  // In odd meters the back-beat is wherever all but the first pulse is strongest.
  const strongest = Math.max(0, ...pulses.slice(1));
  return Math.max(oddMean, middle, count % 2 === 1 ? strongest : 0);
}

/** How well a note fits each part of a kit, 0 to about 1. */
function scoresOf(one: Behaviour): Record<RoleName, number> {
  const down = one.pulses[0] ?? 0;
  const others = one.pulses.slice(1);
  const otherMean = others.length > 0 ? others.reduce((sum, share) => sum + share, 0) / others.length : 0;
  const back = backBeat(one);
  const limit = (value: number) => Math.max(0, Math.min(1, value));
  const isRare = limit((0.45 - one.coverage) / 0.3);
  const isLoud = limit((one.loudness - 0.75) / 0.5);
  const isOften = limit((one.perBar / one.pulses.length - 0.6) / 0.8);
  return {
    kick: one.coverage * (0.55 * down + 0.25 * isLoud + 0.2 * limit(1 - back)) * (1 - 0.45 * one.evenness * isOften),
    snare:
      one.coverage *
      (0.5 * back + 0.3 * limit((one.peakLoudness - 1) / 0.4) + 0.2 * limit(1 - down)) *
      (1 - 0.6 * down),
    time: Math.min(1, one.coverage + 0.35) * (0.5 * isOften + 0.35 * one.evenness + 0.15 * Math.min(down, otherMean)),
    crash: isRare * (0.6 * one.downShare + 0.4 * isLoud),
    foot:
      (0.6 * back + 0.4 * limit((0.85 - one.loudness) / 0.4)) *
      limit(1 - 1.5 * down) *
      limit((1.05 - one.peakLoudness) / 0.3),
    open:
      limit(1 - one.coverage * 0.5) * limit(one.offShare - 0.35) * limit(1.7 - one.perBar / one.pulses.length) * 1.1,
    // Toms come in runs, an open hat once in a bar.
    tom: isRare * limit(1 - one.downShare * 1.5) * 0.62 * limit(0.4 + 0.35 * one.perBar),
  };
}

interface Role {
  readonly role: RoleName;
  readonly confidence: number;
}

const ROOM: Readonly<Record<RoleName, number>> = { kick: 1, snare: 1, time: 2, crash: 2, foot: 1, open: 1, tom: 99 };

/** A snare that is only brushed on two and four is as soft as a foot on the hats. */
const SUREST_FOOT = 0.78;

/** One kick, one snare, at most two that keep time …: of all ways to share the parts out, the one that fits best. */
function assignRoles(behaviours: readonly Behaviour[]): ReadonlyMap<number, Role> {
  const scores = behaviours.map(scoresOf);
  const chosen = shareOut(scores);
  return new Map(
    behaviours.map(({ note, timesMs }, index): [number, Role] => {
      const role = chosen[index]!;
      const score = scores[index]![role];
      const others = Object.entries(scores[index]!).filter(([name]) => name !== role);
      const runnerUp = Math.max(0, ...others.map(([, other]) => other));
      // Sure if it fits well, if nothing else fits nearly as well, and if there is enough to go by.
      const clear = Math.min(0.99, score * 0.7 + 0.6 * Math.max(0, score - runnerUp));
      const confidence = clear * Math.min(1, 0.55 + timesMs.length / 20);
      return [note, { role, confidence: role === "foot" ? Math.min(confidence, SUREST_FOOT) : confidence }];
    }),
  );
}

/** Begins with whoever fits best, then lets notes change or trade their parts for as long as the whole gets better. */
function shareOut(scores: readonly Record<RoleName, number>[]): readonly RoleName[] {
  const names = Object.keys(ROOM) as RoleName[];
  const chosen: (RoleName | undefined)[] = scores.map(() => undefined);
  const taken = (role: RoleName) => chosen.filter((other) => other === role).length;
  const bids = scores.flatMap((score, index) => names.map((role) => ({ index, role, worth: score[role] })));
  for (const { index, role } of bids.sort((a, b) => b.worth - a.worth)) {
    if (chosen[index] === undefined && taken(role) < ROOM[role]) chosen[index] = role;
  }
  const roles = chosen.map((role) => role ?? "tom");
  for (let isBetter = true; isBetter; ) {
    isBetter = false;
    for (let one = 0; one < roles.length; one++) {
      for (let other = 0; other < roles.length; other++) {
        const [mine, theirs] = [roles[one]!, roles[other]!];
        if (mine === theirs) continue;
        // One takes the other's part; the other takes the best that is left, which may be the one given up.
        const hasRoom = (role: RoleName) =>
          role === mine || (role !== theirs && roles.filter((held) => held === role).length < ROOM[role]);
        const next = names
          .filter(hasRoom)
          .reduce((best, role) => (scores[other]![role] > scores[other]![best] ? role : best));
        const gain = scores[one]![theirs] + scores[other]![next] - scores[one]![mine] - scores[other]![theirs];
        if (gain <= 1e-9) continue;
        roles[one] = theirs;
        roles[other] = next;
        isBetter = true;
      }
    }
  }
  return roles;
}

/** Of those that keep time, the ride is the one that the foot goes with, and not the one that is opened. One alone is rather hats. */
function findRide(
  times: readonly Behaviour[],
  foot: Behaviour | undefined,
  open: Behaviour | undefined,
): Behaviour | null {
  const rideScore = (one: Behaviour) =>
    (foot ? togetherShare(foot, one) : 0) - (open ? 0.5 * nearShare(open, one) : 0) - HATS_COME_FIRST * one.coverage;
  const [best] = [...times].sort((a, b) => rideScore(b) - rideScore(a));
  if (!best) return null;
  if (times.length > 1) return best;
  return foot && togetherShare(foot, best) > WITH_FOOT_SHARE ? best : null;
}

/** Most of a song is on the hats. */
const HATS_COME_FIRST = 0.2;

function reasonOf(
  role: RoleName,
  one: Behaviour,
  footOfRide: Behaviour | undefined,
  all: readonly Behaviour[],
  roles: ReadonlyMap<number, Role>,
): string {
  const words: string[] = [];
  const strong = one.pulses.flatMap((share, pulse) => (share >= 0.5 ? [pulse + 1] : []));
  if (strong.length === one.pulses.length && role === "time") words.push("on every beat and between");
  else if (strong.length > 0 && strong.length < one.pulses.length) words.push(`on ${strong.join(" and ")}`);
  else if (one.offShare > 0.6) words.push("off the beat");
  if (one.coverage < 0.3) words.push("now and then");
  if (one.loudness > 1.15) words.push("loud");
  if (one.loudness < 0.75) words.push("soft");
  if (role === "time") words.push("evenly");
  if (role === "snare" || role === "kick") {
    const partner = all.find((other) => roles.get(other.note)?.role === (role === "snare" ? "kick" : "snare"));
    if (partner && togetherShare(one, partner) < 0.05) words.push(`never with note ${partner.note}`);
  }
  if (footOfRide) words.push(`with note ${footOfRide.note}, as a foot on the hats`);
  return words.length > 0 ? words.join(", ") : "like none of the others";
}
