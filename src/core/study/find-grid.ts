import { columnsOf, type Hit } from "../document/pattern.ts";
import { bordersOf } from "../dynamics/roles.ts";
import { GRID_CHOICES, type Grid, type GridStretch, isSameGrid, type TimeMaps } from "../time/index.ts";
import { median } from "../timing/drift.ts";
import { isWithin } from "./bar-slots.ts";
import { type FoundStretches, isPlain } from "./best-stretches.ts";
import { findFills, type KnownVoice, mainGrid } from "./find-fills.ts";
import { findGhostGrid } from "./find-ghost-grid.ts";
import { beatsPlayed, findStretches, type Hint, JOINT_PRICE, mostGain, SHARED_PRICE } from "./find-stretches.ts";
import {
  costOfSwing,
  fitGrid,
  type GridModel,
  HEDGE,
  handOutside,
  type KnownOfTake,
  onRightSide,
  shareExplained,
  sureness,
  USUAL_PLAYER,
  withHand,
} from "./grid-model.ts";
import { withLoneStrokes } from "./lone-strokes.ts";
import { collectOnsets, type Onsets, stepOf, thinned } from "./onsets.ts";
import { findSwings } from "./swing/find-swing.ts";
import { asTakePlays, onsetsOutside, withFills } from "./voice-in-fills.ts";
import { isPlayedByAll, worthBeside } from "./worth-beside.ts";

/** The grid on which a voice was played, and how well it explains the hits. */
export interface FoundGrid {
  readonly grid: Grid;
  /** What the ghosts were played on, if that is another grid than that of the strokes. */
  readonly ghostGrid?: Grid;
  /** Where it follows another grid. */
  readonly stretches: readonly GridStretch[];
  /** 0 to 1: the share of hits that sit on a slot rather than anywhere. */
  readonly shareExplained: number;
  /** The voice's habit, late is positive. */
  readonly meanDriftMs: number;
  /** Robust standard deviation of the drifts around their mean. */
  readonly spreadMs: number;
  /** On its slots to the tick, all off by the same if at all, as no hand plays. */
  readonly isExact: boolean;
  readonly runnerUp: Grid | null;
  /** How sure it is that the runner-up is not meant, 0.5 to 1. */
  readonly confidence: number;
  /** True if no grid explains the hits better than chance. */
  readonly isPoor: boolean;
}

/** More hits than this tell nothing new of the grid, but cost time. */
const MOST_HITS = 600;
/**
 * So many of the best candidates are tried with other grids in stretches, and the plain ones where the best is none of them: what a
 * person would say is such a grid with stretches, and not the finest that holds them all.
 */
const TRIED_WITH_STRETCHES = 3;
/** Rounding to the ticks of a coarse file puts hits about so far off their slots. */
const EXACT_MS = 1.5;
/** What a better hit than chance is worth at the least, as a logarithm, for a grid not to be poor. */
const LEAST_WORTH = 0.25;

/** Finds the grid of one voice on its own. @returns null for a voice without hits */
export function findGrid(hits: readonly Hit[], maps: TimeMaps): FoundGrid | null {
  const ghostTops = new Map([["", bordersOf(columnsOf(hits), maps.meterMap).ghostTop]]);
  return findGrids(new Map([["", hits]]), ghostTops, 0, maps).get("") ?? null;
}

/**
 * Finds the grid of each voice from the drifts of its hits.
 *
 * A finer grid always fits more closely, but it spreads the same hits over more slots and pays half the logarithm of the number
 * of hits for each of its levels, so it must be needed to win. Where only some beats need another grid, a stretch of that is
 * cheaper than a finer grid for all. Swing is learned from the voices together.
 *
 * @param byVoice the hits of each voice, ascending by base tick
 * @param ghostTops for each voice the loudest of its ghosts, as its treatment will have it; 0 if there are none
 * @param lateMs how late the whole take came in
 * @param onProgress told how much is done, 0 to 1
 * @returns for each voice that has hits what was found
 */
