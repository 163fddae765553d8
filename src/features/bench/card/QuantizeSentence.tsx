import type { ReactNode } from "react";
import { LimitedNumber } from "../../../components/sentence/LimitedNumber.tsx";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import {
  DEFAULT_TREATMENT,
  TIMING_LIMITS,
  type TimingTreatment,
  takenLatencyMs,
} from "../../../core/document/index.ts";
import { type Limit, sayLimited } from "../../../core/limit.ts";
import { formatGrid, gridName, parseGrid, STRAIGHT_PERCENT, withSwing } from "../../../core/time/index.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { GRID_GROUPS } from "../steps/grid-groups.ts";
import type { useTimingSetting } from "../steps/use-timing-setting.ts";

interface SentenceProps {
  readonly lane: LaneView;
  readonly setting: ReturnType<typeof useTimingSetting>;
}

type NumberField = {
  [Field in keyof TimingTreatment]-?: TimingTreatment[Field] extends number ? Field : never;
}[keyof TimingTreatment];

/** `Quantize 80 % to quarters, ghosts to sixteenths.` What is as usual is not said. */
export function QuantizeSentence({ lane, setting }: SentenceProps) {
  const { timing } = lane.treatment;
  const usual = DEFAULT_TREATMENT.timing;
  const number = (field: NumberField & keyof typeof TIMING_LIMITS) => {
    const limit: Limit = TIMING_LIMITS[field];
    return (
      <LimitedNumber
        limit={limit}
        isInSentence
        value={timing[field]}
        onPreview={(value) => setting.preview({ [field]: value })}
        onCommit={(value) => setting.commit(limit.label.toLowerCase(), { [field]: value })}
        onCancel={setting.cancel}
      />
    );
  };
  if (!timing.isOn)
    return (
      <span className="text-muted">
        Off: as played{takenLatencyMs(timing) !== 0 && <>; latency {number("latencyMs")}</>}.
      </span>
    );
  const swing = timing.grid.swingPercent;
  const more: ReactNode[] = [];
  if (timing.leaveWithinMs !== usual.leaveWithinMs) more.push(<>keep hits within {number("leaveWithinMs")}</>);
  if (timing.reachPercent !== usual.reachPercent) more.push(<>none farther than {number("reachPercent")}</>);
  if (timing.latencyMs !== 0) more.push(<>latency {number("latencyMs")}</>);
  if (timing.pushMs !== 0) more.push(<>push {number("pushMs")}</>);
  if (timing.pushTicks !== undefined && timing.pushTicks !== 0)
    more.push(<>push {sayLimited(TIMING_LIMITS.pushTicks, timing.pushTicks)}</>);
  if (timing.humanizeMs !== 0) more.push(<>humanize {number("humanizeMs")}</>);
  if (!timing.keepsGraceNotes) more.push(<>flams too</>);
  return (
    <>
      Quantize {number("strengthPercent")} to{" "}
      <SentenceChoice
        label="Quantize grid"
        chosenId={formatGrid(withSwing(timing.grid, STRAIGHT_PERCENT))}
        groups={GRID_GROUPS}
        onPreview={(id) =>
          setting.preview({ grid: withSwing(parseGrid(id) ?? timing.grid, swing ?? STRAIGHT_PERCENT) })
        }
        onChoose={(id) =>
          setting.commit("grid", { grid: withSwing(parseGrid(id) ?? timing.grid, swing ?? STRAIGHT_PERCENT) })
        }
        onCancel={setting.cancel}
      />
      {swing !== undefined && <>, swing {sayLimited(TIMING_LIMITS.swingPercent, swing)}</>}
      {timing.ghostGrid && <>, ghosts to {gridName(timing.ghostGrid)}</>}
      {Object.entries(timing.byRole ?? {}).map(([role, own]) =>
        own.strengthPercent === undefined ? null : (
          <span key={role}>
            , {role}s {own.strengthPercent} %
          </span>
        ),
      )}
      {more.map((part, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a part is its place in the sentence
        <span key={index}>; {part}</span>
      ))}
      .
    </>
  );
}
