import { useMemo } from "react";
import type { PatternShelf } from "../../store/patterns/use-pattern-shelf.ts";
import type { MarkedEntry } from "./marked.ts";
import { PatternFilter } from "./PatternFilter.tsx";
import { PatternList } from "./PatternList.tsx";
import { ShelfFiles } from "./ShelfFiles.tsx";
import { savePatterns } from "./save-patterns.ts";
import type { Listed } from "./use-listed.ts";

interface ListColumnProps {
  readonly shelf: PatternShelf;
  readonly list: Listed;
  readonly isPlaying: boolean;
  readonly fileOf: (entry: MarkedEntry) => Uint8Array;
  readonly onHear: (id: string) => void;
}

/** The patterns that are listed, what of all is, and what the list is made of. */
export function ListColumn({ shelf, list, isPlaying, fileOf, onHear }: ListColumnProps) {
  const { all, listed, chosen, found, fault, marks } = list;
  const meters = useMemo(() => [...new Set(all.map(({ facts }) => facts.meter))].sort(), [all]);
  const tags = useMemo(() => [...new Set(all.flatMap((one) => one.tags))].sort(), [all]);
  return (
    <div className="flex min-h-0 flex-col max-lg:h-[420px]">
      <p className="flex items-baseline justify-between gap-3 border-b border-hairline px-4 py-2 text-small">
        <span role="status">
          {fault ?? (
            <>
              <strong>{listed.length.toLocaleString("en")}</strong>{" "}
              {found ? "are like it" : listed.length === 1 ? "pattern" : "patterns"}
              {shelf.isFilling && ", takes are still being cut"}
            </>
          )}
        </span>
        <button
          type="button"
          className="font-bold whitespace-nowrap text-spruce underline"
          disabled={listed.length === 0}
          onClick={() => void savePatterns(listed)}
        >
          Save all
        </button>
      </p>
      <PatternFilter wish={list.wish} meters={meters} tags={tags} onChange={list.setWish} />
      {marks.problem && (
        <p role="alert" className="border-b border-hairline px-4 py-1.5 text-small text-brick">
          {marks.problem.message} {marks.problem.remedy}
        </p>
      )}
      <ShelfFiles shelf={shelf} />
      {listed.length === 0 && !shelf.isFilling ? (
        <p className="m-auto max-w-[40ch] p-6 text-center text-muted">
          Nothing fits. Change what is listed, or clear the knock.
          <button
            type="button"
            className="mt-2 block w-full font-bold text-spruce underline"
            onClick={() => list.listAll()}
          >
            List all again
          </button>
        </p>
      ) : (
        <PatternList
          entries={listed}
          likeness={list.likeness}
          chosenId={chosen?.id ?? null}
          isPlaying={isPlaying}
          fileOf={fileOf}
          onChoose={list.choose}
          onHear={onHear}
        />
      )}
    </div>
  );
}