export function findGrids(
  byVoice: ReadonlyMap<string, readonly Hit[]>,
  ghostTops: ReadonlyMap<string, number>,
  lateMs: number,
  maps: TimeMaps,
  onProgress: (share: number) => void = () => {},
): ReadonlyMap<string, FoundGrid> {
  const { ppq } = maps.meterMap;
  const stepTicks = stepOf(byVoice.values(), ppq);
  const onsetsOf = new Map<string, Onsets>();
  for (const [voiceId, hits] of byVoice) {
    const onsets = collectOnsets(hits, maps, lateMs, stepTicks);
    if (onsets.ticks.length > 0) onsetsOf.set(voiceId, onsets);
  }
  const voices = [...onsetsOf];
  const swings = findSwings(
    voices.map(([, onsets]) => thinned(onsets, MOST_HITS)),
    ppq,
    lateMs,
  );
  const grids = [...GRID_CHOICES, ...swings];
  const alone: KnownOfTake = { ...USUAL_PLAYER, lateMs };
  const fit = (onsets: Onsets, known: KnownOfTake) => fitVoice(grids, thinned(onsets, MOST_HITS), ppq, known);
  const find = (
    [voiceId, onsets]: readonly [string, Onsets],
    fitted: FittedVoice,
    hints: readonly Hint[],
    more?: SecondLook,
  ) => findOne(onsets, ghostTops.get(voiceId) ?? 0, likeliest(fitted, more?.worthOf), maps, hints, more?.handMs);
  const fitted = voices.map(([, onsets], index) => {
    onProgress(index / voices.length / 2);
    return fit(onsets, alone);
  });
  const counts = voices.map(([, onsets]) => onsets.ticks.length);
  const modelsOf = fitted.map(({ models }) => models);
  const swung = swings.filter((swing) => isPlayedByAll(swing, modelsOf, counts));
  const first = voices.map((voice, index) => {
    const worthOf = (grid: Grid) => (swung.includes(grid) ? costOfSwing(counts[index]!) : 0);
    return find(voice, fitted[index]!, [], { worthOf, handMs: Number.POSITIVE_INFINITY });
  });
  const known = knownFrom(first, lateMs);
  const onGrids = first.map((one, index) => ({ ...one, hitCount: counts[index]! }));
  const main = mainGrid(onGrids);
  const otherWays = first.map(({ grid, stretches, meanDriftMs }, index) =>
    grid.family === "straight" ? stretches : beatsPlayed(voices[index]![1], grid, meanDriftMs, maps),
  );
  // Where most of a take follows no grid, chance would make fills of it.
  const fills = main
    ? findFills(
        first.map((one, index) => knownVoice(one, voices[index]![1], main, known, ppq)),
        first.flatMap(({ isPoor, stretches }) => (isPoor ? [] : stretches.map(({ grid }) => grid))),
        known.spreadMs,
        main,
        maps,
      )
    : null;
  // What some voices play makes it likelier that others play it too, grids throughout as well as in single beats.
  const second = voices.map((voice, index): FoundGrid => {
    const [voiceId, onsets] = voice;
    onProgress(0.5 + index / voices.length / 2);
    const ways = otherWays.filter((_, other) => other !== index).flat();
    const shared = [...ways, ...(fills?.stretches ?? [])];
    const own = fills?.ofVoices[index];
    const hints = [...shared.map(priced(SHARED_PRICE)), ...(own?.stretches ?? []).map(priced(JOINT_PRICE))];
    const isFew = onsets.ticks.length < FEW_HITS;
    // Where the others say nothing new, the first answer stands.
    const saySame = first.every(({ grid }) => isSameGrid(grid, first[index]!.grid));
    if (saySame && hints.length === 0 && !isFew) return first[index]!;
    const others = onGrids.filter((_, other) => other !== index);
    const more = { worthOf: worthBeside(others, counts[index]!), handMs: known.spreadMs };
    // A voice with many hits says itself how steadily it is played, and has a word in what it plays in a fill.
    if (!isFew) return find(voice, fitted[index]!, hints, more);
    const beside = { ...known, grids: gridsOf(others) };
    if (!main || !own) return find(voice, fit(onsets, beside), hints, more);
    // A few hits that fit nothing on their own are played where the take plays.
    const orMain = (one: FoundGrid, ofIt: Onsets) =>
      one.isPoor && ofIt.ticks.length < FEWEST_TO_TELL ? asTakePlays(ofIt, NO_FILLS, main, known, ppq) : one;
    if (own.stretches.length === 0) return orMain(find(voice, fit(onsets, beside), hints, more), onsets);
    const outside = onsetsOutside(onsets, own.stretches, lateMs, ppq);
    if (outside.ticks.length < FEWEST_OUTSIDE) return asTakePlays(onsets, own, main, known, ppq);
    const rest = orMain(find([voiceId, outside], fit(outside, beside), hints, more), outside);
    return withFills(rest, outside.ticks.length, onsets.ticks.length, own);
  });
  const lone = withLoneStrokes(
    second.map((found, index) => ({ found, onsets: voices[index]![1] })),
    maps,
  );
  return new Map(voices.map(([voiceId], index) => [voiceId, lone[index]!]));
}

