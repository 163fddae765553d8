import { useEffect, useMemo } from "react";
import { type Repeated, type RepeatWish, repeated, type VariedStroke, varied } from "../../core/pattern/index.ts";
import { type Bar, barByIndex } from "../../core/time/index.ts";
import { useBench, useBenchState } from "../../store/bench/bench-context.ts";
import { framedBy, settledIn } from "../../store/patterns/in-place.ts";
import type { PatternScore } from "../../store/patterns/pattern-score.ts";
import type { ShelfEntry } from "../../store/patterns/use-pattern-shelf.ts";
import type { MarkedEntry } from "./marked.ts";

/** How a pattern is heard, and put somewhere. */
export interface HeardWish {
  /** With the settings that the lanes of the take have, and not just as it was played. */
  readonly isSettled: boolean;
  /** Between the bars of the take that are before and after its place. */
  readonly hasAround: boolean;
  /** The bar of the take that is its place, from 0. */
  readonly bar: number;
}

/** What is heard of the chosen pattern. */
export interface Heard {
  /** Others of its style and meter, which lend it strokes. */
  readonly elsewhere: readonly ShelfEntry[];
  /** One time of it, fuller or sparser as it is wished. */
  readonly strokes: readonly VariedStroke[];
  /** All times of it, as they are put somewhere. */
  readonly played: Repeated;
  /** Where its place begins in the take. */
  readonly place: Bar;
}

const NOTHING: Repeated = { bars: [], strokes: [], fillCount: 0 };

/** Makes what is heard of a pattern, and has it played from the next bar line on whenever something of it changes. */
export function useHeard(
  score: PatternScore,
  entries: readonly ShelfEntry[],
  chosen: MarkedEntry | undefined,
  variation: Parameters<typeof varied>[2],
  repeats: RepeatWish,
  wish: HeardWish,
): Heard & { readonly restart: () => void } {
  const { store, playback } = useBench();
  const take = useBenchState((state) => state.shown);
  const lanes = useBenchState((state) => state.lanes);
  const maps = useBenchState((state) => state.maps);
  const elsewhere = useMemo(
    () =>
      chosen
        ? entries.filter((one) => one.style === chosen.style && one.id !== chosen.id && isOfMeter(chosen, one))
        : [],
    [entries, chosen],
  );
  const fills = useMemo(() => {
    const all = chosen ? entries.filter((one) => one.kind === "fill" && isOfMeter(chosen, one)) : [];
    const own = all.filter((one) => one.style === chosen?.style);
    return (own.length > 0 ? own : all).map(({ rhythm }) => rhythm);
  }, [entries, chosen]);
  const strokes = useMemo(() => {
    const others = elsewhere.map(({ rhythm }) => rhythm);
    return chosen ? varied(chosen.rhythm, others, variation) : [];
  }, [chosen, elsewhere, variation]);
  const place = barByIndex(maps.meterMap, wish.bar);
  const { startTick } = place;
  const { hasAround } = wish;
  // A pattern of the open take has its settings already.
  const isSettled = wish.isSettled && chosen?.style !== store.getState().project.id;
  const played = useMemo(() => {
    if (!chosen) return NOTHING;
    const whole = repeated(chosen.rhythm, strokes, fills, repeats);
    return isSettled ? { ...whole, strokes: settledIn(take, maps, startTick, whole, whole.strokes) } : whole;
  }, [chosen, strokes, fills, repeats, isSettled, take, maps, startTick]);
  const chosenId = chosen?.id;
  const choose = useMemo(
    () => (nowMs: number | null) => {
      if (chosenId === undefined) return;
      const framed = hasAround ? framedBy(take, lanes, maps, startTick, played, played.strokes) : null;
      const { bars, strokes: all, around } = framed ?? { ...played, around: [] };
      // In another frame it begins anew, on the next bar line.
      score.choose(`${chosenId} ${hasAround ? startTick : ""} ${bars.length}`, { bars }, all, nowMs, around);
    },
    [score, chosenId, played, hasAround, take, lanes, maps, startTick],
  );
  useEffect(() => {
    void playback.prepareMore(played.strokes.map(({ hit }) => hit));
    choose(playback.placeMs());
  }, [played, choose, playback]);
  const restart = () => {
    store.setPlayhead(0);
    choose(null);
  };
  return { elsewhere, strokes, played, place, restart };
}

const isOfMeter = (one: ShelfEntry, other: ShelfEntry) => one.facts.meter === other.facts.meter;
