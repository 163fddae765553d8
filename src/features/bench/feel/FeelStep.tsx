import { Button } from "../../../components/Button.tsx";
import { GrooveChart } from "../../../components/GrooveChart.tsx";
import { Refusal } from "../../../components/messages/Refusal.tsx";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { SettingRow } from "../../../components/sentence/SettingRow.tsx";
import { GROOVE_LIMITS, type Groove, layerFor } from "../../../core/document/index.ts";
import type { FeelTreatment } from "../../../core/document/treatment.ts";
import { grooveWords } from "../../../core/groove/index.ts";
import { bpmAt, type Grid, gridName, gridStepTicks, handGridAt } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { useGrooves } from "../../../store/shelf/use-grooves.ts";
import { More } from "../card/More.tsx";
import { StepHead } from "../card/StepHead.tsx";
import { doAndSay } from "../commands/do-and-say.ts";
import { feelEdit, giveFeel, slotsPerQuarter } from "./feel-actions.ts";
import { TakeGroove } from "./TakeGroove.tsx";

/** A groove laid on one voice: which, how far in time and in loudness, and how to take one from here. */
export function FeelStep({ lane }: { lane: LaneView }) {
  const bench = useBench();
  const { store } = bench;
  const shelf = useGrooves();
  const { grooves, problem } = shelf;
  const { voice, voiceId, maps } = lane;
  const { feel } = lane.treatment;
  const own = new Set([voiceId]);
  const bpm = bpmAt(maps.tempoMap, 0);
  const laid = (groove: Groove): FeelTreatment => {
    const { id, name, lengthQuarters, grid, layers } = groove;
    const bare = { id, name, lengthQuarters, grid, layers };
    return { timingPercent: 100, accentPercent: 60, ...feel, groove: bare, isOn: true };
  };
  const preview = (next: FeelTreatment) => store.preview(feelEdit(store.getState(), own, next));
  const commit = (what: string, next: FeelTreatment | null) =>
    store.commit(`${what} of ${voice.name}`, feelEdit(store.getState(), own, next));
  const named = (isBuiltIn: boolean) =>
    (grooves ?? [])
      .filter((one) => one.isBuiltIn === isBuiltIn)
      .map((one) => ({ id: one.id, name: one.name, note: grooveWords(one, bpm) }));
  const isOnShelf = grooves?.some(({ id }) => id === feel?.groove.id) ?? false;
  const layer = feel && layerFor(feel.groove, voice.family);
  const amount = (field: "timingPercent" | "accentPercent", hint: string, given: FeelTreatment) => (
    <SettingRow
      limit={GROOVE_LIMITS[field]}
      hint={hint}
      value={given[field]}
      onPreview={(value) => preview({ ...given, [field]: Math.round(value) })}
      onCommit={(value) => commit("Change the groove", { ...given, [field]: Math.round(value) })}
      onCancel={() => store.endPreview()}
    />
  );
  const openParts = useBenchState((state) => state.openParts);
  return (
    <>
      <StepHead
        label="Groove"
        isOn={feel ? feel.isOn : null}
        onToggle={(isOn) => feel && commit(`Switch the groove ${isOn ? "on" : "off"}`, { ...feel, isOn })}
      >
        {feel?.isOn ? "Play it like " : feel ? "Off: " : "Groove: "}
        <SentenceChoice
          label="Groove"
          chosenId={feel?.groove.id ?? "none"}
          groups={[
            [
              { id: "none", name: "none" },
              ...(feel && !isOnShelf ? [{ id: feel.groove.id, name: feel.groove.name }] : []),
            ],
            named(true),
            named(false),
          ].filter(({ length }) => length > 0)}
          onPreview={(id) => {
            const groove = grooves?.find((one) => one.id === id);
            if (groove) preview(laid(groove));
            else store.endPreview();
          }}
          onChoose={(id) => {
            const groove = grooves?.find((one) => one.id === id);
            if (groove) commit(`Use the groove ${groove.name}`, laid(groove));
            if (id === "none") commit("Remove the groove", null);
          }}
          onCancel={() => store.endPreview()}
        />
        .
      </StepHead>
      {problem && (
        <Refusal className="mt-1">
          {problem.message} {problem.remedy}
        </Refusal>
      )}
      {feel && layer && (
        <GrooveChart
          layer={layer}
          slotsPerQuarter={slotsPerQuarter(feel.groove)}
          ink={`var(--${voice.ink})`}
          label={`${feel.groove.name}: ${grooveWords(feel.groove, bpm)}`}
        />
      )}
      {feel && (
        <p className="text-small text-muted">
          {layer
            ? `${grooveWords(feel.groove, bpm)}, at ${Math.round(bpm)} bpm. Late is up; bars are velocity.`
            : `“${feel.groove.name}” says nothing of ${voice.family}, so this voice stays as it is.`}
        </p>
      )}
      {feel && layer && !isOnPlaces(handGridAt(lane.treatment.timing, 0), feel.groove.grid) && (
        <p className="mt-1 text-small text-amber-text">
          This voice plays {gridName(handGridAt(lane.treatment.timing, 0))}: hits between the steps of the groove take
          what is between them.
        </p>
      )}
      {feel && (
        <div className="mt-1">
          {amount("timingPercent", "How far towards the timing of the groove; below 0 is away from it", feel)}
          {amount("accentPercent", "How far towards the velocities of the groove", feel)}
        </div>
      )}
      {feel?.isOn && (
        <Button className="mt-1.5 px-2.5 text-small" onClick={() => doAndSay(bench, () => giveFeel(bench, feel))}>
          Use for all voices
        </Button>
      )}
      <More
        name="Extract groove"
        what="from this voice, all drums, a selection"
        isOpen={openParts.has("extract") || !feel}
        onOpenChange={(isOpen) => store.openPart("extract", isOpen)}
      >
        <TakeGroove
          lane={lane}
          shelf={shelf}
          onTaken={(groove) => commit(`Use the groove ${groove.name}`, laid(groove))}
        />
      </More>
    </>
  );
}

/** Whether every slot of a voice is a place of the groove. */
function isOnPlaces(voice: Grid, places: Grid): boolean {
  const ratio = gridStepTicks(voice, 1) / gridStepTicks(places, 1);
  return Math.abs(ratio - Math.round(ratio)) < 1e-6 && ratio > 0.5;
}
