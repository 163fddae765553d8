import { SettingRow } from "../../../components/sentence/SettingRow.tsx";
import { TIMING_LIMITS } from "../../../core/document/index.ts";
import { type GridStretch, gridNameBeside, STRAIGHT_PERCENT, sameSteps, withSwing } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import type { RecipeShelf } from "../../../store/shelf/use-recipes.ts";
import { toggleTiming } from "../commands/actions.ts";
import { DriftChart } from "../steps/DriftChart.tsx";
import { ExceptionStep } from "../steps/ExceptionStep.tsx";
import { PlanStep } from "../steps/PlanStep.tsx";
import { stretchWords } from "../steps/stretch-words.ts";
import { useTimingSetting } from "../steps/use-timing-setting.ts";
import { GridChips } from "./GridChips.tsx";
import { GridWarning } from "./GridWarning.tsx";
import { More } from "./More.tsx";
import { MoreQuantize } from "./MoreQuantize.tsx";
import { QuantizeSentence } from "./QuantizeSentence.tsx";
import { StepHead } from "./StepHead.tsx";

/** Where the hits of one voice are pulled to: the grid it was played on is marked, and the chart follows what is set. */
export function QuantizeStep({ lane }: { lane: LaneView; shelf: RecipeShelf }) {
  const bench = useBench();
  const { timing } = lane.treatment;
  const summary = useBenchState((state) => state.summaries.get(lane.voiceId));
  const openParts = useBenchState((state) => state.openParts);
  const found = summary?.found ?? null;
  const setting = useTimingSetting(lane);
  const swing = timing.grid.swingPercent ?? STRAIGHT_PERCENT;
  const others = (timing.stretches?.length ?? 0) + (timing.exceptions?.length ?? 0);
  return (
    <>
      <StepHead label="Quantize" isOn={timing.isOn} onToggle={() => toggleTiming(bench)}>
        <QuantizeSentence lane={lane} setting={setting} />
      </StepHead>
      <DriftChart voiceId={lane.voiceId} />
      <GridChips
        chosen={timing.grid}
        best={found && !found.isPoor ? found.grid : null}
        fits={summary?.fits ?? []}
        onPreview={(grid) => setting.preview({ grid: withSwing(grid, swing) })}
        onChoose={(grid) => setting.commit("grid", { grid: withSwing(grid, swing) })}
        onCancel={setting.cancel}
      />
      {found && <GridWarning lane={lane} found={found} fits={summary?.fits ?? []} setting={setting} />}
      <div className="mt-1">
        <SettingRow
          limit={TIMING_LIMITS.strengthPercent}
          hint="How far each hit is pulled to its slot: 100 % lands it there"
          value={timing.strengthPercent}
          onPreview={(strengthPercent) => setting.preview({ strengthPercent })}
          onCommit={(strengthPercent) => setting.commit("strength", { strengthPercent })}
          onCancel={setting.cancel}
        />
        <SettingRow
          limit={TIMING_LIMITS.swingPercent}
          hint="How late every second step is: 50 % is straight, 67 % a triplet"
          value={swing}
          usual={
            found && sameSteps(found.grid, timing.grid)
              ? (found.grid.swingPercent ?? STRAIGHT_PERCENT)
              : STRAIGHT_PERCENT
          }
          onPreview={(percent) => setting.preview({ grid: withSwing(timing.grid, percent) })}
          onCommit={(percent) => setting.commit("swing", { grid: withSwing(timing.grid, percent) })}
          onCancel={setting.cancel}
        />
        <SettingRow
          limit={TIMING_LIMITS.leaveWithinMs}
          hint="Hits this close to their slot stay where they are"
          value={timing.leaveWithinMs}
          onPreview={(leaveWithinMs) => setting.preview({ leaveWithinMs })}
          onCommit={(leaveWithinMs) => setting.commit("keep-within", { leaveWithinMs })}
          onCancel={setting.cancel}
        />
      </div>
      <More
        name={others > 0 ? "Also" : "Other bars"}
        what={alsoWords(lane)}
        isOpen={openParts.has("stretches")}
        onOpenChange={(isOpen) => bench.store.openPart("stretches", isOpen)}
      >
        <PlanStep
          lane={lane}
          onPreview={setting.preview}
          onChange={(change) => setting.commit("other grids", change)}
          onCancel={setting.cancel}
        />
        <ExceptionStep
          lane={lane}
          onPreview={setting.preview}
          onChange={(change) => setting.commit("exceptions", change)}
          onCancel={setting.cancel}
        />
      </More>
      <More
        what="reach, push, humanize, latency"
        isOpen={openParts.has("quantize")}
        onOpenChange={(isOpen) => bench.store.openPart("quantize", isOpen)}
      >
        <MoreQuantize lane={lane} found={found} setting={setting} />
      </More>
    </>
  );
}

/** `eighth triplets in 5 places, 2 exceptions`; `swung 60 % in bars 9 – 16`. */
function alsoWords({ treatment: { timing }, maps: { meterMap } }: LaneView): string {
  const { stretches = [], exceptions = [] } = timing;
  const placesOf = new Map<string, GridStretch[]>();
  for (const stretch of stretches) {
    const name = gridNameBeside(stretch.grid, timing.ghostGrid ?? timing.grid);
    placesOf.set(name, [...(placesOf.get(name) ?? []), stretch]);
  }
  const parts = [...placesOf].map(
    ([name, [first, ...more]]) =>
      `${name} ${more.length === 0 ? `in ${stretchWords(first!, meterMap)}` : `in ${more.length + 1} places`}`,
  );
  if (exceptions.length > 0) parts.push(`${exceptions.length} ${exceptions.length === 1 ? "exception" : "exceptions"}`);
  return parts.length === 0 ? "other grid or strength" : parts.join(", ");
}
