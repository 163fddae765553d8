import { useMemo } from "react";
import { useBenchState } from "../../../store/bench/bench-context.ts";
import { workingLane } from "../commands/actions.ts";
import { legendOf } from "./colours.ts";

/** Says what the inks mean when they are not those of the families. */
export function Legend() {
  const colourBy = useBenchState((state) => state.colourBy);
  const streams = useBenchState((state) => state.pattern.streams);
  const lane = useBenchState(workingLane);
  const meanings = useMemo(() => legendOf(colourBy, streams, lane), [colourBy, streams, lane]);
  if (meanings.length === 0) return null;
  return (
    <ul
      aria-label={`Colours of the fins, by ${colourBy}`}
      className="pointer-events-none absolute right-3 bottom-3 flex gap-4 rounded-md border border-hairline bg-sheet px-3 py-1 text-small"
    >
      {meanings.map(({ name, ink }) => (
        <li key={name} className="flex items-center gap-1.5">
          <span aria-hidden="true" className="size-3 rounded-full" style={{ background: `var(--${ink})` }} />
          {name}
        </li>
      ))}
    </ul>
  );
}
