import clsx from "clsx";
import { extent, scaleLinear } from "d3";
import { type PointerEvent, useMemo, useState } from "react";
import { OneOf } from "../../components/sentence/OneOf.tsx";
import type { ShelfEntry } from "../../store/patterns/use-pattern-shelf.ts";
import { type Dot, FieldDots } from "./FieldDots.tsx";

const WIDTH = 380;
const HEIGHT = 400;
const EDGE = 26;
/** A pointer that has moved less has clicked, in units of the picture. */
const LEAST_SWEEP = 5;
/** A click so near a dot is on it. */
const CLICK_REACH = 9;

/** What patterns are laid out by. */
const AXES = {
  fullness: { name: "how full", low: "sparse", high: "full", of: ({ facts }: ShelfEntry) => facts.fullness },
  loudness: { name: "how hard", low: "soft", high: "hard", of: ({ facts }: ShelfEntry) => facts.loudness },
  swing: { name: "how swung", low: "straight", high: "swung", of: ({ facts }: ShelfEntry) => facts.swingPercent },
  tempo: { name: "how fast", low: "slow", high: "fast", of: ({ bpm }: ShelfEntry) => bpm },
} as const;
type AxisId = keyof typeof AXES;
const AXIS_IDS = Object.keys(AXES) as readonly AxisId[];

interface PatternFieldProps {
  readonly entries: readonly ShelfEntry[];
  /** How like each is to what was knocked, 0 to 1; null where nothing is looked for. */
  readonly likeness: ReadonlyMap<string, number> | null;
  readonly chosenId: string | null;
  /** Those that were swept over; null for all. */
  readonly swept: ReadonlySet<string> | null;
  readonly onChoose: (id: string) => void;
  readonly onSweep: (ids: ReadonlySet<string> | null) => void;
}

type Point = readonly [x: number, y: number];

/** Where patterns lie by two of their sides, the likelier the stronger their ink. One is clicked, or many are swept over. */
export function PatternField({ entries, likeness, chosenId, swept, onChoose, onSweep }: PatternFieldProps) {
  const [across, setAcross] = useState<AxisId>("fullness");
  const [up, setUp] = useState<AxisId>("loudness");
  const [sweep, setSweep] = useState<readonly [Point, Point] | null>(null);
  /** What the pointer is on is called so. */
  const [under, setUnder] = useState("");
  const places = useMemo(() => placesOf(entries, across, up), [entries, across, up]);
  const dots = useMemo(
    () =>
      places.map(({ entry, cx, cy }): Dot => {
        const strength = likeness ? (likeness.get(entry.id) ?? 0) : 0.6;
        const isOut = swept !== null && !swept.has(entry.id);
        return { cx, cy, strength, isLarge: likeness !== null && strength > 0.6, isOut };
      }),
    [places, likeness, swept],
  );
  const chosen = places.find(({ entry }) => entry.id === chosenId);
  const box = sweep && boxOf(sweep);
  const begin = (event: PointerEvent<SVGSVGElement>) => {
    if (event.button === 0) setSweep([pointOf(event), pointOf(event)]);
  };
  const move = (event: PointerEvent<SVGSVGElement>) => {
    if (!sweep) return setUnder(nearestTo(places, pointOf(event))?.name ?? "");
    const next = [sweep[0], pointOf(event)] as const;
    // A click goes to the dot; what moves is followed wherever it goes.
    if (isSwept(next)) event.currentTarget.setPointerCapture(event.pointerId);
    setSweep(next);
  };
  const end = () => {
    setSweep(null);
    if (!sweep) return;
    if (!isSwept(sweep)) {
      const clicked = nearestTo(places, sweep[0]);
      if (clicked) onChoose(clicked.id);
      return;
    }
    const { left, top, width, height } = boxOf(sweep);
    const inside = places.filter(({ cx, cy }) => cx >= left && cx <= left + width && cy >= top && cy <= top + height);
    onSweep(inside.length > 0 ? new Set(inside.map(({ entry }) => entry.id)) : null);
  };
  const axis = (label: string, chosenAxis: AxisId, other: AxisId, onAxis: (id: AxisId) => void) => (
    <OneOf
      label={label}
      chosenId={chosenAxis}
      choices={AXIS_IDS.filter((id) => id !== other).map((id) => ({ id, name: AXES[id].name }))}
      onChoose={onAxis}
    />
  );
  return (
    <>
      <p className="mb-1 text-small text-muted">
        By {axis("To the right", across, up, setAcross)} and {axis("Upwards", up, across, setUp)}
        {likeness ? ", the more like the knock, the stronger" : ""}.{" "}
        {swept ? (
          <>
            <strong className="text-ink">{swept.size} swept over.</strong>{" "}
            <button type="button" className="font-bold text-spruce underline" onClick={() => onSweep(null)}>
              All again
            </button>
          </>
        ) : (
          "Sweep over some to list those."
        )}
      </p>
      <div className="relative">
        <FieldDots dots={dots} width={WIDTH} height={HEIGHT} />
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          role="img"
          aria-label={`${entries.length} patterns by ${AXES[across].name} and ${AXES[up].name}`}
          className={clsx("relative block w-full touch-none select-none", under !== "" && "cursor-pointer")}
          onPointerDown={begin}
          onPointerMove={move}
          onPointerUp={end}
          onPointerCancel={() => setSweep(null)}
        >
          {under !== "" && <title>{under}</title>}
          <line x1={EDGE + 8} x2={EDGE + 8} y1={10} y2={HEIGHT - EDGE} stroke="var(--hairline-strong)" />
          <line x1={EDGE + 8} x2={WIDTH - 10} y1={HEIGHT - EDGE} y2={HEIGHT - EDGE} stroke="var(--hairline-strong)" />
          <g fontSize={12} fill="var(--muted)">
            <text x={EDGE + 12} y={HEIGHT - 8}>
              {AXES[across].low}
            </text>
            <text x={WIDTH - 12} y={HEIGHT - 8} textAnchor="end">
              {AXES[across].high}
            </text>
            <text transform={`translate(18 ${HEIGHT - EDGE}) rotate(-90)`}>{AXES[up].low}</text>
            <text transform="translate(18 10) rotate(-90)" textAnchor="end">
              {AXES[up].high}
            </text>
          </g>
          {chosen && (
            <circle cx={chosen.cx} cy={chosen.cy} r={8} fill="var(--amber)" stroke="var(--ink)" pointerEvents="none" />
          )}
          {box && (
            <rect
              x={box.left}
              y={box.top}
              width={box.width}
              height={box.height}
              fill="var(--amber)"
              fillOpacity={0.18}
              stroke="var(--amber)"
              pointerEvents="none"
            />
          )}
        </svg>
      </div>
    </>
  );
}

