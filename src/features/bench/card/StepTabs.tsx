import clsx from "clsx";
import { Tabs } from "radix-ui";
import type { ComponentType } from "react";
import { isTreated, STEP_IDS, STEPS, type StepId } from "../../../core/document/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import type { RecipeShelf } from "../../../store/shelf/use-recipes.ts";
import { DynamicsStep } from "../dynamics/DynamicsStep.tsx";
import { FeelStep } from "../feel/FeelStep.tsx";
import { RepairStep } from "../steps/RepairStep.tsx";
import { DynamicsMini, GrooveMini, QuantizeMini, RepairMini } from "./Minis.tsx";
import { QuantizeStep } from "./QuantizeStep.tsx";

interface StepProps {
  readonly lane: LaneView;
  readonly shelf: RecipeShelf;
}

/** How a step looks: small on its tab, and open. */
interface StepLook {
  readonly Mini: ComponentType<{ readonly lane: LaneView }>;
  readonly Panel: ComponentType<StepProps>;
}

const LOOKS: Readonly<Record<StepId, StepLook>> = {
  repair: { Mini: RepairMini, Panel: RepairStep },
  timing: { Mini: QuantizeMini, Panel: QuantizeStep },
  dynamics: { Mini: DynamicsMini, Panel: DynamicsStep },
  feel: { Mini: GrooveMini, Panel: FeelStep },
};

/** The four steps of a voice as tabs, each with its picture of before and after, and a dot when it is on. */
export function StepTabs({ lane, shelf, besideStep }: StepProps & { besideStep: StepId | null }) {
  const { store } = useBench();
  const openStep = useBenchState((state) => state.openStep);
  return (
    <Tabs.Root
      value={openStep}
      className="mt-3"
      onValueChange={(id) => store.openStep(STEP_IDS.find((step) => step === id) ?? openStep)}
    >
      <Tabs.List aria-label="Steps" className="-mx-1 grid grid-cols-4 border-b border-hairline">
        {STEP_IDS.map((id) => {
          const { name } = STEPS[id];
          const { Mini } = LOOKS[id];
          const isOn = STEPS[id].isOn(lane.treatment);
          return (
            <Tabs.Trigger
              key={id}
              value={id}
              className={clsx(
                "relative flex flex-col items-center gap-0.5 rounded-t-lg border-t-[3px] pt-1 pb-1.5 text-small",
                openStep === id
                  ? "border-amber bg-paper font-bold"
                  : besideStep === id
                    ? "border-hairline-strong bg-paper"
                    : "border-transparent text-muted hover:bg-spruce-tint",
              )}
            >
              <span>
                {name}
                {isOn && <span className="sr-only">, on</span>}
              </span>
              {isOn && <span className="absolute top-1 right-1 size-2 rounded-full bg-spruce" aria-hidden="true" />}
              <Mini lane={lane} />
            </Tabs.Trigger>
          );
        })}
      </Tabs.List>
      <div
        className={clsx(
          besideStep &&
            "relative grid grid-cols-2 gap-x-9 before:absolute before:inset-y-0 before:left-1/2 before:w-px before:bg-hairline",
        )}
      >
        {STEP_IDS.map((id) => {
          return (
            <Tabs.Content key={id} value={id} tabIndex={-1} className="min-w-0 outline-none">
              <StepPanel id={id} lane={lane} shelf={shelf} />
            </Tabs.Content>
          );
        })}
        {besideStep && (
          // On a wide screen the step that was open before stays in sight. Both stand in the order of their tabs.
          <div
            key={besideStep}
            className={clsx("min-w-0", STEP_IDS.indexOf(besideStep) < STEP_IDS.indexOf(openStep) && "order-first")}
          >
            <StepPanel id={besideStep} lane={lane} shelf={shelf} />
          </div>
        )}
      </div>
    </Tabs.Root>
  );
}

function StepPanel({ id, lane, shelf }: StepProps & { id: StepId }) {
  const { Panel } = LOOKS[id];
  return (
    <section aria-label={STEPS[id].name} className="pt-2.5">
      <Panel lane={lane} shelf={shelf} />
    </section>
  );
}

/** Whether anything is done to the voice at all. */
export const isCardOn = (lane: LaneView) => isTreated(lane.treatment);
