import clsx from "clsx";
import { useState } from "react";
import { useShallow } from "zustand/shallow";
import { Button } from "../../../components/Button.tsx";
import { useMedia } from "../../../components/page/use-media.ts";
import type { StepId } from "../../../core/document/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { useSettled } from "../../../store/bench/use-settled.ts";
import { useRecipes } from "../../../store/shelf/use-recipes.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import {
  correctLatency,
  followReading,
  isOffTheCount,
  latencyOf,
  lateWords,
  leaveOpening,
  openingOf,
  otherReading,
} from "../commands/treatment-actions.ts";
import { ScopeChoice } from "../ScopeChoice.tsx";
import { LookList } from "../steps/LookList.tsx";
import { CardFoot } from "./CardFoot.tsx";
import { CardHead } from "./CardHead.tsx";
import { PartCard } from "./PartCard.tsx";
import { StepTabs } from "./StepTabs.tsx";

/** The treatment of the open lane; without one, the whole part in words. */
export function LaneCard() {
  const openVoiceId = useBenchState((state) => state.openVoiceId);
  const openName = useBenchState((state) => state.lanes.find((lane) => lane.voiceId === openVoiceId)?.voice.name);
  const [isShown, setIsShown] = useState(false);
  const besideStep = useStepBeside();
  return (
    <>
      {/* Where there is no room for both, as at twice the size, the card lies over the lanes when it is asked for. */}
      <Button
        aria-expanded={isShown}
        className="absolute right-2 bottom-2 z-30 col-span-full row-start-1 row-end-2 bg-sheet lg:hidden"
        onClick={() => setIsShown(!isShown)}
      >
        {isShown ? "Back to the lanes" : (openName ?? "Whole part")}
      </Button>
      <aside
        aria-label="Lane card"
        className={clsx(
          openVoiceId !== null && besideStep ? "w-[628px]" : "w-[312px]",
          "isolate col-start-2 row-start-1 row-end-2 shrink-0 overflow-y-auto border-l contain-strict border-hairline bg-sheet px-[18px] py-3.5",
          "max-lg:absolute max-lg:col-span-full max-lg:inset-y-0 max-lg:right-0 max-lg:z-20 max-lg:max-w-full max-lg:pb-14 max-lg:shadow-xl",
          !isShown && "max-lg:hidden",
        )}
      >
        <TakeHints />
        <ScopeChoice />
        {openVoiceId !== null && openName !== undefined ? (
          <VoiceCard key={openVoiceId} voiceId={openVoiceId} besideStep={besideStep} />
        ) : (
          <PartCard />
        )}
      </aside>
    </>
  );
}

/** The step that is shown beside the open one, where there is room for two: the one that was open before it. */
function useStepBeside(): StepId | null {
  const openStep = useBenchState((state) => state.openStep);
  const isWide = useMedia("(min-width: 1700px)");
  const [steps, setSteps] = useState<{ readonly open: StepId; readonly before: StepId }>({
    open: openStep,
    before: openStep === "timing" ? "dynamics" : "timing",
  });
  if (steps.open !== openStep) setSteps({ open: openStep, before: steps.open });
  return isWide ? steps.before : null;
}

function VoiceCard({ voiceId, besideStep }: { voiceId: string; besideStep: StepId | null }) {
  // While something is dragged the lane is another one on every frame. What is dragged says itself where it is; the rest of the
  // card waits until it is let go.
  const lane = useSettled(
    ({ lanes }) => lanes.find((candidate) => candidate.voiceId === voiceId),
    ({ lanes, isPreviewing }) => (isPreviewing ? null : [lanes]),
    // A setting that is changed soon after another is changed from what it is by then.
    { urgent: ({ lanes }) => lanes.find((candidate) => candidate.voiceId === voiceId)?.treatment },
  );
  const shelf = useRecipes();
  const isReviewing = useBenchState((state) => state.isReviewing);
  if (!lane) return null;
  return (
    <>
      <CardHead lane={lane} />
      {isReviewing && <LookList lane={lane} />}
      <StepTabs lane={lane} shelf={shelf} besideStep={besideStep} />
      <CardFoot lane={lane} shelf={shelf} />
    </>
  );
}

/** What was noticed about the take as a whole, before anything is done to a voice. */
function TakeHints() {
  const bench = useBench();
  const latency = useBenchState(useShallow((state) => (state.scopeId === null ? latencyOf(state) : null)));
  const opening = useBenchState((state) => (state.scopeId === null ? openingOf(state) : null));
  const isOffCount = useBenchState(isOffTheCount);
  const lateness = useBenchState((state) => state.lateness);
  const other = useBenchState((state) => (state.scopeId === null ? otherReading(state) : null));
  const linkClass = "font-bold text-spruce underline";
  const hintClass = "mb-3 rounded-lg bg-amber-tint px-3 py-2";
  const correct = (latencyMs: number) => (
    <button type="button" className={linkClass} onClick={() => doAndSay(bench, () => correctLatency(bench, latencyMs))}>
      Correct
    </button>
  );
  return (
    <>
      {isOffCount && (
        <p className={hintClass}>
          Hardly a voice fits the beats of the file. Was it played to no click?{" "}
          <button type="button" className={linkClass} onClick={() => bench.store.showSheet("tempo")}>
            Find its tempo
          </button>
        </p>
      )}
      {opening && (
        <p className={hintClass}>
          <strong>Bars 1 to {opening.bars}</strong> fit no beat: an opening that was played freely?{" "}
          <button
            type="button"
            className={linkClass}
            onClick={() => doAndSay(bench, () => leaveOpening(bench, opening))}
          >
            Leave it as played
          </button>
        </p>
      )}
      {other && lateness ? (
        <p className={hintClass}>
          A close call: the take is <strong>{lateWords(lateness.lateMs)}</strong> or{" "}
          <strong>{lateWords(other.lateMs)}</strong>, a step apart. Compare by ear.{" "}
          <button
            type="button"
            className={linkClass}
            onClick={() => doAndSay(bench, () => followReading(bench, other))}
          >
            Use the other
          </button>
          {latency && <> or {correct(latency.ms)}</>}
        </p>
      ) : (
        latency && (
          <p className={hintClass}>
            The whole take is <strong>{lateWords(latency.ms)}</strong>
            {latency.isConstant && ", every hit by the same: programmed so, and not played"}. {correct(latency.ms)}
          </p>
        )
      )}
    </>
  );
}