/** So many hits that fit nothing show that their voice follows nothing. */
const FEWEST_TO_TELL = 12;
const priced =
  (price: number) =>
  (stretch: GridStretch): Hint => ({ ...stretch, price });
const NO_FILLS = { stretches: [], gain: 0 };

/** What is known of a voice once all have been looked at. */
interface SecondLook {
  /** What a grid is worth besides how it fits, as a logarithm. */
  readonly worthOf: (grid: Grid) => number;
  /** The spread of the take's hands. */
  readonly handMs: number;
}

/** Fewer hits than this take the take's spread for their own. */
const FEW_HITS = 60;
/** Of fewer hits outside fills nothing can be told. */
const FEWEST_OUTSIDE = 3;
/** How far small voices sit from one another, beside how far hits are from their slots. */
const BETWEEN_VOICES_MS = 6;

/** A voice as far as it can be known beside the others: one of a few hits sits where the take does. */
function knownVoice(
  { grid, ghostGrid, meanDriftMs, spreadMs, isPoor }: FoundGrid,
  onsets: Onsets,
  main: Grid,
  known: KnownOfTake,
  ppq: number,
): KnownVoice {
  if (isPoor || onsets.ticks.length < FEW_HITS) {
    return {
      onsets,
      grid: main,
      meanDriftMs: known.lateMs,
      spreadMs: Math.hypot(known.spreadMs, BETWEEN_VOICES_MS),
    };
  }
  const finest = ghostGrid ?? grid;
  // Who plays eighths in a part of sixteenths may play a sixteenth.
  const isOnMain = finest.swingPercent === undefined && isWithin(finest, main, ppq);
  return { onsets, grid: isOnMain ? main : finest, meanDriftMs, spreadMs };
}

/** The hands of a take count in a small voice as if so many of its own hits had shown them. */
const WORTH_OF_TAKE = 8;

/** What all voices show together of how the take was played. Sequenced ones would have hands steadier than any. */
function knownFrom(found: readonly FoundGrid[], lateMs: number): KnownOfTake {
  const spreads = found.flatMap(({ isPoor, spreadMs }) => (isPoor ? [] : [spreadMs]));
  const { spreadMs } = USUAL_PLAYER;
  return {
    lateMs,
    spreadMs: spreads.length === 0 ? spreadMs : Math.max(spreadMs, median(spreads)),
    worthHits: WORTH_OF_TAKE,
    isSeen: true,
    grids: gridsOf(found),
  };
}

/** The grids that some voices follow, throughout or in places. */
const gridsOf = (found: readonly FoundGrid[]): readonly Grid[] =>
  found.flatMap(({ isPoor, grid, stretches }) => (isPoor ? [] : [grid, ...stretches.map((stretch) => stretch.grid)]));

/** A voice with every grid fitted to it. */
interface FittedVoice {
  readonly models: readonly GridModel[];
  /** The same grid a step earlier or later where that is likelier; found once for each. */
  onRightSide(model: GridModel): GridModel;
}

function fitVoice(grids: readonly Grid[], fewer: Onsets, ppq: number, known: KnownOfTake): FittedVoice {
  const sided = new Map<GridModel, GridModel>();
  return {
    models: grids.map((grid) => fitGrid(grid, fewer, ppq, known)),
    onRightSide(model) {
      const right = sided.get(model) ?? onRightSide(model, fewer, ppq, known);
      sided.set(model, right);
      return right;
    },
  };
}

/** The likeliest grids of a voice, the best first. @param worthOf what each is worth besides how it fits */
function likeliest(fitted: FittedVoice, worthOf: (grid: Grid) => number = () => 0): readonly GridModel[] {
  const valued = (model: GridModel) => ({ ...model, score: model.score + worthOf(model.grid) });
  const ranked = fitted.models.toSorted((a, b) => byScore(valued(a), valued(b)));
  const best = ranked[0]!.grid;
  // The next coarser grid leaves hits out that stretches may explain, as in a roll.
  const isTried = ({ grid }: GridModel, rank: number) =>
    rank < TRIED_WITH_STRETCHES ||
    (grid.family === best.family && grid.denominator * 2 === best.denominator) ||
    (isPlain(grid) && !isPlain(best));
  return ranked.filter(isTried).map((model) => valued(fitted.onRightSide(model)));
}

