import { extent, scaleLinear } from "d3";
import type { ShelfEntry } from "../../store/patterns/use-pattern-shelf.ts";

const WIDTH = 380;
const HEIGHT = 400;
const EDGE = 26;

interface PatternFieldProps {
  readonly entries: readonly ShelfEntry[];
  /** How like each is to what was knocked, 0 to 1; null where nothing is looked for. */
  readonly likeness: ReadonlyMap<string, number> | null;
  readonly chosenId: string | null;
  readonly onChoose: (id: string) => void;
}

/** Where patterns lie: fuller to the right, harder above; the likelier the stronger its ink. */
export function PatternField({ entries, likeness, chosenId, onChoose }: PatternFieldProps) {
  const [sparsest = 0, fullest = 1] = extent(entries, ({ facts }) => facts.fullness);
  const [softest = 0, loudest = 127] = extent(entries, ({ facts }) => facts.loudness);
  const x = scaleLinear([sparsest - 1, fullest + 1], [EDGE + 14, WIDTH - 10]);
  const y = scaleLinear([softest - 3, loudest + 3], [HEIGHT - EDGE, 10]);
  // What lies on one spot is spread a little, always alike.
  const spread = (index: number, by: number) => (((index * by) % 17) / 17 - 0.5) * 10;
  const place = (entry: ShelfEntry, index: number) => ({
    cx: x(entry.facts.fullness) + spread(index, 7),
    cy: y(entry.facts.loudness) + spread(index, 11),
  });
  const chosen = entries.find(({ id }) => id === chosenId);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`${entries.length} patterns by fullness and loudness`}
      className="block w-full"
    >
      <line x1={EDGE + 8} x2={EDGE + 8} y1={10} y2={HEIGHT - EDGE} stroke="var(--hairline-strong)" />
      <line x1={EDGE + 8} x2={WIDTH - 10} y1={HEIGHT - EDGE} y2={HEIGHT - EDGE} stroke="var(--hairline-strong)" />
      <g fontSize={12} fill="var(--muted)">
        <text x={EDGE + 12} y={HEIGHT - 8}>
          sparse
        </text>
        <text x={WIDTH - 12} y={HEIGHT - 8} textAnchor="end">
          full
        </text>
        <text x={2} y={20}>
          hard
        </text>
        <text x={2} y={HEIGHT - EDGE - 4}>
          soft
        </text>
      </g>
      {entries.map((entry, index) => {
        const like = likeness ? (likeness.get(entry.id) ?? 0) : 0.6;
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: a dot among hundreds; the list beside it is what is read and stepped through
          <circle
            key={entry.id}
            {...place(entry, index)}
            r={likeness && like > 0.6 ? 6 : 4}
            fill={like > 0.05 ? "var(--spruce)" : "none"}
            fillOpacity={like ** 2}
            stroke="var(--spruce)"
            strokeOpacity={0.55}
            className="cursor-pointer"
            onClick={() => onChoose(entry.id)}
          >
            <title>{entry.name}</title>
          </circle>
        );
      })}
      {chosen && (
        <circle
          {...place(chosen, entries.indexOf(chosen))}
          r={8}
          fill="var(--amber)"
          stroke="var(--ink)"
          pointerEvents="none"
        />
      )}
    </svg>
  );
}