interface Place {
  readonly entry: ShelfEntry;
  readonly cx: number;
  readonly cy: number;
}

function placesOf(entries: readonly ShelfEntry[], across: AxisId, up: AxisId): readonly Place[] {
  const x = scaleOf(entries, across, EDGE + 14, WIDTH - 10);
  const y = scaleOf(entries, up, HEIGHT - EDGE, 10);
  // What lies on one spot is spread a little, always alike.
  const spread = (index: number, by: number) => (((index * by) % 17) / 17 - 0.5) * 10;
  return entries.map((entry, index) => ({
    entry,
    cx: x(AXES[across].of(entry)) + spread(index, 7),
    cy: y(AXES[up].of(entry)) + spread(index, 11),
  }));
}

/** The pattern whose dot a point is on, or nearly. */
function nearestTo(places: readonly Place[], [x, y]: Point): ShelfEntry | null {
  let nearest: ShelfEntry | null = null;
  let least = CLICK_REACH;
  for (const { entry, cx, cy } of places) {
    const distance = Math.hypot(cx - x, cy - y);
    if (distance < least) [nearest, least] = [entry, distance];
  }
  return nearest;
}

/** Where on the picture something lies, with a little room at both ends. */
function scaleOf(entries: readonly ShelfEntry[], axis: AxisId, from: number, to: number) {
  const [least = 0, most = 1] = extent(entries, AXES[axis].of);
  const room = Math.max(0.5, (most - least) * 0.04);
  return scaleLinear([least - room, most + room], [from, to]);
}

/** Where a pointer is, in units of the picture. */
function pointOf({ clientX, clientY, currentTarget }: PointerEvent<SVGSVGElement>): Point {
  const { left, top, width, height } = currentTarget.getBoundingClientRect();
  return [((clientX - left) / width) * WIDTH, ((clientY - top) / height) * HEIGHT];
}

const isSwept = ([[x1, y1], [x2, y2]]: readonly [Point, Point]) => Math.hypot(x2 - x1, y2 - y1) > LEAST_SWEEP;

function boxOf([[x1, y1], [x2, y2]]: readonly [Point, Point]) {
  return { left: Math.min(x1, x2), top: Math.min(y1, y2), width: Math.abs(x2 - x1), height: Math.abs(y2 - y1) };
}