function findOne(
  onsets: Onsets,
  ghostTop: number,
  models: readonly GridModel[],
  maps: TimeMaps,
  hints: readonly Hint[],
  handMs = Number.POSITIVE_INFINITY,
): FoundGrid {
  const { ppq } = maps.meterMap;
  const fewer = thinned(onsets, MOST_HITS);
  const thinning = onsets.ticks.length / fewer.ticks.length;
  const tried: (GridModel & { readonly stretches: readonly GridStretch[] })[] = [];
  for (const model of models) {
    // Dotted steps with exceptions are no grid that anybody has in mind.
    const mayHaveOthers = model.grid.family !== "dotted";
    const leader = Math.max(...tried.map(({ score }) => score));
    const isHopeless = model.score + mostGain(model, onsets, maps) / thinning < leader;
    if (!mayHaveOthers || isHopeless) tried.push({ ...model, stretches: [] });
    else {
      const { model: steady, stretches, score } = withStretches(model, onsets, fewer, maps, hints, handMs);
      tried.push({ ...steady, stretches, score });
    }
  }
  const [best, second] = tried.sort(byScore) as [(typeof tried)[number], (typeof tried)[number] | undefined];
  let chance = 0;
  for (let row = 0; row < fewer.ticks.length; row++) chance -= Math.log(fewer.barTicks[row]! * fewer.msPerTick[row]!);
  const isPoor = best.score - chance < LEAST_WORTH * fewer.ticks.length;
  const byRole = isPoor ? null : findGhostGrid(ghostTop, best, best.stretches, onsets, ppq);
  return {
    grid: best.grid,
    ...byRole,
    stretches: best.stretches,
    shareExplained: shareExplained(best, best.stretches, onsets, ppq),
    meanDriftMs: best.meanDriftMs,
    spreadMs: best.spreadMs,
    isExact: best.ownSpreadMs < EXACT_MS,
    runnerUp: second?.grid ?? null,
    confidence: second ? sureness(best.score - second.score) : 1,
    isPoor,
  };
}

/** How often stretches are sought again at the most. */
const MOST_ROUNDS = 3;
/** Of more hits than this a hand is known well enough: they are sought again only if it proves steadier than this share. */
const MANY_HITS = 790;
const STEADIER = 0.94;
/** A voice that seems this much looser than the take may follow other grids in so many places that none of them stands out. */
const LOOSER = 1.25;

interface WithStretches extends FoundStretches {
  readonly model: GridModel;
  /** Of the grid and its stretches together. */
  readonly score: number;
}

/**
 * A grid with the stretches in which another is followed. What is played in those makes a hand seem looser than it is, so that some of
 * them are missed: once they are known the hand is judged by the rest, and they are sought again.
 */
function withStretches(
  fitted: GridModel,
  onsets: Onsets,
  fewer: Onsets,
  maps: TimeMaps,
  hints: readonly Hint[],
  handMs: number,
): WithStretches {
  const { ppq } = maps.meterMap;
  // Grids were fitted to every so many hits, stretches are to all.
  const thinning = onsets.ticks.length / fewer.ticks.length;
  const seek = (model: GridModel, recurring: readonly Grid[] = []): WithStretches => {
    const found = findStretches(model, onsets, maps, hints, recurring);
    return { model, ...found, score: model.score + found.gain / thinning };
  };
  // Of one grid alone: how hits follow one another was not asked of other grids.
  const withTurns = ({ score, ofTurns }: WithStretches) => score + ofTurns / thinning;
  const settle = (start: GridModel): WithStretches => {
    let best = seek(start);
    for (let round = 1; round < MOST_ROUNDS && best.stretches.length > 0; round++) {
      const { model, stretches } = best;
      const hand = handOutside(model, stretches, fewer, ppq);
      if (onsets.ticks.length > MANY_HITS && hand.spreadMs > STEADIER * model.spreadMs) break;
      const steadier = hand.spreadMs < model.spreadMs ? withHand(model, hand, fewer, ppq) : model;
      const next = seek(
        steadier,
        stretches.map(({ grid }) => grid),
      );
      if (next.score <= best.score) break;
      best = next;
    }
    return best;
  };
  const own = settle(fitted);
  if (fitted.spreadMs <= LOOSER * handMs) return own;
  const steady = withHand(fitted, { meanDriftMs: fitted.meanDriftMs, spreadMs: handMs }, fewer, ppq);
  if (steady.score + mostGain(steady, onsets, maps) / thinning <= withTurns(own) + HEDGE) return own;
  // Bursts that recur are cheap, so that chance finds some as well: it must be clearly better.
  const steadier = settle(steady);
  if (withTurns(steadier) <= withTurns(own) + HEDGE) return own;
  // To other grids, which were not asked how hits follow one another, it is compared by the better of both.
  return { ...steadier, score: Math.max(own.score, steadier.score) };
}

const byScore = (a: Pick<GridModel, "score">, b: Pick<GridModel, "score">) => b.score - a.score;
