import {
  type Arrangement,
  MOST_PATTERN_BARS,
  MOST_REPEATS,
  PATTERN_COLOURS,
  type PatternColour,
  type SongEntry,
  type SongPattern,
} from "../document/arrangement.ts";

// Changes of the patterns of a song and of their order. Each makes the next arrangement and changes nothing.

/** A stretch of the take that is to be a pattern. */
export interface Cut {
  readonly name: string;
  readonly colour: PatternColour;
  readonly firstBar: number;
  /** Not included. */
  readonly endBar: number;
}

/**
 * Cuts the take anew. A pattern of exactly the same bars stays, with its settings and any name that was chosen for it; the others go. The song is the take from
 * its beginning to its end.
 */
export function cutInto(arrangement: Arrangement, cuts: readonly Cut[], newId: () => string): Arrangement {
  const patterns = cuts.map(({ name, colour, firstBar, endBar }): SongPattern => {
    const bars = barsFrom(firstBar, endBar);
    const known = arrangement.patterns.find((one) => !one.turnedTicks && isSameBars(one.bars, bars));
    if (!known) return { id: newId(), name, colour, bars };
    return isFoundName(known) && !isFoundName({ name, bars }) ? { ...known, name, colour } : known;
  });
  const song = patterns.map(({ id }): SongEntry => ({ id: newId(), patternId: id, repeats: 1 }));
  return { ...arrangement, patterns: withoutLostLeaders(patterns), song };
}

/** Whether a pattern is called as it was found, and not as somebody named it. */
function isFoundName({ name, bars }: Pick<SongPattern, "name" | "bars">): boolean {
  return name === nameOfBars(bars) || /^(Part|Fill) [A-Z]+( \d+)?$/.test(name);
}

/** Cuts the take into equally long patterns; the last one may be shorter. */
export function cutsEvery(barCount: number, every: number): readonly Cut[] {
  const count = Math.ceil(barCount / every);
  return Array.from({ length: count }, (_, index) =>
    cutOf(index * every, Math.min(barCount, (index + 1) * every), index),
  );
}

/** A name that the take itself gives to a bar. */
export interface NamedBar {
  readonly bar: number;
  readonly name: string;
}

/**
 * Cuts the take at the bars that it names. What comes before the first is called by its bars; the same name again gets a number, and
 * the same colour.
 * @param named in any order; of several names for a bar the first counts
 */
export function cutsAt(barCount: number, named: readonly NamedBar[]): readonly Cut[] {
  const names = new Map<number, string>();
  for (const { bar, name } of named) if (bar >= 0 && bar < barCount && !names.has(bar)) names.set(bar, name);
  const starts = [...new Set([0, ...names.keys()])].sort((a, b) => a - b);
  const kinds = [...new Set(starts.map((bar) => names.get(bar)))];
  const counts = new Map<string, number>();
  return starts.map((firstBar, index) => {
    const name = names.get(firstBar);
    const cut = cutOf(firstBar, starts[index + 1] ?? barCount, kinds.indexOf(name));
    if (name === undefined) return cut;
    const time = (counts.get(name) ?? 0) + 1;
    counts.set(name, time);
    return { ...cut, name: time === 1 ? name : `${name} ${time}` };
  });
}

function cutOf(firstBar: number, endBar: number, index: number): Cut {
  const colour = PATTERN_COLOURS[index % PATTERN_COLOURS.length]!;
  return { name: nameOfBars(barsFrom(firstBar, endBar)), colour, firstBar, endBar };
}

/** What a pattern is called that nobody has named. */
export function nameOfBars(bars: SongPattern["bars"]): string {
  const [first, last] = [bars[0] ?? 0, bars.at(-1) ?? 0];
  return bars.length === 1 ? `Bar ${first + 1}` : `Bars ${first + 1} to ${last + 1}`;
}

