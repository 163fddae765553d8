import { line, scaleLinear } from "d3";
import { type PointerEvent, useRef, useState } from "react";
import { type Groove, type GrooveLayer, slotCountOf } from "../../core/document/index.ts";

const WIDTH = 900;
const CURVES = 190;
const FOOT = 70;
const LEFT = 72;
const RIGHT = 56;
/** How far off the grid is drawn, in steps: the least of these that has room for all places. */
const REACHES = [0.12, 0.25, 0.5, 1];
const ROOM = 0.8;
/** Names beside the curves are at least so far from each other. */
const NAME_HEIGHT = 14;
const LOUDEST = 1.7;
/** What a key moves a place by. */
const KEY_OFFSET = 0.01;
const KEY_ACCENT = 0.05;

interface ProfileProps {
  readonly groove: Groove;
  readonly stepMs: number;
  readonly onChange: (layers: readonly GrooveLayer[]) => void;
}

interface Chosen {
  readonly layer: number;
  readonly slot: number;
}

const inkOf = ({ family }: GrooveLayer) => (family ? `var(--${family})` : "var(--ink)");
const nameOf = ({ family }: GrooveLayer) => family ?? "all drums";

/**
 * How a groove sits, layer by layer, in the inks of the families: how far each place is off the grid as a curve, how loud as fins.
 * Any place can be dragged, or chosen and moved by key.
 */
