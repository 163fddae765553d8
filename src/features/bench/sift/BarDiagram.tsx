import { isAtPlace, isOnStep, type Sift, type SiftTest } from "../../../core/sift/index.ts";
import { barAt } from "../../../core/time/index.ts";
import { useBenchState } from "../../../store/bench/bench-context.ts";

const WIDTH = 276;
const HEIGHT = 34;
/** The bar is looked at in so many parts of a quarter, for straight and triplet places alike. */
const PARTS = 12;

/** Which places of a bar of the current meter a rule means, so that off-beats in 6/8 are seen and not guessed. */
export function BarDiagram({ sift }: { sift: Sift }) {
  const meterMap = useBenchState((state) => state.maps.meterMap);
  const startTick = useBenchState((state) => state.loop?.startTick ?? state.playheadTick);
  const asksForPlaces = sift.clauses.some(({ anyOf }) => anyOf.some(isAboutPlace));
  if (!asksForPlaces) return null;
  const bar = barAt(meterMap, startTick);
  const { ppq } = meterMap;
  const barTicks = bar.endTick - bar.startTick;
  const x = (inBarTicks: number) => 4 + (inBarTicks / barTicks) * (WIDTH - 8);
  const ticks = Array.from({ length: Math.ceil((barTicks / ppq) * PARTS) }, (_, part) => (part * ppq) / PARTS);
  // Straight sixteenths and triplets are what people play; the diagram shows no finer places.
  const shown = ticks.filter((tick) => tick % (ppq / 4) === 0 || tick % (ppq / 3) === 0);
  const isMeant = (inBarTicks: number) =>
    sift.clauses.every(({ not, anyOf }) => {
      const tests = anyOf.filter(isAboutPlace);
      if (tests.length === 0 || tests.length < anyOf.length) return true;
      return tests.some((test) => holds(test, { bar, inBarTicks }, ppq)) !== Boolean(not);
    });
  const meant = shown.filter(isMeant);
  const { numerator, denominator } = bar.meter;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="mt-1 w-full"
      role="img"
      aria-label={`In a bar of ${numerator}/${denominator}, ${meant.length} places are meant`}
    >
      <line x1={4} x2={WIDTH - 4} y1={HEIGHT - 13} y2={HEIGHT - 13} stroke="var(--hairline-strong)" />
      {shown.map((tick) => {
        const isPulse = bar.pulseTicks.includes(tick);
        const isTriplet = tick % (ppq / 4) !== 0;
        const isOn = meant.includes(tick);
        // Triplets are drawn only where they are meant: between straight places they would be a thicket.
        if (isTriplet && !isOn) return null;
        return (
          <rect
            key={tick}
            x={x(tick) - (isOn ? 2.5 : 0.5)}
            width={isOn ? 5 : 1}
            y={isOn ? 2 : isPulse ? 8 : 15}
            height={isOn ? HEIGHT - 15 : isPulse ? HEIGHT - 21 : HEIGHT - 28}
            fill={isOn ? "var(--spruce)" : "var(--muted)"}
          />
        );
      })}
      {bar.pulseTicks.map((pulse, index) => (
        <text
          key={pulse}
          x={x(pulse)}
          y={HEIGHT - 1}
          fontSize="12"
          textAnchor={index === 0 ? "start" : "middle"}
          fill="var(--muted)"
        >
          {index + 1}
        </text>
      ))}
    </svg>
  );
}

type PlaceTest = Extract<SiftTest, { kind: "places" | "steps" }>;

function isAboutPlace(test: SiftTest): test is PlaceTest {
  return test.kind === "places" || test.kind === "steps";
}

function holds(test: PlaceTest, place: Parameters<typeof isAtPlace>[0], ppq: number): boolean {
  return test.kind === "places"
    ? test.places.some((one) => isAtPlace(place, one, ppq))
    : isOnStep(place, test.grid, test.steps, ppq);
}