/** Where the take is cut: bars that a pattern begins with while another ends right before them. */
export function cutBars({ patterns }: Arrangement): ReadonlySet<number> {
  const ends = new Set(patterns.map(({ bars }) => bars.at(-1)));
  return new Set(patterns.flatMap(({ bars: [first] }) => (first != null && ends.has(first - 1) ? [first] : [])));
}

/** Cuts the take before a bar, or joins the patterns that meet there. A take that was never cut is cut in two. */
export function toggleCut(arrangement: Arrangement, bar: number, barCount: number, newId: () => string): Arrangement {
  if (bar <= 0 || bar >= barCount) return arrangement;
  if (arrangement.patterns.length === 0) {
    const halves = [cutOf(0, bar, 0), cutOf(bar, barCount, 1)];
    return cutInto(arrangement, halves, newId);
  }
  const over = arrangement.patterns.find(({ bars }) => bars.some((one, at) => one === bar && bars[at - 1] === bar - 1));
  if (over) return splitPattern(arrangement, over.id, over.bars.indexOf(bar), newId);
  const before = arrangement.patterns.find(({ bars }) => bars.at(-1) === bar - 1);
  const after = arrangement.patterns.find(({ bars }) => bars[0] === bar);
  return before && after ? joinPatterns(arrangement, before.id, after.id, newId) : arrangement;
}

/** Cuts a pattern in two before its nth bar, counted from 0, wherever the song plays it. Both keep its settings. */
export function splitPattern(arrangement: Arrangement, id: string, atBar: number, newId: () => string): Arrangement {
  const pattern = arrangement.patterns.find((one) => one.id === id);
  if (!pattern || atBar <= 0 || atBar >= pattern.bars.length || pattern.turnedTicks) return arrangement;
  const [before, after] = [pattern.bars.slice(0, atBar), pattern.bars.slice(atBar)];
  // One that is called by its bars is called by those that it has left.
  const isUnnamed = pattern.name === nameOfBars(pattern.bars);
  const first = { ...pattern, bars: before, name: isUnnamed ? nameOfBars(before) : pattern.name };
  const rest: SongPattern = {
    ...pattern,
    id: newId(),
    name: isUnnamed ? nameOfBars(after) : freeName(arrangement, pattern.name),
    colour: nextColour(pattern.colour),
    bars: after,
  };
  const patterns = arrangement.patterns.flatMap((one) => (one.id === id ? [first, rest] : [one]));
  const song = arrangement.song.flatMap((entry) => {
    if (entry.patternId !== id) return [entry];
    const { id: entryId, repeats, ...same } = entry;
    return Array.from({ length: repeats }, (_, time) => [
      { ...same, repeats: 1, id: time === 0 ? entryId : newId() },
      { ...same, repeats: 1, id: newId(), patternId: rest.id },
    ]).flat();
  });
  return { ...arrangement, patterns, song };
}

/**
 * Joins two patterns to one: the bars of the second after those of the first, with the settings of the first. Where the song plays
 * one right after the other, it plays what they are together; where it plays one of them alone, that one stays.
 */
export function joinPatterns(
  arrangement: Arrangement,
  firstId: string,
  secondId: string,
  newId: () => string,
): Arrangement {
  const find = (id: string) => arrangement.patterns.find((one) => one.id === id);
  const [first, second] = [find(firstId), find(secondId)];
  if (!first || !second || first.bars.length + second.bars.length > MOST_PATTERN_BARS) return arrangement;
  const { turnedTicks: _turned, ...plain } = first;
  const bars = [...first.bars, ...second.bars];
  const name = first.name === nameOfBars(first.bars) ? nameOfBars(bars) : first.name;
  const joined: SongPattern = { ...plain, id: newId(), name, bars };
  const song: SongEntry[] = [];
  for (const entry of arrangement.song) {
    const before = song.at(-1);
    const isPair =
      before?.patternId === firstId && entry.patternId === secondId && before.repeats === 1 && entry.repeats === 1;
    if (isPair && firstId !== secondId) song.splice(-1, 1, { ...before, patternId: joined.id });
    else song.push(entry);
  }
  const isLeft = (id: string) => song.some(({ patternId }) => patternId === id);
  const isKept = (one: SongPattern) => (one.id !== firstId && one.id !== secondId) || isLeft(one.id);
  const patterns = arrangement.patterns.flatMap((one) =>
    one.id === firstId ? [joined, ...(isKept(one) ? [one] : [])] : isKept(one) ? [one] : [],
  );
  return { ...arrangement, patterns: withoutLostLeaders(patterns), song };
}

