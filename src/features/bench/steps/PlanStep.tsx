import { X } from "lucide-react";
import { Button } from "../../../components/Button.tsx";
import { LimitedNumber } from "../../../components/sentence/LimitedNumber.tsx";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { TIMING_LIMITS } from "../../../core/document/index.ts";
import type { TimingTreatment } from "../../../core/document/treatment.ts";
import {
  barAt,
  formatGrid,
  type Grid,
  type GridStretch,
  parseGrid,
  STRAIGHT_PERCENT,
  withStretch,
  withSwing,
} from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { showStretch } from "../commands/travel-actions.ts";
import { meantStretch } from "../commands/write-actions.ts";
import { GRID_GROUPS } from "./grid-groups.ts";
import { stretchWords } from "./stretch-words.ts";

interface PlanStepProps {
  readonly lane: LaneView;
  readonly onPreview: (change: Partial<TimingTreatment>) => void;
  readonly onChange: (change: Partial<TimingTreatment>) => void;
  readonly onCancel: () => void;
}

/** The stretches in which a voice follows another grid: each a sentence that can be changed, and more of them at will. */
export function PlanStep({ lane, onPreview, onChange, onCancel }: PlanStepProps) {
  const bench = useBench();
  const hasLoop = useBenchState((state) => state.loop !== null);
  const { timing } = lane.treatment;
  const { stretches = [] } = timing;
  const { meterMap } = lane.maps;
  const relaid = ({ startTick, endTick }: GridStretch, grid: Grid | null) => ({
    stretches: withStretch(timing, startTick, endTick, grid),
  });
  const another = (id: string) => {
    const grid = parseGrid(id);
    const meant = meantStretch(bench.store.getState());
    return grid ? { stretches: withStretch(timing, meant.startTick, meant.endTick, grid) } : {};
  };
  return (
    <div className="mt-2">
      {stretches.length > 0 && (
        <ul aria-label="Stretches on another grid" className="max-h-[150px] overflow-y-auto text-small">
          {stretches.map((stretch) => (
            <li key={stretch.startTick} className="flex items-baseline gap-1 border-t border-hairline py-0.5">
              <button
                type="button"
                className="text-left underline decoration-dotted"
                onClick={() => showStretch(bench, barAt(meterMap, stretch.startTick).startTick, stretch.endTick)}
              >
                {stretchWords(stretch, meterMap)}
              </button>
              <span className="min-w-0 flex-1">
                on{" "}
                <SentenceChoice
                  label={`Grid of ${stretchWords(stretch, meterMap)}`}
                  chosenId={formatGrid(stretch.grid)}
                  groups={GRID_GROUPS}
                  onPreview={(id) => onPreview(relaid(stretch, parseGrid(id) ?? stretch.grid))}
                  onChoose={(id) => onChange(relaid(stretch, parseGrid(id) ?? stretch.grid))}
                  onCancel={onCancel}
                />
                {stretch.grid.family === "straight" && (
                  <>
                    , swing{" "}
                    <LimitedNumber
                      limit={TIMING_LIMITS.swingPercent}
                      label={`Swing of ${stretchWords(stretch, meterMap)}`}
                      value={stretch.grid.swingPercent ?? STRAIGHT_PERCENT}
                      onPreview={(percent) => onPreview(relaid(stretch, withSwing(stretch.grid, percent)))}
                      onCommit={(percent) => onChange(relaid(stretch, withSwing(stretch.grid, percent)))}
                      onCancel={onCancel}
                    />
                  </>
                )}
              </span>
              <button
                type="button"
                aria-label={`No other grid in ${stretchWords(stretch, meterMap)}`}
                className="rounded p-0.5 text-muted hover:text-ink"
                onClick={() => onChange(relaid(stretch, null))}
              >
                <X size={13} />
              </button>
            </li>
          ))}
        </ul>
      )}
      <p className="text-small leading-[1.75]">
        Grid in the {hasLoop ? "loop" : "bars in view"}:{" "}
        <SentenceChoice
          label="Grid of this stretch"
          chosenId="none"
          groups={[[{ id: "none", name: "another grid" }], ...GRID_GROUPS]}
          onPreview={(id) => onPreview(another(id))}
          onChoose={(id) => onChange(another(id))}
          onCancel={onCancel}
        />
        {stretches.length > 0 && (
          <>
            , or{" "}
            <Button className="px-2 py-0 text-small" onClick={() => onChange({ stretches: [] })}>
              one grid everywhere
            </Button>
          </>
        )}
        .
      </p>
    </div>
  );
}
