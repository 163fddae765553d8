import clsx from "clsx";
import { Hint } from "../../components/Hint.tsx";
import { SentenceChoice } from "../../components/SentenceChoice.tsx";
import { SentenceNumber } from "../../components/SentenceNumber.tsx";
import { Toggle } from "../../components/Toggle.tsx";
import { NOISE_SHAPES } from "../../core/document/index.ts";
import { DEFAULT_TREATMENT, type TimingTreatment } from "../../core/document/treatment.ts";
import { recipeOf, recipeSentence } from "../../core/recipe.ts";
import {
  formatGrid,
  GRID_CHOICES,
  GRID_FAMILIES,
  gridName,
  parseGrid,
  STRAIGHT_PERCENT,
} from "../../core/time/index.ts";
import { foundGridName } from "../../core/timing/index.ts";
import { useBench, useBenchState } from "../../store/bench-context.ts";
import type { LaneView } from "../../store/lane-view.ts";
import type { RecipeShelf } from "../../store/use-recipes.ts";
import { toggleTiming, toggleVoice } from "./actions.ts";
import { useKeyNames } from "./command-keys.ts";
import { DriftChart } from "./DriftChart.tsx";
import { driftWords } from "./drag-edits.ts";
import { ExceptionStep } from "./ExceptionStep.tsx";
import { ordinal } from "./ordinal.ts";
import { PlanStep } from "./PlanStep.tsx";
import { RecipeChoice } from "./RecipeStep.tsx";
import { Ghosts, RoleTimings, Swing, withSwing } from "./RoleTimings.tsx";
import { TreatmentStep } from "./TreatmentStep.tsx";
import { useTimingSetting } from "./use-timing-setting.ts";

type NumberField = {
  [Field in keyof TimingTreatment]-?: TimingTreatment[Field] extends number ? Field : never;
}[keyof TimingTreatment];

const shapeOf = (id: string) => NOISE_SHAPES.find((shape) => shape === id) ?? "bell";

