import { Minus, Plus } from "lucide-react";
import { Slider } from "radix-ui";
import { useState } from "react";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import type { DynamicsTreatment, LoudnessCycle } from "../../../core/document/treatment.ts";
import { formatGrid, type Grid, parseGrid } from "../../../core/time/index.ts";
import { GRID_GROUPS } from "../steps/grid-groups.ts";
import type { DynamicsSetting } from "./use-dynamics-setting.ts";

const EIGHTHS: Grid = { family: "straight", denominator: 8 };
const MOST_STEPS = 16;
const LOUDEST_PERCENT = 150;

/** Ways to begin with; each bar of them can be drawn otherwise. */
const FIRST: readonly { readonly id: string; readonly name: string; readonly percents: readonly number[] }[] = [
  { id: "two", name: "strong, weak", percents: [100, 65] },
  { id: "four", name: "strong, weak, medium, weak", percents: [100, 60, 80, 60] },
  { id: "three", name: "every third one strong", percents: [100, 70, 70] },
  { id: "offBeats", name: "off-beats lifted", percents: [75, 100] },
];

interface CycleProps {
  readonly dynamics: DynamicsTreatment;
  readonly setting: DynamicsSetting;
}

/** Loudness that goes round on a subdivision, drawn as a bar for each step; it begins anew at each bar line. */
export function CycleBars({ dynamics, setting }: CycleProps) {
  const { cycle } = dynamics;
  const [drawn, setDrawn] = useState<readonly number[] | null>(null);
  const set = (next: LoudnessCycle | undefined) => setting.commit("cycle", { cycle: next });
  if (!cycle) {
    const made = (id: string): LoudnessCycle | undefined => {
      const first = FIRST.find((one) => one.id === id);
      return first && { grid: EIGHTHS, percents: first.percents };
    };
    return (
      <span className="block leading-[1.75]">
        In the bar, step by step{" "}
        <SentenceChoice
          label="Loudness in the bar"
          chosenId="none"
          groups={[[{ id: "none", name: "as played" }], FIRST.map(({ id, name }) => ({ id, name }))]}
          onPreview={(id) => (id === "none" ? setting.cancel() : setting.preview({ cycle: made(id) }))}
          onChoose={(id) => id !== "none" && set(made(id))}
          onCancel={setting.cancel}
        />
        .
      </span>
    );
  }
  const { grid } = cycle;
  const percents = drawn ?? cycle.percents;
  const withStep = (step: number, percent: number) => percents.with(step, percent);
  const buttonClass = "rounded border border-hairline-strong p-0.5 text-muted hover:text-ink disabled:opacity-40";
  return (
    <div>
      <span className="block leading-[1.75]">
        From each bar line in{" "}
        <SentenceChoice
          label="Steps of the cycle"
          chosenId={formatGrid(grid)}
          groups={GRID_GROUPS}
          onPreview={(id) => setting.preview({ cycle: { ...cycle, grid: parseGrid(id) ?? grid } })}
          onChoose={(id) => set({ ...cycle, grid: parseGrid(id) ?? grid })}
          onCancel={setting.cancel}
        />
        , over and over:{" "}
        <button type="button" className="text-small font-bold text-spruce underline" onClick={() => set(undefined)}>
          as played
        </button>
      </span>
      <fieldset aria-label="Loudness of each step" className="mt-1 flex items-end gap-1">
        {percents.map((percent, step) => (
          <span
            // biome-ignore lint/suspicious/noArrayIndexKey: a step is its place
            key={step}
            className="flex flex-col items-center text-fine"
          >
            <Slider.Root
              orientation="vertical"
              className="relative flex h-12 w-4 justify-center"
              min={0}
              max={LOUDEST_PERCENT}
              step={1}
              value={[percent]}
              onValueChange={([next]) => {
                setDrawn(withStep(step, next!));
                setting.preview({ cycle: { ...cycle, percents: withStep(step, next!) } });
              }}
              onValueCommit={([next]) => {
                setDrawn(null);
                set({ ...cycle, percents: withStep(step, next!) });
              }}
            >
              <Slider.Track className="relative w-3 grow rounded-sm bg-hairline">
                <Slider.Range className="absolute w-full rounded-sm bg-spruce" />
              </Slider.Track>
              <Slider.Thumb
                aria-label={`Step ${step + 1}, percent`}
                className="block h-1.5 w-4 rounded-sm border border-sheet bg-ink"
              />
            </Slider.Root>
            {percents.length <= 8 && percent}
          </span>
        ))}
        <span className="ml-1 flex flex-col gap-1">
          <button
            type="button"
            aria-label="A step more"
            className={buttonClass}
            disabled={percents.length >= MOST_STEPS}
            onClick={() => set({ ...cycle, percents: [...cycle.percents, cycle.percents.at(-1) ?? 100] })}
          >
            <Plus size={12} />
          </button>
          <button
            type="button"
            aria-label="A step less"
            className={buttonClass}
            disabled={percents.length <= 1}
            onClick={() => set({ ...cycle, percents: cycle.percents.slice(0, -1) })}
          >
            <Minus size={12} />
          </button>
        </span>
      </fieldset>
    </div>
  );
}
