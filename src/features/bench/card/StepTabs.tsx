import clsx from "clsx";
import { Tabs } from "radix-ui";
import type { ComponentType } from "react";
import { isTreated } from "../../../core/commands/index.ts";
import { useBench, useBenchState } from "../../../store/bench-context.ts";
import { STEP_IDS, type StepId } from "../../../store/bench-state.ts";
import type { LaneView } from "../../../store/lane-view.ts";
import type { RecipeShelf } from "../../../store/use-recipes.ts";
import { DynamicsStep } from "../dynamics/DynamicsStep.tsx";
import { FeelStep } from "../feel/FeelStep.tsx";
import { RepairStep } from "../RepairStep.tsx";
import { DynamicsMini, GrooveMini, QuantizeMini, RepairMini } from "./Minis.tsx";
import { QuantizeStep } from "./QuantizeStep.tsx";

interface StepProps {
  readonly lane: LaneView;
  readonly shelf: RecipeShelf;
}

interface Step {
  readonly name: string;
  readonly isOn: (lane: LaneView) => boolean;
  readonly Mini: ComponentType<{ readonly lane: LaneView }>;
  readonly Panel: ComponentType<StepProps>;
}

const STEPS: Readonly<Record<StepId, Step>> = {
  repair: {
    name: "Repair",
    isOn: ({ treatment }) => (treatment.repair?.leftOut.length ?? 0) > 0,
    Mini: RepairMini,
    Panel: RepairStep,
  },
  timing: { name: "Quantize", isOn: ({ treatment }) => treatment.timing.isOn, Mini: QuantizeMini, Panel: QuantizeStep },
  dynamics: {
    name: "Dynamics",
    isOn: ({ treatment }) => treatment.dynamics?.isOn === true,
    Mini: DynamicsMini,
    Panel: DynamicsStep,
  },
  feel: { name: "Groove", isOn: ({ treatment }) => treatment.feel?.isOn === true, Mini: GrooveMini, Panel: FeelStep },
};

/** The four steps of a voice as tabs, each with its picture of before and after, and a dot when it is on. */
export function StepTabs({ lane, shelf }: StepProps) {
  const { store } = useBench();
  const openStep = useBenchState((state) => state.openStep);
  return (
    <Tabs.Root
      value={openStep}
      className="mt-3"
      onValueChange={(id) => store.setState({ openStep: STEP_IDS.find((step) => step === id) ?? openStep })}
    >
      <Tabs.List aria-label="Steps" className="-mx-1 grid grid-cols-4 border-b border-hairline">
        {STEP_IDS.map((id) => {
          const { name, isOn, Mini } = STEPS[id];
          return (
            <Tabs.Trigger
              key={id}
              value={id}
              className={clsx(
                "relative flex flex-col items-center gap-0.5 rounded-t-lg border-t-[3px] pt-1 pb-1.5 text-[13px]",
                openStep === id
                  ? "border-amber bg-paper font-bold"
                  : "border-transparent text-muted hover:bg-spruce-tint",
              )}
            >
              <span>
                {name}
                {isOn(lane) && <span className="sr-only">, on</span>}
              </span>
              {isOn(lane) && (
                <span className="absolute top-1 right-1 size-2 rounded-full bg-spruce" aria-hidden="true" />
              )}
              <Mini lane={lane} />
            </Tabs.Trigger>
          );
        })}
      </Tabs.List>
      {STEP_IDS.map((id) => {
        const { name, Panel } = STEPS[id];
        return (
          <Tabs.Content key={id} value={id} tabIndex={-1} className="outline-none">
            <section aria-label={name} className="pt-2.5">
              <Panel lane={lane} shelf={shelf} />
            </section>
          </Tabs.Content>
        );
      })}
    </Tabs.Root>
  );
}

/** Whether anything is done to the voice at all. */
export const isCardOn = (lane: LaneView) => isTreated(lane.treatment);