/** The timing of one voice as a sentence that can be edited, with what it does to the drifts. */
export function TimingStep({ lane, shelf }: { lane: LaneView; shelf: RecipeShelf }) {
  const bench = useBench();
  const { timing } = lane.treatment;
  const summary = useBenchState((state) => state.summaries.get(lane.voiceId));
  const found = summary?.found ?? null;
  const setting = useTimingSetting(lane);
  const usual = DEFAULT_TREATMENT.timing;
  const swing = timing.grid.swingPercent ?? STRAIGHT_PERCENT;
  const number = (field: NumberField, name: string) => ({
    value: timing[field],
    usual: field === "pocketMs" ? Math.round((found?.meanDriftMs ?? 0) * 10) / 10 : usual[field],
    onPreview: (value: number) => setting.preview({ [field]: value }),
    onCommit: (value: number) => setting.commit(name, { [field]: value }),
    onCancel: setting.cancel,
  });
  return (
    <TreatmentStep
      id="timing"
      name="Timing"
      sentence={
        timing.isOn ? `To ${gridName(timing.grid)}. ${recipeSentence(recipeOf(timing))}` : "Off: as it was played."
      }
      controls={
        <>
          <HearRecorded lane={lane} />
          <Toggle label="Timing" isOn={timing.isOn} onChange={() => toggleTiming(bench)} />
        </>
      }
    >
      {(found || !summary) && (
        // Room for it is kept, so that what is below does not move away under a hand when it comes.
        <p className="mt-1.5 min-h-[2lh] text-[13px] text-muted">
          {!found ? (
            "Looking at how it was played …"
          ) : found.isPoor ? (
            <>
              No grid fits how this was played: on {gridName(found.grid)}, the best of them, lie{" "}
              {Math.round(found.shareExplained * 100)} % of its hits, ± {Math.round(found.spreadMs)} ms. Choose one by
              ear.
            </>
          ) : (
            <>
              Played on <strong className="text-ink">{foundGridName(found)}</strong>,{" "}
              {Math.round(found.shareExplained * 100)} % fit, {driftWords(Math.round(found.meanDriftMs))} on average, ±{" "}
              {Math.round(found.spreadMs)} ms.
            </>
          )}
        </p>
      )}
      <RecipeChoice voiceId={lane.voiceId} timing={timing} shelf={shelf} />
      <p className="mt-1 leading-[1.75]">
        Pull{" "}
        <SentenceNumber
          label="Strength"
          min={0}
          max={100}
          step={1}
          unit="%"
          {...number("strengthPercent", "strength")}
        />{" "}
        to{" "}
        <SentenceChoice
          label="Grid"
          chosenId={formatGrid(timing.grid)}
          groups={GRID_FAMILIES.map((family) =>
            GRID_CHOICES.filter((grid) => grid.family === family).map((grid) => ({
              id: formatGrid(grid),
              name: gridName(grid),
              ...(found && formatGrid(found.grid) === formatGrid(grid) ? { note: "as played" } : {}),
            })),
          )}
          onPreview={(id) => setting.preview({ grid: withSwing(parseGrid(id) ?? timing.grid, swing) })}
          onChoose={(id) => setting.commit("grid", { grid: withSwing(parseGrid(id) ?? timing.grid, swing) })}
          onCancel={setting.cancel}
        />
        ,{" "}
        <Swing
          label="Swing"
          percent={swing}
          onPreview={(percent) => setting.preview({ grid: withSwing(timing.grid, percent) })}
          onCommit={(percent) => setting.commit("swing", { grid: withSwing(timing.grid, percent) })}
          onCancel={setting.cancel}
        />
        <Ghosts lane={lane} setting={setting} />. Leave hits alone within{" "}
        <SentenceNumber
          label="Leave within"
          min={0}
          max={40}
          step={1}
          unit="ms"
          {...number("leaveWithinMs", "leave-within")}
        />{" "}
        of a slot and beyond{" "}
        <SentenceNumber
          label="Reach"
          min={0}
          max={50}
          step={1}
          unit="% of a step"
          {...number("reachPercent", "reach")}
        />
        .<RoleTimings lane={lane} setting={setting} /> Look for slots{" "}
        <span className="whitespace-nowrap">
          <SentenceNumber
            label="Pocket"
            min={-60}
            max={60}
            step={0.5}
            unit="ms, late is positive"
            say={(ms) => (ms === 0 ? "on the line" : driftWords(ms))}
            {...number("pocketMs", "pocket")}
          />
          ,
        </span>{" "}
        where this voice sits.{" "}
        <button
          type="button"
          aria-pressed={timing.keepsGraceNotes}
          className="border-b-[1.5px] border-dotted border-spruce font-bold hover:bg-spruce-tint"
          onClick={() => setting.commit("flams", { keepsGraceNotes: !timing.keepsGraceNotes })}
        >
          {timing.keepsGraceNotes ? "Keep flams and drags." : "Pull flams and drags apart."}
        </button>
      </p>
      <p className="mt-1 leading-[1.75]">
        Before that, take off{" "}
        <SentenceNumber label="Latency" min={-60} max={60} step={0.5} unit="ms" {...number("latencyMs", "latency")} />{" "}
        of latency. After it, put{" "}
        <SentenceNumber
          label="Push every"
          min={1}
          max={16}
          step={1}
          unit=""
          say={(every) => (every === 1 ? "every hit" : `every ${ordinal(every)} hit`)}
          {...number("pushEvery", "push")}
        />
        {timing.pushEvery > 1 && (
          <>
            {" "}
            from the{" "}
            <SentenceNumber
              label="Push from"
              min={1}
              max={timing.pushEvery}
              step={1}
              unit=""
              say={ordinal}
              {...number("pushFrom", "push")}
            />
          </>
        )}{" "}
        <Push timing={timing} setting={setting} {...number("pushMs", "push")} />. Leave{" "}
        <SentenceNumber label="Humanize" min={0} max={30} step={0.5} unit="ms" {...number("humanizeMs", "humanize")} />{" "}
        to chance
        {timing.humanizeMs > 0 && (
          <>
            ,{" "}
            <SentenceChoice
              label="Shape of chance"
              chosenId={timing.humanizeShape}
              groups={[
                [
                  { id: "bell", name: "mostly little" },
                  { id: "even", name: "anywhere within" },
                ],
              ]}
              onPreview={(id) => setting.preview({ humanizeShape: shapeOf(id) })}
              onChoose={(id) => setting.commit("humanize", { humanizeShape: shapeOf(id) })}
              onCancel={setting.cancel}
            />
            ,{" "}
            <SentenceNumber
              label="Wander"
              min={0}
              max={100}
              step={1}
              unit="% of it shared by hits near one another"
              say={(value) => (value === 0 ? "hit by hit" : `${value} % as a slow wander`)}
              value={timing.humanizeWanderPercent ?? 0}
              usual={0}
              onPreview={(value) => setting.preview({ humanizeWanderPercent: Math.round(value) })}
              onCommit={(value) => setting.commit("humanize", { humanizeWanderPercent: Math.round(value) })}
              onCancel={setting.cancel}
            />{" "}
            <button
              type="button"
              className="text-[13px] font-bold text-spruce underline"
              onClick={() => setting.commit("roll", { humanizeSeed: timing.humanizeSeed + 1 })}
            >
              Roll again
            </button>
          </>
        )}
        .
      </p>
      <PlanStep
        lane={lane}
        onPreview={setting.preview}
        onChange={(change) => setting.commit("plan", change)}
        onCancel={setting.cancel}
      />
      <ExceptionStep
        lane={lane}
        onPreview={setting.preview}
        onChange={(change) => setting.commit("exceptions", change)}
        onCancel={setting.cancel}
      />
      <DriftChart voiceId={lane.voiceId} />
    </TreatmentStep>
  );
}

