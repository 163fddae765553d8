import clsx from "clsx";
import { Pin, X } from "lucide-react";
import { useMemo, useRef } from "react";
import { useFocusBack } from "../../../components/page/use-focus-back.ts";
import {
  countsFor,
  type Rhythm,
  throwOut,
  toggleKept,
  type Variation,
  type VariedStroke,
} from "../../../core/pattern/index.ts";
import { strokeWords } from "../pattern-words.ts";

interface AddedStrokesProps {
  readonly rhythm: Rhythm;
  readonly strokes: readonly VariedStroke[];
  readonly variation: Variation;
  readonly onVary: (variation: Variation) => void;
}

/** The strokes that were added to a pattern, each to be kept or thrown out. */
export function AddedStrokes({ rhythm, strokes, variation, onVary }: AddedStrokesProps) {
  const list = useRef<HTMLUListElement>(null);
  const added = strokes.filter(({ isAdded }) => isAdded);
  useFocusBack(added.length > 0);
  if (added.length === 0) return null;
  return (
    <ul ref={list} tabIndex={-1} aria-label="Added hits" className="mt-2 flex flex-wrap gap-1.5 text-small">
      {added.map((stroke) => {
        const { addedAt = "" } = stroke;
        const isKept = addedAt in variation.kept;
        const words = strokeWords(rhythm, stroke);
        return (
          <li
            key={addedAt}
            className={clsx("flex items-center rounded-md border pl-2", isKept ? "border-spruce" : "border-hairline")}
          >
            {words}
            <button
              type="button"
              aria-label={`Keep ${words}`}
              aria-pressed={isKept}
              title="Keep it, whatever else is added"
              className={clsx("grid size-7 place-items-center", isKept ? "text-spruce" : "text-muted hover:text-ink")}
              onClick={() => onVary(toggleKept(variation, addedAt))}
            >
              <Pin size={13} fill={isKept ? "currentColor" : "none"} />
            </button>
            <button
              type="button"
              aria-label={`Throw out ${words}`}
              title="Throw it out, and add nothing there"
              className="grid size-7 place-items-center text-muted hover:text-brick"
              onClick={() => {
                // The button goes with the stroke; the focus stays here.
                list.current?.focus();
                onVary(throwOut(variation, stroke));
              }}
            >
              <X size={14} />
            </button>
          </li>
        );
      })}
    </ul>
  );
}

const MOST_NAMED = 3;

/** What would be left out next, and how much it counts. */
export function CountsLeast({ rhythm, strokes }: { rhythm: Rhythm; strokes: readonly VariedStroke[] }) {
  const least = useMemo(
    () =>
      strokes
        .filter(({ isAdded }) => !isAdded)
        .map((stroke) => ({ stroke, counts: countsFor(stroke, rhythm) }))
        .sort((a, b) => a.counts - b.counts)
        .slice(0, MOST_NAMED)
        .map(({ stroke, counts }) => `${strokeWords(rhythm, stroke)} (${counts.toFixed(1)})`),
    [rhythm, strokes],
  );
  return least.length === 0 ? null : <p className="text-fine text-muted">Counts least, of 3: {least.join(", ")}.</p>;
}
