import { memo } from "react";
import { Button } from "../../components/Button.tsx";
import { SentenceChoice } from "../../components/SentenceChoice.tsx";
import { SentenceNumber } from "../../components/SentenceNumber.tsx";
import { CURVES } from "../../core/commands/index.ts";
import { ordinal } from "../../core/ordinal.ts";
import { formatGrid, type Grid, gridName, parseGrid } from "../../core/time/index.ts";
import { useBench, useBenchState } from "../../store/bench-context.ts";
import type { BurstPlace, BurstSetting, FillPlace, FillSetting } from "../../store/write-settings.ts";
import { doAndSay } from "./do-and-say.ts";
import { GRID_GROUPS } from "./grid-groups.ts";
import { burst, fill } from "./write-actions.ts";

/** Fills and bursts for the open lane, as sentences. */
export const WriteStep = memo(function WriteStep({ voiceId, laneGrid }: { voiceId: string; laneGrid: Grid }) {
  const bench = useBench();
  const hasLoop = useBenchState((state) => state.loop !== null);
  const { where, grid, every, from, velocity } = useBenchState((state) => state.fill);
  const burstSetting = useBenchState((state) => state.burst);
  const { count, grid: burstGrid, fromVelocity, toVelocity, curve } = burstSetting;
  const setFill = (change: Partial<FillSetting>) =>
    bench.store.setState({ fill: { ...bench.store.getState().fill, ...change } });
  const setBurst = (change: Partial<BurstSetting>) =>
    bench.store.setState({ burst: { ...bench.store.getState().burst, ...change } });
  const number = (
    label: string,
    value: number,
    set: (value: number) => void,
    max: number,
    usual: number,
    say: (value: number) => string = String,
  ) => (
    <SentenceNumber
      label={label}
      unit=""
      say={say}
      min={1}
      max={max}
      step={1}
      value={value}
      usual={usual}
      onPreview={set}
      onCommit={set}
      onCancel={() => {}}
    />
  );
  const choice = <Id extends string>(
    label: string,
    chosenId: Id,
    choices: readonly { readonly id: Id; readonly name: string }[],
    set: (id: Id) => void,
  ) => (
    <SentenceChoice
      label={label}
      chosenId={chosenId}
      groups={[choices]}
      onPreview={() => {}}
      onChoose={(id) => set(choices.find((one) => one.id === id)?.id ?? chosenId)}
      onCancel={() => {}}
    />
  );
  const gridChoice = (label: string, value: Grid, set: (grid: Grid) => void) => (
    <SentenceChoice
      label={label}
      chosenId={formatGrid(value)}
      groups={GRID_GROUPS}
      onPreview={() => {}}
      onChoose={(id) => set(parseGrid(id) ?? value)}
      onCancel={() => {}}
    />
  );
  const drawGrid = useBenchState((state) => state.drawGrids.get(voiceId) ?? null);
  const chooseDrawGrid = (chosen: string) => {
    const drawGrids = new Map(bench.store.getState().drawGrids);
    const chosenGrid = chosen === "off" ? "off" : parseGrid(chosen);
    if (chosenGrid) drawGrids.set(voiceId, chosenGrid);
    else drawGrids.delete(voiceId);
    bench.store.setState({ drawGrids });
  };
  return (
    <section aria-label="Write" className="mt-4 border-t border-hairline pt-3">
      <h3 className="font-bold">Write</h3>
      <p className="mt-1 leading-[1.75]">
        Draw grid{" "}
        <SentenceChoice
          label="Draw grid"
          chosenId={drawGrid === null ? "timing" : drawGrid === "off" ? "off" : formatGrid(drawGrid)}
          groups={[
            [
              { id: "timing", name: `${gridName(laneGrid)}, as quantize` },
              { id: "off", name: "any place, off the grid" },
            ],
            ...GRID_GROUPS,
          ]}
          onPreview={() => {}}
          onChoose={chooseDrawGrid}
          onCancel={() => {}}
        />
        .
      </p>
      <p className="mt-1 leading-[1.75]">
        Every {number("Every nth", every, (value) => setFill({ every: value }), 16, 2, ordinal)} of the{" "}
        {gridChoice("Fill grid", grid ?? laneGrid, (value) => setFill({ grid: value }))} from the{" "}
        {number("From the nth", from, (value) => setFill({ from: value }), 16, 1, ordinal)}, at velocity{" "}
        {number("Fill velocity", velocity, (value) => setFill({ velocity: value }), 127, 80)},{" "}
        {choice("Where to fill", where, fillPlaces(hasLoop), (chosen) => setFill({ where: chosen }))}.
      </p>
      <Button className="mt-1 px-2.5 text-[13px]" onClick={() => doAndSay(bench, () => fill(bench))}>
        Fill
      </Button>
      <p className="mt-3 leading-[1.75]">
        {burstSetting.where === "into" ? (
          <>{number("Hits of the roll", count, (value) => setBurst({ count: value }), 64, 8)} </>
        ) : (
          "All "
        )}
        {gridChoice("Roll grid", burstGrid, (value) => setBurst({ grid: value }))}{" "}
        {choice("Where the roll goes", burstSetting.where, burstPlaces(hasLoop), (chosen) =>
          setBurst({ where: chosen }),
        )}
        , from velocity{" "}
        {number("Roll from velocity", fromVelocity, (value) => setBurst({ fromVelocity: value }), 127, 40)} to{" "}
        {number("Roll to velocity", toVelocity, (value) => setBurst({ toVelocity: value }), 127, 110)},{" "}
        {choice(
          "Curve",
          curve,
          CURVES.map((one) => ({ id: one, name: one })),
          (chosen) => setBurst({ curve: chosen }),
        )}
        .
      </p>
      <Button className="mt-1 px-2.5 text-[13px]" onClick={() => doAndSay(bench, () => burst(bench))}>
        Roll
      </Button>
    </section>
  );
});

function fillPlaces(hasLoop: boolean): readonly { readonly id: FillPlace; readonly name: string }[] {
  return [
    { id: "meant", name: hasLoop ? "in the loop" : "in the bars in view" },
    { id: "picked", name: "from the first to the last selected hit" },
  ];
}

function burstPlaces(hasLoop: boolean): readonly { readonly id: BurstPlace; readonly name: string }[] {
  return [
    { id: "into", name: hasLoop ? "into the end of the loop" : "into the next bar line" },
    { id: "loop", name: "from end to end of the loop" },
    { id: "picked", name: "between the selected hits" },
  ];
}