interface PushProps {
  readonly timing: TimingTreatment;
  readonly setting: ReturnType<typeof useTimingSetting>;
  readonly value: number;
  readonly usual: number;
  readonly onPreview: (value: number) => void;
  readonly onCommit: (value: number) => void;
  readonly onCancel: () => void;
}

/** How far, in ms or in ticks. A tick is as far on paper at any tempo. */
function Push({ timing, setting, ...inMs }: PushProps) {
  const { pushTicks } = timing;
  const beat = (far: number) => (far > 0 ? "behind the beat" : "ahead of the beat");
  const inUnit =
    pushTicks === undefined
      ? inMs
      : {
          value: pushTicks,
          usual: 0,
          onPreview: (value: number) => setting.preview({ pushTicks: Math.round(value) }),
          onCommit: (value: number) => setting.commit("push", { pushTicks: Math.round(value) }),
          onCancel: setting.cancel,
        };
  const isMs = pushTicks === undefined;
  return (
    <>
      <SentenceNumber
        label="Push"
        min={isMs ? -40 : -120}
        max={isMs ? 40 : 120}
        step={isMs ? 0.5 : 1}
        unit={`${isMs ? "ms" : "ticks"}, behind the beat is positive`}
        say={(far) => (far === 0 ? "on the beat" : `${Math.abs(far)} ${isMs ? "ms" : "ticks"} ${beat(far)}`)}
        {...inUnit}
      />
      {inUnit.value !== 0 && (
        <>
          {" "}
          (in{" "}
          <SentenceChoice
            label="Unit of the push"
            chosenId={isMs ? "ms" : "ticks"}
            groups={[
              [
                { id: "ms", name: "ms" },
                { id: "ticks", name: "ticks" },
              ],
            ]}
            onPreview={() => {}}
            onChoose={(unit) => setting.swapPushUnit(unit === "ticks")}
            onCancel={() => {}}
          />
          )
        </>
      )}
    </>
  );
}

/** For the ear and the eye: this voice as recorded, among the others as they are. */
function HearRecorded({ lane }: { lane: LaneView }) {
  const bench = useBench();
  const isRecorded = useBenchState((state) => state.asRecorded.has(lane.voiceId));
  const keyName = useKeyNames();
  return (
    <Hint text={`${lane.voice.name} as recorded, the others as they are`} keys={keyName("flipVoice")}>
      <button
        type="button"
        aria-pressed={isRecorded}
        className={clsx(
          "rounded border px-1.5 text-[12px]",
          isRecorded ? "border-amber bg-amber-tint font-bold" : "border-hairline-strong text-muted hover:text-ink",
        )}
        onClick={() => toggleVoice(bench, "asRecorded", lane.voiceId)}
      >
        as recorded
      </button>
    </Hint>
  );
}