/** Another pattern of the same bars and settings, after the first; the song plays it once, after the first was played last. */
export function duplicatePattern(arrangement: Arrangement, id: string, newId: () => string): Arrangement {
  if (!arrangement.patterns.some((one) => one.id === id)) return arrangement;
  const copyId = newId();
  const last = arrangement.song.findLastIndex(({ patternId }) => patternId === id);
  const entry = { id: newId(), patternId: copyId, repeats: 1 };
  return {
    ...arrangement,
    patterns: arrangement.patterns.flatMap((one) =>
      one.id === id ? [one, { ...one, id: copyId, name: freeName(arrangement, one.name) }] : [one],
    ),
    song: arrangement.song.toSpliced(last === -1 ? arrangement.song.length : last + 1, 0, entry),
  };
}

/** Takes patterns away, and out of the song. */
export function removePatterns(arrangement: Arrangement, ids: ReadonlySet<string>): Arrangement {
  return {
    ...arrangement,
    patterns: withoutLostLeaders(arrangement.patterns.filter(({ id }) => !ids.has(id))),
    song: arrangement.song.filter(({ patternId }) => !ids.has(patternId)),
  };
}

/** Changes one pattern. A field that becomes undefined is left out, as an edit must be the same after a way through JSON. */
export function changePattern(
  arrangement: Arrangement,
  id: string,
  change: (pattern: SongPattern) => { readonly [Field in keyof SongPattern]?: SongPattern[Field] | undefined },
): Arrangement {
  const patterns = arrangement.patterns.map((one) =>
    one.id === id ? (present({ ...one, ...change(one) }) as SongPattern) : one,
  );
  return { ...arrangement, patterns };
}

/** Puts a pattern at another place of the list. */
export function movePattern(arrangement: Arrangement, id: string, toIndex: number): Arrangement {
  return { ...arrangement, patterns: moved(arrangement.patterns, id, toIndex) };
}

/** Puts bars in before the nth: of the take, or silent ones. */
export function insertBars(pattern: SongPattern, at: number, bars: SongPattern["bars"]): Partial<SongPattern> {
  return { bars: pattern.bars.toSpliced(at, 0, ...bars).slice(0, MOST_PATTERN_BARS) };
}

/** Takes bars out. A pattern keeps one bar at the least. */
export function removeBars(pattern: SongPattern, at: number, count: number): Partial<SongPattern> {
  const bars = pattern.bars.toSpliced(at, count);
  return bars.length > 0 ? { bars } : {};
}

/** Makes a pattern as many bars long: what is beyond goes, and what is missing is played again from its beginning. */
export function withLength(pattern: SongPattern, barCount: number): Partial<SongPattern> {
  const count = Math.max(1, Math.min(MOST_PATTERN_BARS, Math.round(barCount)));
  return { bars: Array.from({ length: count }, (_, bar) => pattern.bars[bar % pattern.bars.length]!) };
}

/**
 * Turns a pattern round: what falls out at its end comes in at its beginning.
 * @param lengthTicks of the pattern
 */
export function turned(
  { turnedTicks = 0 }: SongPattern,
  byTicks: number,
  lengthTicks: number,
): { turnedTicks: number | undefined } {
  const ticks = (((turnedTicks + byTicks) % lengthTicks) + lengthTicks) % lengthTicks;
  return { turnedTicks: ticks === 0 ? undefined : ticks };
}

