import type { Pattern } from "../src/core/document/index.ts";
import { GROOVES } from "../src/core/groove/index.ts";
import { GENERAL_MIDI } from "../src/core/notemap/index.ts";
import {
  type Arrangement,
  changeCells,
  cutInto,
  cutsEvery,
  layOnCells,
  NO_ARRANGEMENT,
  packSong,
  SongDesk,
} from "../src/core/song/index.ts";
import { hitAt, laneOf, patternOf } from "../src/core/testing/patterns.ts";
import { createRandom } from "../src/standin/random.ts";
import { type Finding, quietMs, saidMs } from "./measure.ts";

const PATTERNS = 200;
const BARS_EACH = 4;
const BAR = 1920;
const EDITS = 30;
const HITS_PER_BAR = [4, 4, 4, 3, 2, 2, 2, 2, 1, 1, 1, 1] as const;

/** A take of 12 voices and 800 bars, 21,600 hits. */
function longTake(): Pattern {
  const random = createRandom(3);
  const voiceIds = GENERAL_MIDI.voices.slice(0, HITS_PER_BAR.length).map(({ id }) => id);
  const hits = Array.from({ length: PATTERNS * BARS_EACH }, (_, bar) =>
    voiceIds.flatMap((voiceId, lane) =>
      Array.from({ length: HITS_PER_BAR[lane]! }, (_, index) => {
        const slot = Math.floor((index * 16) / HITS_PER_BAR[lane]!) + (lane % 3);
        const tick = Math.max(0, bar * BAR + slot * 120 + Math.round(random.bell(8)));
        const recordedVelocity = Math.max(1, Math.min(127, Math.round(80 + random.bell(14))));
        return hitAt(tick, { id: `${lane} ${bar} ${index}`, voiceId, recordedVelocity });
      }),
    ),
  ).flat();
  const timing = { isOn: true, strengthPercent: 80, humanizeMs: 2 };
  return patternOf(hits, {
    lengthTicks: PATTERNS * BARS_EACH * BAR,
    lanes: voiceIds.map((voiceId) => laneOf(voiceId, timing)),
  });
}

/** Laying 200 patterns of 12 voices anew, with what goes to the worker and comes back. */
export async function benchSong(): Promise<Finding[]> {
  const take = longTake();
  let ids = 0;
  const cut = cutInto(NO_ARRANGEMENT, cutsEvery(PATTERNS * BARS_EACH, BARS_EACH), () => `id ${++ids}`);
  const places = cut.patterns.flatMap(({ id }) => take.lanes.map(({ voiceId }) => ({ patternId: id, voiceId })));
  const laid = layOnCells(cut, places, GROOVES[1]!, { timingPercent: 80, accentPercent: 40 });
  const desk = new SongDesk({ ...take, arrangement: laid });
  desk.lay();
  // What goes to a worker and comes back is copied on both ways.
  const layAgain = (arrangement: Arrangement) => {
    desk.arrange(structuredClone(arrangement));
    // The columns are handed over and not copied, as a worker does.
    const packed = packSong(desk.lay(), desk.voiceIds);
    return structuredClone(packed, { transfer: [packed.numbers.buffer, packed.layout.buffer] });
  };
  // Another value every time, so that nothing of the run before is found again. The edits are made elsewhere, on the main thread.
  const edits = (make: (turn: number) => Arrangement) => Array.from({ length: EDITS }, (_, turn) => make(turn));
  const ofOne = edits((turn) => changeCells(laid, places.slice(0, 1), () => ({ pushMs: 1 + turn })));
  const ofAll = edits((turn) =>
    changeCells(laid, places, ({ feel }) => ({ feel: { ...feel!, timingPercent: 60 + turn } })),
  );
  let turn = 0;
  const one = await quietMs(() => layAgain(ofOne[turn++ % EDITS]!));
  const all = await quietMs(() => layAgain(ofAll[turn++ % EDITS]!));
  return [
    {
      what: "200 patterns × 12 voices (21,600 hits) laid anew after an edit of one cell, with the way to a worker and back",
      budget: "100 ms",
      measured: saidMs(one, 0),
      isHeld: one.ms <= 100,
    },
    {
      what: "the same after an edit of all 2,400 cells",
      budget: "100 ms",
      measured: saidMs(all, 0),
      isHeld: all.ms <= 100,
    },
  ];
}
