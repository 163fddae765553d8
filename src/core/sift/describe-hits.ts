import { ROLES, type Role } from "../document/index.ts";
import type { TimeMaps } from "../time/index.ts";
import { PLACES } from "../timing/places.ts";
import type { Sift, SiftClause } from "./rule.ts";
import { siftHits } from "./sift-hits.ts";
import type { SiftLane } from "./sift-lane.ts";
import type { SiftTest } from "./tests/index.ts";

/**
 * A rule that lets through exactly some hits, the plainest first: their voices alone, with a loudness, with roles, with places in
 * the bar, every nth, in some bars.
 * @returns null if there is none among those
 */
export function describeHits(ids: ReadonlySet<string>, lanes: readonly SiftLane[], maps: TimeMaps): Sift | null {
  const own = lanes.filter(({ hits }) => hits.some(({ id }) => ids.has(id)));
  if (own.length === 0) return null;
  const voices = clause({ kind: "voices", voiceIds: own.map(({ voice }) => voice.id) });
  const rows = own.flatMap((lane) => lane.hits.flatMap((hit, row) => (ids.has(hit.id) ? [{ lane, hit, row }] : [])));
  const velocities = rows.map(({ lane, row }) => lane.cleaned.velocities[row]!);
  const [softest, loudest] = [Math.min(...velocities), Math.max(...velocities)];
  const roles = ROLES.filter((_, place) => rows.some(({ lane, row }) => lane.roles[row] === place));
  const strokes = new Set(rows.map(({ hit }) => `${hit.voiceId} ${hit.articulationId}`));
  const isSame = (sift: Sift) => {
    const found = siftHits(sift, lanes, maps);
    return found.length === ids.size && found.every(({ hit }) => ids.has(hit.id));
  };
  const loudness: readonly SiftClause[] = [
    clause({ kind: "velocity", from: 1, to: loudest }),
    clause({ kind: "velocity", from: softest, to: 127 }),
    clause({ kind: "velocity", from: softest, to: loudest }),
  ];
  const ofRoles = clause({ kind: "roles", roles: roles as readonly Role[] });
  const ofStrokes: SiftClause = {
    anyOf: [...strokes].map((key): SiftTest => {
      const [voiceId, articulationId] = key.split(" ") as [string, string];
      return { kind: "stroke", voiceId, articulationId };
    }),
  };
  const places = PLACES.map((place) => clause({ kind: "places", places: [place] }));
  const bars = barsOf(rows, maps, lanes);
  const beginnings: readonly (readonly SiftClause[])[] = [
    [voices],
    [ofStrokes],
    [voices, ofRoles],
    [ofStrokes, ofRoles],
  ];
  const candidates = [
    ...beginnings.slice(0, 3),
    ...loudness.map((one) => [voices, one]),
    ...beginnings.flatMap((begin) => places.map((place) => [...begin, place])),
    ...beginnings.flatMap((begin) => places.flatMap((place) => loudness.map((one) => [...begin, place, one]))),
  ];
  const inBars = bars ? [[], [bars]] : [[]];
  for (const more of inBars) {
    for (const clauses of candidates)
      if (isSame({ clauses: [...clauses, ...more] })) return { clauses: [...clauses, ...more] };
    for (const begin of beginnings.slice(0, 3)) {
      for (const every of [2, 3, 4]) {
        for (let from = 1; from <= every; from++) {
          for (const perBar of [false, true]) {
            const sift = { clauses: [...begin, ...more], nth: { every, from, perBar } };
            if (isSame(sift)) return sift;
          }
        }
      }
    }
  }
  return null;
}

const clause = (test: SiftTest): SiftClause => ({ anyOf: [test] });

/** The bars from the first to the last of some hits; null if that is nearly all there are. */
function barsOf(
  rows: readonly { readonly hit: { readonly id: string } }[],
  maps: TimeMaps,
  lanes: readonly SiftLane[],
): SiftClause | null {
  const ids = new Set(rows.map(({ hit }) => hit.id));
  const within = (from: number, to: number) =>
    siftHits({ clauses: [clause({ kind: "bars", from, to })] }, lanes, maps, ids).length;
  let [from, to] = [1, MOST_BARS];
  if (within(from, to) < ids.size) return null;
  // Halved towards the first and the last of them.
  for (let step = MOST_BARS / 2; step >= 1; step /= 2) if (within(from + step, to) === ids.size) from += step;
  for (let step = MOST_BARS / 2; step >= 1; step /= 2)
    if (to - step >= from && within(from, to - step) === ids.size) to -= step;
  return clause({ kind: "bars", from, to });
}

const MOST_BARS = 4096;
