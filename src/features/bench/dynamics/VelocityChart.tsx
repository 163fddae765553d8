import { line, max, scaleLinear } from "d3";
import { Slider } from "radix-ui";
import { type KeyboardEvent, useRef, useState } from "react";
import { ROLES, type RoleBorders, roleWord } from "../../../core/document/index.ts";
import { otherBorders, summarizeLoudness } from "../../../core/dynamics/index.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { useSettled } from "../../../store/bench/use-settled.ts";
import type { DynamicsSetting } from "./use-dynamics-setting.ts";

const WIDTH = 276;
const HEIGHT = 84;
const BIN = 4;
const BINS = 32;
const THUMB = "block h-4 w-2 rounded-sm border border-sheet bg-spruce shadow";

/**
 * How loud the hits of a voice were recorded (dashed) and are now (bars, filled as their role is drawn), over the borders of the
 * roles, which can be dragged.
 */
export function VelocityChart({ voiceId, setting }: { voiceId: string; setting: DynamicsSetting }) {
  const lane = useSettled(
    ({ lanes }) => lanes.find((candidate) => candidate.voiceId === voiceId),
    ({ lanes }) => [lanes],
  );
  return lane ? <Chart lane={lane} setting={setting} /> : null;
}

function Chart({ lane, setting }: { lane: LaneView; setting: DynamicsSetting }) {
  const [dragged, setDragged] = useState<RoleBorders | null>(null);
  const { roles } = lane;
  const roleBorders = dragged ?? lane.roleBorders;
  const isSet = lane.treatment.roles !== undefined;
  const isOn = lane.treatment.dynamics?.isOn === true;
  const recorded = countByBin(lane.recorded.velocities);
  const byRole = ROLES.map((_, role) => countByBin(lane.cleaned.velocities, (row) => roles[row] === role));
  const totals = recorded.map((_, bin) => byRole.reduce((sum, counts) => sum + counts[bin]!, 0));
  const y = scaleLinear([0, Math.max(1, max([...recorded, ...totals]) ?? 1)], [HEIGHT, 6]);
  const x = scaleLinear([0, 128], [0, WIDTH]);
  const outline = line<number>()
    .x((_, bin) => x((bin + 0.5) * BIN))
    .y((count) => y(count));
  const ink = `var(--${lane.voice.ink})`;
  const now = summarizeLoudness(lane.cleaned.velocities, roles);
  const words = now
    .map(({ role, count, mean }) => `${count} ${roleWord(role, count)} around ${Math.round(mean)}`)
    .join(", ");
  const held = useRef<Held | null>(null);
  const other = isSet ? null : otherBorders(roleBorders);
  /** Home and End take the border that has the focus as far as it goes; left to itself, the slider would take the outer one. */
  const toEnd = (least: number, most: number, place: 0 | 1) => (event: KeyboardEvent) => {
    if (event.key !== "Home" && event.key !== "End") return;
    event.preventDefault();
    event.stopPropagation();
    const moved = event.key === "Home" ? least : most;
    setting.setBorders({ ...roleBorders, ...(place === 0 ? { ghostTop: moved } : { accentBottom: moved }) });
  };
  return (
    <figure className="mt-2">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full" role="img" aria-label={`Loudness now: ${words}`}>
        {roleBorders.ghostTop > 0 && (
          <rect x={0} width={x(roleBorders.ghostTop + 0.5)} y={0} height={HEIGHT} fill="var(--spruce-tint)" />
        )}
        {roleBorders.accentBottom < 128 && (
          <rect
            x={x(roleBorders.accentBottom - 0.5)}
            width={WIDTH - x(roleBorders.accentBottom - 0.5)}
            y={0}
            height={HEIGHT}
            fill="var(--spruce-tint)"
          />
        )}
        {byRole.map((counts, role) =>
          counts.map((count, bin) => {
            if (count === 0) return null;
            const below = byRole.slice(0, role).reduce((sum, other) => sum + other[bin]!, 0);
            return (
              <rect
                // biome-ignore lint/suspicious/noArrayIndexKey: a bin is its place
                key={`${role} ${bin}`}
                x={x(bin * BIN) + 0.75}
                width={x(BIN) - 1.5}
                y={y(below + count)}
                height={y(below) - y(below + count)}
                fill={role === 0 ? "var(--sheet)" : ink}
                stroke={ink}
                strokeWidth={role === 2 ? 1.6 : 1}
              />
            );
          }),
        )}
        {isOn && (
          <path d={outline(recorded) ?? ""} fill="none" stroke="var(--ink)" strokeWidth="1.6" strokeDasharray="4 2.5" />
        )}
        <line x1={0} x2={WIDTH} y1={HEIGHT - 0.5} y2={HEIGHT - 0.5} stroke="var(--hairline-strong)" />
      </svg>
      <Slider.Root
        className="relative flex h-5 w-full items-center"
        min={0}
        max={128}
        step={1}
        value={[roleBorders.ghostTop, roleBorders.accentBottom]}
        minStepsBetweenThumbs={1}
        onValueChange={(values) => {
          held.current ??= heldBy(roleBorders, values);
          const next = draggedTo(held.current, values);
          setDragged(next);
          setting.previewBorders(next);
        }}
        onValueCommit={(values) => {
          const next = draggedTo(held.current ?? heldBy(roleBorders, values), values);
          held.current = null;
          setDragged(null);
          setting.setBorders(next);
        }}
      >
        <Slider.Track className="relative h-1 grow rounded-full bg-hairline-strong">
          <Slider.Range className="absolute h-full rounded-full" style={{ background: ink }} />
        </Slider.Track>
        <Slider.Thumb
          aria-label="Ghosts up to"
          className={THUMB}
          onKeyDown={toEnd(0, roleBorders.accentBottom - 1, 0)}
        />
        <Slider.Thumb aria-label="Accents from" className={THUMB} onKeyDown={toEnd(roleBorders.ghostTop + 1, 128, 1)} />
      </Slider.Root>
      <figcaption className="text-small leading-snug text-muted">
        {bordersInWords(roleBorders)}
        {other && (
          <>
            {" "}
            <button
              type="button"
              className="font-bold text-spruce underline"
              onClick={() => setting.setBorders(other.borders)}
            >
              {other.name}
            </button>
          </>
        )}
        {isSet && (
          <>
            {" "}
            <button type="button" className="font-bold text-spruce underline" onClick={() => setting.setBorders(null)}>
              As found
            </button>
          </>
        )}
      </figcaption>
    </figure>
  );
}

