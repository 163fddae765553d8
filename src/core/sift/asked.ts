import { type TimeMaps, ticksToMs } from "../time/index.ts";
import { findGraceNotes } from "../timing/grace-notes.ts";
import { type PlaceInBar, placeInBar } from "../timing/places.ts";
import type { SiftedHit, SiftLane } from "./sift-lane.ts";
import type { Company } from "./tests/how.ts";

/** Hits of two drums this near are struck together. */
const TOGETHER_MS = 25;
const GRACE_STEP_MS = 100;

/** What several tests ask of the same hits: found once. */
export class Asked {
  readonly #lanes: readonly SiftLane[];
  readonly #maps: TimeMaps;
  readonly #places = new Map<string, PlaceInBar>();
  #companies: ReadonlyMap<string, ReadonlySet<Company>> | null = null;

  constructor(lanes: readonly SiftLane[], maps: TimeMaps) {
    this.#lanes = lanes;
    this.#maps = maps;
  }

  get ppq(): number {
    return this.#maps.meterMap.ppq;
  }

  /** Where in its bar the slot of a hit is. */
  placeOf({ hit, lane, row }: SiftedHit): PlaceInBar {
    const known = this.#places.get(hit.id);
    if (known) return known;
    const place = placeInBar(lane.cleaned.slotTicks[row]!, lane.treatment.timing, this.#maps.meterMap);
    this.#places.set(hit.id, place);
    return place;
  }

  companyOf(hitId: string): ReadonlySet<Company> {
    this.#companies ??= findCompanies(this.#lanes, this.#maps);
    return this.#companies.get(hitId) ?? new Set();
  }
}

function findCompanies(lanes: readonly SiftLane[], { tempoMap }: TimeMaps): ReadonlyMap<string, ReadonlySet<Company>> {
  const companies = new Map<string, ReadonlySet<Company>>();
  const timesOf = lanes.map(({ cleaned }) => ticksToMs(tempoMap, cleaned.ticks));
  const all = lanes
    .flatMap(({ hits }, lane) => hits.map((hit, row) => ({ id: hit.id, lane, ms: timesOf[lane]![row]! })))
    .sort((a, b) => a.ms - b.ms);
  let first = 0;
  for (const { id, lane, ms } of all) {
    while (all[first]!.ms < ms - TOGETHER_MS) first++;
    let isTogether = false;
    for (let at = first; at < all.length && all[at]!.ms <= ms + TOGETHER_MS && !isTogether; at++) {
      isTogether = all[at]!.lane !== lane;
    }
    companies.set(id, new Set([isTogether ? "together" : "alone"]));
  }
  for (const [index, { hits, cleaned }] of lanes.entries()) {
    const steps = new Float64Array(hits.length).fill(GRACE_STEP_MS);
    const mains = findGraceNotes({ timesMs: timesOf[index]!, velocities: cleaned.velocities }, steps);
    for (const [row, main] of mains.entries()) {
      if (main === -1) continue;
      for (const { id } of [hits[row]!, hits[main]!]) companies.set(id, new Set([...companies.get(id)!, "flam"]));
    }
  }
  return companies;
}
