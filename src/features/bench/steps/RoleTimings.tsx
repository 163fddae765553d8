import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";
import { TIMING_LIMITS } from "../../../core/document/index.ts";
import type { RoleTiming } from "../../../core/document/treatment.ts";
import { type Limit, sayLimited } from "../../../core/limit.ts";
import { formatGrid, parseGrid, STRAIGHT_PERCENT, withSwing } from "../../../core/time/index.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { GRID_GROUPS } from "./grid-groups.ts";
import type { useTimingSetting } from "./use-timing-setting.ts";

// What of the timing of a voice can be otherwise for its ghosts, or its accents, than for its strokes.

type Setting = ReturnType<typeof useTimingSetting>;

const SWING: Limit = TIMING_LIMITS.swingPercent;

interface SwingProps {
  readonly label: string;
  readonly percent: number;
  readonly onPreview: (percent: number) => void;
  readonly onCommit: (percent: number) => void;
  readonly onCancel: () => void;
}

export function Swing({ label, percent, ...changes }: SwingProps) {
  return (
    <SentenceNumber
      label={label}
      unit={SWING.unit}
      min={SWING.min}
      max={SWING.max}
      step={SWING.step}
      say={(value) => sayLimited(SWING, value)}
      value={percent}
      usual={STRAIGHT_PERCENT}
      {...changes}
    />
  );
}

/** Ghosts can be on finer steps than the strokes around them, or swing while those are straight. */
export function Ghosts({ lane, setting }: { lane: LaneView; setting: Setting }) {
  const { ghostGrid } = lane.treatment.timing;
  if (lane.roleBorders.ghostTop === 0 && !ghostGrid) return null;
  const swing = ghostGrid?.swingPercent ?? STRAIGHT_PERCENT;
  return (
    <>
      : grid of ghosts{" "}
      <SentenceChoice
        label="Grid of ghosts"
        chosenId={ghostGrid ? formatGrid(ghostGrid) : "same"}
        groups={[[{ id: "same", name: "the same" }], ...GRID_GROUPS]}
        onPreview={(id) => setting.preview({ ghostGrid: parseGrid(id) })}
        onChoose={(id) => setting.commit("ghosts' grid", { ghostGrid: parseGrid(id) })}
        onCancel={setting.cancel}
      />
      {ghostGrid && (
        <>
          ,{" "}
          <Swing
            label="Swing of ghosts"
            percent={swing}
            onPreview={(percent) => setting.preview({ ghostGrid: withSwing(ghostGrid, percent) })}
            onCommit={(percent) => setting.commit("ghosts' swing", { ghostGrid: withSwing(ghostGrid, percent) })}
            onCancel={setting.cancel}
          />
        </>
      )}
    </>
  );
}

/** Roles that can be treated otherwise than strokes, and their place in `ROLES`. */
const OTHER_ROLES = [
  ["ghost", 0],
  ["accent", 2],
] as const;

/** How far ghosts and accents are pulled, and how much of the swing they follow, for the roles that a voice has. */
export function RoleTimings({ lane, setting }: { lane: LaneView; setting: Setting }) {
  const { timing } = lane.treatment;
  const isSwung = [timing.grid, timing.ghostGrid, ...(timing.stretches ?? []).map(({ grid }) => grid)].some(
    (grid) => grid?.swingPercent !== undefined,
  );
  // In a voice of ghosts alone, or of accents alone, they are all there is.
  const present = OTHER_ROLES.filter(
    ([role, place]) => timing.byRole?.[role] || (lane.roles.includes(place) && lane.roles.some((own) => own !== place)),
  );
  return (
    <>
      {present.map(([role]) => {
        const own = timing.byRole?.[role] ?? {};
        const changed = (change: RoleTiming) => {
          const next = { ...own, ...change };
          const { [role]: _, ...others } = timing.byRole ?? {};
          const isAsStrokes =
            (next.strengthPercent ?? timing.strengthPercent) === timing.strengthPercent &&
            (next.swingSharePercent ?? 100) === 100 &&
            (next.humanizePercent ?? 100) === 100;
          return { byRole: isAsStrokes ? others : { ...others, [role]: next } };
        };
        const title = role === "ghost" ? "Ghost" : "Accent";
        const many = `${title.toLowerCase()}s`;
        const number = (field: keyof RoleTiming, usual: number) => ({
          min: 0,
          max: 100,
          step: 1,
          unit: "%",
          value: own[field] ?? usual,
          usual,
          onPreview: (value: number) => setting.preview(changed({ [field]: value })),
          onCommit: (value: number) => setting.commit(many, changed({ [field]: value })),
          onCancel: setting.cancel,
        });
        return (
          <span key={role}>
            {" "}
            {title} strength{" "}
            <SentenceNumber
              label={`${title} strength`}
              {...number("strengthPercent", timing.strengthPercent)}
              say={(value) => (value === timing.strengthPercent ? "same" : `${value} %`)}
            />
            {isSwung && (
              <>
                , swing{" "}
                <SentenceNumber
                  label={`Share of the swing for ${many}`}
                  {...number("swingSharePercent", 100)}
                  say={(value) => (value === 100 ? "as much" : value === 0 ? "off" : `${value} % as much`)}
                />
              </>
            )}
            {timing.humanizeMs > 0 && (
              <>
                , humanized{" "}
                <SentenceNumber
                  label={`Share of the humanize for ${many}`}
                  {...number("humanizePercent", 100)}
                  max={200}
                  say={(value) => (value === 100 ? "as much" : value === 0 ? "off" : `${value} % as much`)}
                />
              </>
            )}
            .
          </span>
        );
      })}
    </>
  );
}
