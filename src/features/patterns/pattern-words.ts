import type { Family } from "../../core/document/index.ts";
import { barOf, placeWords, type Rhythm, type RhythmStroke } from "../../core/pattern/index.ts";
import type { ShelfEntry } from "../../store/patterns/use-pattern-shelf.ts";

export const FAMILY_NAMES: Readonly<Record<Family, string>> = {
  kick: "Kick",
  snare: "Snare",
  hats: "Hats",
  cymbals: "Cymbals",
  toms: "Toms",
  percussion: "Percussion",
};

/** `snare 2 a`; in a pattern of several bars `snare 2 a of bar 2`. */
export function strokeWords({ bars }: Rhythm, { family, quarters }: RhythmStroke): string {
  const index = barOf(bars, quarters);
  const bar = bars[index]!;
  const place = placeWords(bar, Math.max(0, quarters - bar.startQuarters));
  const name = FAMILY_NAMES[family].toLowerCase();
  return bars.length > 1 ? `${name} ${place} of bar ${index + 1}` : `${name} ${place}`;
}

/** `groove, 4/4, 2 bars, swung 60 %, 9 hits a bar, 112 bpm; from Tin Orchard, bars 9–10`. */
export function factWords({ kind, facts, bpm, from, words, twins }: ShelfEntry): string {
  const { meter, bars, grid, fullness } = facts;
  const length = bars === 1 ? "1 bar" : `${bars} bars`;
  const told = [
    kind,
    meter,
    length,
    grid,
    ...words.filter((word) => word !== grid),
    `${Math.round(fullness)} hits a bar`,
    `${Math.round(bpm)} bpm`,
  ];
  const same = twins === 0 ? "" : twins === 1 ? "; one other is the same" : `; ${twins} others are the same`;
  return `${told.join(", ")}; from ${from}${same}`;
}
