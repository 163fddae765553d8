import { findVoice, type Voice } from "../document/index.ts";
import { columnsOf, type Hit, hitsByVoice, type Pattern } from "../document/pattern.ts";
import type { Treatment } from "../document/treatment.ts";
import { rolesOf } from "../dynamics/index.ts";
import { type TimeMaps, ticksToMs } from "../time/index.ts";
import { findGraceNotes } from "../timing/grace-notes.ts";
import { type CleanedHits, treat } from "../treat.ts";
import { isAtPlace, isOnStep, type PlaceInBar, placeInBar } from "./places.ts";
import type { Company, Sift, SiftTest } from "./rule.ts";

/** What a rule needs of a lane. */
export interface SiftLane {
  readonly voice: Voice;
  readonly treatment: Treatment;
  readonly hits: readonly Hit[];
  /** Places in `ROLES`. */
  readonly roles: Uint8Array;
  readonly cleaned: Pick<CleanedHits, "ticks" | "velocities" | "slotTicks" | "driftsMs">;
}

/** A hit that was let through, as it goes out. */
export interface SiftedHit {
  readonly hit: Hit;
  readonly lane: SiftLane;
  readonly row: number;
  readonly tick: number;
}

/** The lanes of a pattern, for shells that have not derived them already. */
export function siftLanesOf(pattern: Pattern, maps: TimeMaps): readonly SiftLane[] {
  const byVoice = hitsByVoice(pattern.hits);
  return pattern.lanes.map(({ voiceId, treatment }) => {
    const hits = byVoice.get(voiceId) ?? [];
    const voice = findVoice(pattern.noteMap, voiceId);
    return {
      voice,
      treatment,
      hits,
      roles: rolesOf(columnsOf(hits), treatment.roles),
      cleaned: treat(hits, treatment, maps, pattern.lengthTicks, voice.family),
    };
  });
}

/** Hits of two drums this near are struck together. */
const TOGETHER_MS = 25;
const GRACE_STEP_MS = 100;
const ROLE_PLACES = { ghost: 0, stroke: 1, accent: 2 } as const;

/**
 * The hits that a rule lets through, in order of time. Places are those of the slots that hits belong to, so that what is early or
 * late counts for its beat; loudness and time are as they go out.
 * @param among only of these hits; null for all
 */
export function siftHits(
  sift: Sift,
  lanes: readonly SiftLane[],
  maps: TimeMaps,
  among: ReadonlySet<string> | null = null,
): readonly SiftedHit[] {
  const asked = new Asked(lanes, maps);
  const passed: SiftedHit[] = [];
  for (const lane of lanes) {
    for (const [row, hit] of lane.hits.entries()) {
      if (among !== null && !among.has(hit.id)) continue;
      const one = { hit, lane, row, tick: lane.cleaned.ticks[row]! };
      const isThrough = sift.clauses.every(
        ({ not, anyOf }) => anyOf.some((test) => asked.holds(test, one)) !== Boolean(not),
      );
      if (isThrough) passed.push(one);
    }
  }
  passed.sort((a, b) => a.tick - b.tick);
  return sift.nth ? everyNth(passed, sift.nth, asked) : passed;
}

function everyNth(
  hits: readonly SiftedHit[],
  { every, from, perBar }: NonNullable<Sift["nth"]>,
  asked: Asked,
): readonly SiftedHit[] {
  let count = 0;
  let bar = -1;
  return hits.filter((one) => {
    const here = perBar ? asked.placeOf(one).bar.barIndex : 0;
    if (here !== bar) count = 0;
    bar = here;
    count++;
    return count >= from && (count - from) % every === 0;
  });
}

/** Answers tests, and finds what several of them ask for only once. */
class Asked {
  readonly #lanes: readonly SiftLane[];
  readonly #maps: TimeMaps;
  readonly #places = new Map<string, PlaceInBar>();
  #companies: ReadonlyMap<string, ReadonlySet<Company>> | null = null;

  constructor(lanes: readonly SiftLane[], maps: TimeMaps) {
    this.#lanes = lanes;
    this.#maps = maps;
  }

  holds(test: SiftTest, one: SiftedHit): boolean {
    const { hit, lane, row } = one;
    const { ppq } = this.#maps.meterMap;
    switch (test.kind) {
      case "voices":
        return test.voiceIds.includes(hit.voiceId);
      case "families":
        return test.families.includes(lane.voice.family);
      case "stroke":
        return hit.voiceId === test.voiceId && hit.articulationId === test.articulationId;
      case "velocity":
        return lane.cleaned.velocities[row]! >= test.from && lane.cleaned.velocities[row]! <= test.to;
      case "roles":
        return test.roles.some((role) => ROLE_PLACES[role] === lane.roles[row]);
      case "places":
        return test.places.some((place) => isAtPlace(this.placeOf(one), place, ppq));
      case "steps":
        return isOnStep(this.placeOf(one), test.grid, test.steps, ppq);
      case "drift":
        return lane.cleaned.driftsMs[row]! >= test.fromMs && lane.cleaned.driftsMs[row]! <= test.toMs;
      case "bars": {
        const bar = this.placeOf(one).bar.barIndex + 1;
        return bar >= test.from && bar <= test.to;
      }
      case "company":
        return this.#companyOf(hit.id).has(test.company);
      case "pinned":
        return test.what === "time" ? hit.pinnedTick !== null : hit.pinnedVelocity !== null;
      default:
        return test satisfies never;
    }
  }

  placeOf({ hit, lane, row }: SiftedHit): PlaceInBar {
    const known = this.#places.get(hit.id);
    if (known) return known;
    const place = placeInBar(lane.cleaned.slotTicks[row]!, lane.treatment.timing, this.#maps.meterMap);
    this.#places.set(hit.id, place);
    return place;
  }

  #companyOf(hitId: string): ReadonlySet<Company> {
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