/** Which border a slider with both has in hand, and where they were when it was taken. */
interface Held {
  readonly border: keyof RoleBorders;
  readonly before: RoleBorders;
}

/** @param values where the two handles of the slider are, the lower first */
const heldBy = (before: RoleBorders, values: readonly number[]): Held => ({
  border: values[1] === before.accentBottom || values[0] === before.accentBottom ? "ghostTop" : "accentBottom",
  before,
});

/** The borders as they are dragged: the one in hand stops at the other, though its handle is pulled past it. */
function draggedTo({ border, before }: Held, values: readonly number[]): RoleBorders {
  return border === "ghostTop"
    ? { ...before, ghostTop: Math.min(...values, before.accentBottom - 1) }
    : { ...before, accentBottom: Math.max(...values, before.ghostTop + 1) };
}

function bordersInWords({ ghostTop, accentBottom }: RoleBorders): string {
  const ghosts = ghostTop > 0 ? `Ghosts up to ${ghostTop}` : "No ghosts";
  const accents = accentBottom < 128 ? `accents from ${accentBottom}` : "no accents";
  return ghostTop === 0 && accentBottom === 128
    ? "All normal: this voice plays one loudness."
    : `${ghosts}, ${accents}.`;
}

function countByBin(velocities: ArrayLike<number>, isCounted: (row: number) => boolean = () => true): number[] {
  const counts = new Array<number>(BINS).fill(0);
  for (let row = 0; row < velocities.length; row++) {
    if (isCounted(row)) counts[Math.min(BINS - 1, Math.floor(velocities[row]! / BIN))]!++;
  }
  return counts;
}
