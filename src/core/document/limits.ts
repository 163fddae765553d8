/** The last place that a take may have, in ticks: seven years at 960 PPQ and 300 bpm, and far from where numbers lose their ticks. */
export const LONGEST_TAKE_TICKS = 2 ** 40;

/** So many times bars can be put into a take or taken out. */
export const MOST_BAR_CHANGES = 1000;

/** So many hits can be shown, changed in one step and written again. */
export const MOST_HITS = 500_000;
