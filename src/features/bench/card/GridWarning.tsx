import type { ReactNode } from "react";
import { closeCall, type FoundGrid, type GridFit } from "../../../core/study/index.ts";
import { gridName, gridStepTicks, isSameGrid, sameSteps } from "../../../core/time/index.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { MeantDrift } from "../steps/DriftChart.tsx";
import { isFarWorse, shareOf } from "../steps/grid-fit.ts";
import type { useTimingSetting } from "../steps/use-timing-setting.ts";

interface WarningProps {
  readonly lane: LaneView;
  readonly found: FoundGrid;
  readonly fits: readonly GridFit[];
  readonly setting: ReturnType<typeof useTimingSetting>;
}

/** Says in one sentence when the chosen grid is not the one that was played, with the number, and offers the other one. */
export function GridWarning({ lane, found, fits, setting }: WarningProps) {
  const { grid } = lane.treatment.timing;
  if (found.isPoor) {
    return (
      <p className="mt-1 text-small text-amber-text">
        No grid fits better than chance would; {gridName(found.grid)} come nearest. Choose one by ear.
      </p>
    );
  }
  const other = closeCall(found);
  if (other && isSameGrid(grid, found.grid)) {
    const sure = Math.round(found.confidence * 100);
    return (
      <Offer
        words={`A close call: ${gridName(found.grid)} ${sure} %, ${gridName(other)} ${100 - sure} % likely.`}
        offer={`Use ${gridName(other)}`}
        onUse={() => setting.commit("grid", { grid: other, ghostGrid: null, stretches: [] })}
      />
    );
  }
  if (sameSteps(grid, found.grid)) return null;
  const share = shareOf(fits, grid);
  if (share === null) return null;
  const total = lane.hits.length;
  const ppq = lane.maps.meterMap.ppq;
  const isWrong = isFarWorse(fits, grid, found);
  const words = isWrong
    ? `${Math.round((1 - share) * total)} of ${total} hits lie between ${gridName(grid)}${mergedWords(lane)}; ${gridName(found.grid)} fits.`
    : gridStepTicks(grid, ppq) < gridStepTicks(found.grid, ppq)
      ? `Finer than what is played: ${gridName(grid)} will do little.`
      : null;
  if (words === null) return null;
  const use = () => {
    const { ghostGrid, stretches } = found;
    setting.commit("grid", { grid: found.grid, ghostGrid: ghostGrid ?? null, stretches });
  };
  return (
    <Offer words={words} offer={`Use ${gridName(found.grid)}`} onUse={use}>
      {isWrong && lane.treatment.timing.isOn && <MeantDrift voiceId={lane.voiceId} found={found} />}
    </Offer>
  );
}

interface OfferProps {
  readonly words: string;
  readonly offer: string;
  readonly onUse: () => void;
  /** What is said of it besides. */
  readonly children?: ReactNode;
}

/** Something to know of the grid, and what to do about it in one action. */
function Offer({ words, offer, onUse, children }: OfferProps) {
  return (
    <p role="status" className="mt-1.5 rounded-lg bg-amber-tint px-2.5 py-1 text-small leading-snug">
      {words}{" "}
      <button type="button" className="font-bold text-spruce underline" onClick={onUse}>
        {offer}
      </button>
      {children}
    </p>
  );
}

/** `, and 12 would land on another`: hits that the grid puts on a slot that another one has. */
function mergedWords({ cleaned: { slotTicks } }: LaneView): string {
  const merged = slotTicks.length - new Set(slotTicks).size;
  return merged === 0 ? "" : `, and ${merged} would share a slot`;
}
