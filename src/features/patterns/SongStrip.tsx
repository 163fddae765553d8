import clsx from "clsx";
import { type DragEvent, useState } from "react";
import { NO_ARRANGEMENT } from "../../core/song/index.ts";
import { useBenchState } from "../../store/bench/bench-context.ts";
import { droppedId, isPatternDrag } from "./drag-pattern.ts";

interface SongStripProps {
  /** The place of the song that a pattern is put before; null for its end. */
  readonly placeId: string | null;
  readonly onPlace: (entryId: string | null) => void;
  readonly onDrop: (patternId: string, beforeId: string | null) => void;
}

/** The song in a row: patterns are dropped into it, or put where a place is chosen. */
export function SongStrip({ placeId, onPlace, onDrop }: SongStripProps) {
  const { song, patterns } = useBenchState((state) => state.shown.arrangement ?? NO_ARRANGEMENT);
  const [over, setOver] = useState<string | null>(null);
  const names = new Map(patterns.map(({ id, name }) => [id, name]));
  const places = [
    ...song.map(({ id, patternId, repeats }) => {
      const name = names.get(patternId) ?? "";
      return { id, name: repeats > 1 ? `${name} × ${repeats}` : name, label: `Before ${name}` };
    }),
    { id: null, name: "the end", label: "At the end of the song" },
  ];
  const chosenId = song.some(({ id }) => id === placeId) ? placeId : null;
  return (
    <section aria-label="The song" className="flex min-w-0 items-center gap-2 text-small">
      <span className="whitespace-nowrap text-muted">Into the song before</span>
      <div role="radiogroup" aria-label="Place in the song" className="flex min-w-0 gap-1 overflow-x-auto py-1">
        {places.map(({ id, name, label }) => (
          // biome-ignore lint/a11y/useSemanticElements: a chip, and no round mark, is what is dropped on
          <button
            key={id ?? "end"}
            type="button"
            role="radio"
            aria-checked={chosenId === id}
            aria-label={label}
            className={clsx(
              "max-w-[140px] shrink-0 truncate rounded-md border-l-4 px-2 py-0.5 hover:bg-spruce-tint",
              over === (id ?? "end") ? "border-amber bg-amber-tint" : "border-hairline-strong",
              chosenId === id ? "bg-amber-tint font-bold" : "bg-paper",
              // Where most patterns are put: it stays in view however long the song is.
              id === null && "sticky right-0",
            )}
            onClick={() => onPlace(id)}
            onDragOver={(event: DragEvent) => isPatternDrag(event) && setOver(id ?? "end")}
            onDragLeave={() => setOver(null)}
            onDrop={(event: DragEvent) => {
              if (!isPatternDrag(event)) return;
              setOver(null);
              onDrop(droppedId(event), id);
            }}
          >
            {name}
          </button>
        ))}
      </div>
    </section>
  );
}