export function GrooveProfile({ groove, stepMs, onChange }: ProfileProps) {
  const { layers, lengthQuarters, grid } = groove;
  const svg = useRef<SVGSVGElement>(null);
  const [wanted, setChosen] = useState<Chosen | null>(null);
  /** The reach at which a drag began; null while there is none. Another one under the hand would tear the place from it. */
  const draggedReach = useRef<number | null>(null);
  const count = slotCountOf(lengthQuarters, grid);
  // Another groove may have fewer places.
  const chosen = wanted && layers[wanted.layer]?.slots[wanted.slot] ? wanted : null;
  const x = scaleLinear([0, count], [LEFT, WIDTH - RIGHT]);
  const farthest = Math.max(...layers.flatMap(({ slots }) => slots.map(({ offset }) => Math.abs(offset))), 0);
  const reach = draggedReach.current ?? REACHES.find((one) => farthest <= ROOM * one) ?? 1;
  const y = scaleLinear([-reach, reach], [CURVES - 8, 22]);
  const height = scaleLinear([0, LOUDEST], [0, FOOT - 14]);
  const base = CURVES + FOOT - 6;
  const clipped = (offset: number) => Math.max(-reach, Math.min(reach, offset));
  const curve = line<number>()
    .x((_, slot) => x(slot))
    .y((offset) => y(clipped(offset)));
  const change = (at: Chosen, next: { readonly offset?: number; readonly accent?: number }) => {
    const slots = layers[at.layer]!.slots;
    const changed = { ...slots[at.slot]!, ...next };
    const limited = {
      ...changed,
      offset: Math.round(Math.max(-1, Math.min(1, changed.offset)) * 1000) / 1000,
      accent: Math.round(Math.max(0.05, Math.min(LOUDEST, changed.accent)) * 1000) / 1000,
    };
    onChange(layers.with(at.layer, { ...layers[at.layer]!, slots: slots.with(at.slot, limited) }));
  };
  const placeOf = (event: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    return {
      px: ((event.clientX - box.left) / box.width) * WIDTH,
      py: ((event.clientY - box.top) / box.height) * (CURVES + FOOT),
    };
  };
  const nearest = (px: number, py: number): Chosen => {
    const slot = Math.max(0, Math.min(count - 1, Math.round(x.invert(px))));
    const far = (layer: GrooveLayer) => Math.abs(y(clipped(layer.slots[slot]!.offset)) - py);
    const layer = layers.reduce((best, one, index) => (far(one) < far(layers[best]!) ? index : best), 0);
    return { layer, slot };
  };
  const names = namePlaces(layers, (layer) => y(clipped(layer.slots.at(-1)?.offset ?? 0)));
  const here = chosen && layers[chosen.layer]?.slots[chosen.slot];
  const words = here
    ? `Place ${chosen.slot + 1}, ${nameOf(layers[chosen.layer]!)}: ${offsetWords(here.offset * stepMs)}, ${Math.round(here.accent * 100)} % as loud as the mean${here.hitCount > 1 ? `, from ${here.hitCount} hits, ± ${Math.round(here.spread * stepMs)} ms` : here.hitCount === 0 ? ", not played" : ""}`
    : "Drag a place up to make it later, or choose one by key";
  return (
    <figure>
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${CURVES + FOOT}`}
        className="w-full touch-none"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: its places are chosen and moved by key
        tabIndex={0}
        role="application"
        aria-label={`Profile of ${groove.name}. Left and right choose a place, page up and down a layer, up and down make it later or earlier, plus and minus louder or softer. ${words}`}
        onPointerDown={(event) => {
          const { px, py } = placeOf(event);
          event.currentTarget.setPointerCapture(event.pointerId);
          setChosen(nearest(px, py));
          draggedReach.current = reach;
        }}
        onPointerMove={(event) => {
          if (draggedReach.current === null || !chosen) return;
          const { py } = placeOf(event);
          if (py < CURVES) change(chosen, { offset: clipped(y.invert(py)) });
          else change(chosen, { accent: height.invert(base - py) });
        }}
        onPointerUp={() => {
          draggedReach.current = null;
        }}
        onKeyDown={(event) => {
          const at = chosen ?? { layer: 0, slot: 0 };
          const slot = layers[at.layer]!.slots[at.slot]!;
          if (event.key === "ArrowLeft") setChosen({ ...at, slot: Math.max(0, at.slot - 1) });
          else if (event.key === "ArrowRight") {
            setChosen({ ...at, slot: chosen ? Math.min(count - 1, at.slot + 1) : 0 });
          } else if (event.key === "PageUp") setChosen({ ...at, layer: Math.max(0, at.layer - 1) });
          else if (event.key === "PageDown") setChosen({ ...at, layer: Math.min(layers.length - 1, at.layer + 1) });
          else if (event.key === "ArrowUp") change(at, { offset: slot.offset + KEY_OFFSET });
          else if (event.key === "ArrowDown") change(at, { offset: slot.offset - KEY_OFFSET });
          else if (event.key === "+") change(at, { accent: slot.accent + KEY_ACCENT });
          else if (event.key === "-") change(at, { accent: slot.accent - KEY_ACCENT });
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      >
        {Array.from({ length: Math.floor(lengthQuarters) + 1 }, (_, quarter) => {
          const at = x((quarter * count) / lengthQuarters);
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: a beat is its place
            <g key={quarter}>
              <line x1={at} x2={at} y1={16} y2={base} stroke="var(--hairline)" />
              {quarter < lengthQuarters && (
                <text x={at + 4} y={12} fontSize="13" fontWeight="700" fill="var(--ink)">
                  {quarter + 1}
                </text>
              )}
            </g>
          );
        })}
        <line x1={LEFT} x2={WIDTH - RIGHT} y1={y(0)} y2={y(0)} stroke="var(--muted)" />
        <g fontSize="12" fill="var(--muted)" textAnchor="end">
          <text x={LEFT - 8} y={y(reach * 0.7)}>
            late
          </text>
          <text x={LEFT - 8} y={y(0) + 4}>
            on the grid
          </text>
          <text x={LEFT - 8} y={y(-reach * 0.7)}>
            early
          </text>
          <text x={LEFT - 8} y={base}>
            loudness
          </text>
        </g>
        <line x1={LEFT} x2={WIDTH - RIGHT} y1={base} y2={base} stroke="var(--hairline-strong)" />
        {layers.map((layer, index) => (
          <g key={nameOf(layer)}>
            <path
              d={curve(layer.slots.map(({ offset }) => offset)) ?? ""}
              fill="none"
              stroke={inkOf(layer)}
              strokeWidth="1.8"
            />
            {layer.slots.map(({ offset, accent, hitCount }, slot) => {
              const isChosen = chosen?.layer === index && chosen.slot === slot;
              const left = x(slot) + index * 7;
              return (
                // biome-ignore lint/suspicious/noArrayIndexKey: a slot is its place
                <g key={slot}>
                  <circle
                    cx={x(slot)}
                    cy={y(clipped(offset))}
                    r={isChosen ? 6.5 : 4.5}
                    fill={hitCount > 0 ? inkOf(layer) : "var(--sheet)"}
                    stroke={isChosen ? "var(--amber)" : inkOf(layer)}
                    strokeWidth={isChosen ? 2.5 : 1.4}
                  />
                  <path
                    d={`M${left} ${base}V${base - height(Math.min(LOUDEST, accent))}Q${left + 2} ${base - 3} ${left + 11} ${base}Z`}
                    fill={hitCount > 0 ? inkOf(layer) : "var(--sheet)"}
                    stroke={inkOf(layer)}
                  />
                </g>
              );
            })}
            <text x={WIDTH - RIGHT + 4} y={names.get(layer)! + 4} fontSize="13" fontWeight="700" fill={inkOf(layer)}>
              {layer.family ?? "all"}
            </text>
          </g>
        ))}
      </svg>
      <figcaption className="text-small text-muted" aria-live="polite">
        {words}.
      </figcaption>
    </figure>
  );
}

function offsetWords(ms: number): string {
  const rounded = Math.round(ms * 10) / 10;
  return rounded === 0 ? "on the grid" : `${Math.abs(rounded)} ms ${rounded > 0 ? "late" : "early"}`;
}

/** Where the name of each layer stands: beside the end of its curve, and clear of the others. */
function namePlaces(
  layers: readonly GrooveLayer[],
  endOf: (layer: GrooveLayer) => number,
): ReadonlyMap<GrooveLayer, number> {
  const sorted = layers.toSorted((a, b) => endOf(a) - endOf(b));
  const places = new Map<GrooveLayer, number>();
  let free = Number.NEGATIVE_INFINITY;
  for (const layer of sorted) {
    const place = Math.max(free, endOf(layer));
    places.set(layer, place);
    free = place + NAME_HEIGHT;
  }
  return places;
}