/** Plays a pattern in the song: before the nth entry, or at the end. */
export function addToSong(
  arrangement: Arrangement,
  patternId: string,
  newId: () => string,
  at = arrangement.song.length,
): Arrangement {
  const entry: SongEntry = { id: newId(), patternId, repeats: 1 };
  return { ...arrangement, song: arrangement.song.toSpliced(at, 0, entry) };
}

export function removeFromSong(arrangement: Arrangement, entryId: string): Arrangement {
  return { ...arrangement, song: arrangement.song.filter(({ id }) => id !== entryId) };
}

export function moveInSong(arrangement: Arrangement, entryId: string, toIndex: number): Arrangement {
  return { ...arrangement, song: moved(arrangement.song, entryId, toIndex) };
}

export function repeatInSong(arrangement: Arrangement, entryId: string, repeats: number): Arrangement {
  return changeEntry(arrangement, entryId, (entry) => ({
    ...entry,
    repeats: Math.max(1, Math.min(MOST_REPEATS, Math.round(repeats))),
  }));
}

/** Passes over an entry in silence, or plays it again. */
export function toggleEntry(arrangement: Arrangement, entryId: string): Arrangement {
  return changeEntry(arrangement, entryId, ({ isMuted, ...entry }) => (isMuted ? entry : { ...entry, isMuted: true }));
}

/** Silences a voice in one entry, or lets it be heard again. */
export function toggleVoiceOfEntry(arrangement: Arrangement, entryId: string, voiceId: string): Arrangement {
  return changeEntry(arrangement, entryId, ({ mutedVoiceIds = [], ...entry }) => {
    const muted = mutedVoiceIds.includes(voiceId)
      ? mutedVoiceIds.filter((id) => id !== voiceId)
      : [...mutedVoiceIds, voiceId];
    return muted.length === 0 ? entry : { ...entry, mutedVoiceIds: muted };
  });
}

function changeEntry(arrangement: Arrangement, id: string, change: (entry: SongEntry) => SongEntry): Arrangement {
  return { ...arrangement, song: arrangement.song.map((entry) => (entry.id === id ? change(entry) : entry)) };
}

function moved<Item extends { readonly id: string }>(items: readonly Item[], id: string, toIndex: number) {
  const from = items.findIndex((item) => item.id === id);
  if (from === -1) return items;
  const item = items[from]!;
  return items.toSpliced(from, 1).toSpliced(Math.max(0, toIndex), 0, item);
}

function present<Value extends object>(value: Value) {
  return Object.fromEntries(Object.entries(value).filter(([, field]) => field !== undefined));
}

/** A pattern that followed one that is gone follows the take. */
function withoutLostLeaders(patterns: readonly SongPattern[]): readonly SongPattern[] {
  const ids = new Set(patterns.map(({ id }) => id));
  return patterns.map((pattern) => {
    const { followsId, ...own } = pattern;
    return followsId === undefined || ids.has(followsId) ? pattern : own;
  });
}

function barsFrom(firstBar: number, endBar: number): readonly number[] {
  return Array.from({ length: endBar - firstBar }, (_, bar) => firstBar + bar);
}

function isSameBars(a: SongPattern["bars"], b: SongPattern["bars"]): boolean {
  return a.length === b.length && a.every((bar, index) => bar === b[index]);
}

/** The same name with the next number that no pattern has: `Verse`, `Verse 2`; `Part A 1`, `Part A 1 (2)`. */
export function freeName({ patterns }: Arrangement, name: string): string {
  const stem = name.replace(/ \(\d+\)$/, "");
  const taken = new Set(patterns.map((one) => one.name));
  const numbered = (number: number) => (/\d$/.test(stem) ? `${stem} (${number})` : `${stem} ${number}`);
  let number = 2;
  while (taken.has(numbered(number))) number++;
  return numbered(number);
}

function nextColour(colour: PatternColour): PatternColour {
  return PATTERN_COLOURS[(PATTERN_COLOURS.indexOf(colour) + 1) % PATTERN_COLOURS.length]!;
}
