import { useEffect, useMemo, useState } from "react";
import { useStore } from "zustand";
import { type FoundPattern, faultOfKnock, NO_VARIATION, type Variation } from "../../core/pattern/index.ts";
import { type KnockInput, questionOf } from "../../store/patterns/knock-input.ts";
import { usePatternMarks } from "../../store/patterns/use-pattern-marks.ts";
import type { PatternShelf } from "../../store/patterns/use-pattern-shelf.ts";
import { type MarkedEntry, markOf, withMarks } from "./marked.ts";
import { EVERY_PATTERN, isWished } from "./PatternFilter.tsx";

const MOST_FOUND = 400;
/** What is less like the knock than this is not listed. */
const LEAST_LIKE = 0.35;

export type Listed = ReturnType<typeof useListed>;

/** What of the shelf is listed: what is like the knock, fits the filter, and was swept over. One of it is chosen. */
export function useListed(shelf: PatternShelf, knock: KnockInput) {
  const [chosenId, choose] = useState<string | null>(null);
  const [wish, setWish] = useState(EVERY_PATTERN);
  const [swept, sweep] = useState<ReadonlySet<string> | null>(null);
  const marks = usePatternMarks();
  const { found, fault } = useFound(knock, shelf.find, shelf.entries.length);
  const likeness = useMemo(() => found && new Map(found.map(({ id, likeness: like }) => [id, like])), [found]);
  const all = useMemo(() => withMarks(shelf.entries, marks.byPlayed), [shelf.entries, marks.byPlayed]);
  const byId = useMemo(() => new Map(all.map((entry) => [entry.id, entry])), [all]);
  const wished = useMemo(() => {
    const asked = found
      ? found.flatMap(({ id, likeness: like }) => (like >= LEAST_LIKE ? (byId.get(id) ?? []) : []))
      : all;
    return asked.filter((entry) => isWished(wish, entry));
  }, [found, byId, all, wish]);
  const listed = swept ? wished.filter(({ id }) => swept.has(id)) : wished;
  const chosen = (chosenId !== null ? byId.get(chosenId) : undefined) ?? listed[0];
  return {
    all,
    byId,
    /** Why nothing can be looked for, in words. */
    fault,
    found,
    likeness,
    marks,
    /** Before some of it was swept over. */
    wished,
    listed,
    chosen,
    choose,
    /** Chooses another one further down the list, or up. */
    move(step: number): void {
      const at = listed.findIndex(({ id }) => id === chosen?.id);
      const next = listed[Math.max(0, Math.min(listed.length - 1, at + step))];
      if (next) choose(next.id);
    },
    wish,
    setWish,
    swept,
    sweep,
    listAll(): void {
      setWish(EVERY_PATTERN);
      sweep(null);
    },
  };
}

/** What is like the knock, as soon as nothing more is heard; null where nothing was knocked. */
function useFound(
  knock: KnockInput,
  find: PatternShelf["find"],
  count: number,
): { readonly found: readonly FoundPattern[] | null; readonly fault: string | null } {
  const state = useStore(knock.state);
  const [found, setFound] = useState<readonly FoundPattern[] | null>(null);
  const isAsked = state.phase === "idle" && state.strokes.length > 0;
  const fault = isAsked ? faultOfKnock(questionOf(state)) : null;
  useEffect(() => {
    let isOver = false;
    if (!isAsked || fault !== null || count === 0) setFound(null);
    else void find(questionOf(state), MOST_FOUND).then((next) => !isOver && setFound(next));
    return () => {
      isOver = true;
    };
  }, [isAsked, fault, find, state, count]);
  return { found, fault };
}

/** What a hand makes of a pattern: at once, and while it is dragged. What is kept follows a moment later. */
export function useVariation({ chosen, marks }: Listed) {
  const [atHand, setAtHand] = useState<{ readonly played: string; readonly variation: Variation } | null>(null);
  const isOfChosen = atHand !== null && atHand.played === chosen?.played;
  const show = ({ played }: MarkedEntry, variation: Variation | null) => setAtHand(variation && { played, variation });
  return {
    variation: (isOfChosen ? atHand.variation : chosen?.variation) ?? NO_VARIATION,
    /** Shows another one; null for as it is kept. */
    show,
    keep(entry: MarkedEntry, variation: Variation): void {
      show(entry, variation);
      marks.set(markOf(entry, { variation }));
    },
  };
}
