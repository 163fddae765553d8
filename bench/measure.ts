/** One line of the report. */
export interface Finding {
  readonly what: string;
  readonly budget: string;
  readonly measured: string;
  readonly isHeld: boolean;
}

/** The middle of several runs in ms, after some that only warm up: what is dragged runs hot. */
export function medianMs(run: () => unknown, times = 15): number {
  const taken: number[] = [];
  for (let turn = -12; turn < times; turn++) {
    const start = performance.now();
    run();
    if (turn >= 0) taken.push(performance.now() - start);
  }
  return percentile(taken, 50);
}

/** The middle of several runs, over and over with rests between, while something else may be at work on the machine. */
export interface QuietMs {
  /** Of the stretch that was disturbed the least. */
  readonly ms: number;
  /** Of the one that was disturbed the most. */
  readonly noisyMs: number;
}

const STRETCHES = 6;
const REST_MS = 400;

/**
 * `medianMs` in stretches: what others do on the machine only adds, and comes and goes in seconds, so the quietest stretch says what
 * the work itself takes; the noisiest one is stated beside it.
 */
export async function quietMs(run: () => unknown): Promise<QuietMs> {
  const stretches: number[] = [];
  for (let stretch = 0; stretch < STRETCHES; stretch++) {
    stretches.push(medianMs(run));
    await new Promise((resolve) => setTimeout(resolve, REST_MS));
  }
  return { ms: Math.min(...stretches), noisyMs: Math.max(...stretches) };
}

/** A time with the noise of the machine beside it. */
export function saidMs({ ms, noisyMs }: QuietMs, digits: number): string {
  return `${ms.toFixed(digits)} ms, up to ${noisyMs.toFixed(digits)} ms while disturbed`;
}

const BLOCKS = 4;

/**
 * Runs two things in blocks, in turn, so that whatever else the machine does falls on both. Within a block each runs many
 * times in a row: run singly in turn, collecting garbage keeps time with the turns and falls on the same one for ever.
 * @returns how many times as long the middle run of the first takes as that of the second
 */
export function ratio(first: () => unknown, second: () => unknown, timesPerBlock = 12): number {
  const firstMs: number[] = [];
  const secondMs: number[] = [];
  for (let block = 0; block < BLOCKS; block++) {
    for (const [run, takenMs] of [[first, firstMs] as const, [second, secondMs] as const]) {
      for (let turn = -2; turn < timesPerBlock; turn++) {
        const start = performance.now();
        run();
        if (turn >= 0) takenMs.push(performance.now() - start);
      }
    }
  }
  return percentile(firstMs, 50) / percentile(secondMs, 50);
}

export function percentile(values: readonly number[], percent: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor((sorted.length * percent) / 100))] ?? Number.NaN;
}
