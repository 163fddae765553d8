import type { RefObject } from "react";
import { useBench } from "../../../store/bench/bench-context.ts";
import { useLanePointer } from "./use-lane-pointer.ts";

const FIN_PX = 14;

/** Works the pointer, and shows what it is doing. Apart, so that a move of it draws nothing else anew. */
export function PointerWords({ lanesRef }: { lanesRef: RefObject<HTMLElement | null> }) {
  const { note, marquee, ghost } = useLanePointer(useBench(), lanesRef);
  return (
    <>
      {marquee && (
        <div className="pointer-events-none absolute border border-amber bg-amber/15" style={{ ...marquee }} />
      )}
      {ghost && (
        <div
          aria-hidden="true"
          className="pointer-events-none absolute"
          style={{ left: ghost.x, top: ghost.base - ghost.height }}
        >
          <svg aria-hidden="true" width={FIN_PX} height={ghost.height} className="overflow-visible">
            <path
              d={`M0 ${ghost.height}V0Q${FIN_PX * 0.2} ${ghost.height * 0.88} ${FIN_PX} ${ghost.height}z`}
              className="opacity-60"
              style={{ fill: `var(--${ghost.ink})`, stroke: `var(--${ghost.ink})` }}
            />
          </svg>
          <span className="absolute bottom-full left-2 rounded bg-sheet/90 px-1 text-fine whitespace-nowrap text-ink">
            {ghost.text}
          </span>
        </div>
      )}
      {note && (
        <div
          className="pointer-events-none absolute z-10 rounded-md bg-ink px-2 py-0.5 text-small font-semibold whitespace-nowrap text-paper"
          style={{ left: note.x + 14, top: note.y - 30 }}
        >
          {note.text}
        </div>
      )}
    </>
  );
}
