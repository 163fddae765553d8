import { toast } from "sonner";
import { Button } from "../../../components/Button.tsx";
import { GrooveChart } from "../../../components/GrooveChart.tsx";
import { Refusal } from "../../../components/Refusal.tsx";
import { SentenceChoice } from "../../../components/SentenceChoice.tsx";
import { SentenceNumber } from "../../../components/SentenceNumber.tsx";
import { Toggle } from "../../../components/Toggle.tsx";
import { type Groove, layerFor } from "../../../core/document/index.ts";
import type { FeelTreatment } from "../../../core/document/treatment.ts";
import { grooveWords } from "../../../core/groove/index.ts";
import { bpmAt, type Grid, gridName, gridStepTicks, handGridAt } from "../../../core/time/index.ts";
import { useBench } from "../../../store/bench-context.ts";
import type { LaneView } from "../../../store/lane-view.ts";
import { useGrooves } from "../../../store/use-grooves.ts";
import { TreatmentStep } from "../TreatmentStep.tsx";
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
  const amount = (field: "timingPercent" | "accentPercent", label: string, usual: number, given: FeelTreatment) => (
    <SentenceNumber
      label={label}
      min={-200}
      max={200}
      step={1}
      unit="%, below 0 is away from it"
      say={(value) => `${value} %`}
      value={given[field]}
      usual={usual}
      onPreview={(value) => preview({ ...given, [field]: Math.round(value) })}
      onCommit={(value) => commit("Change the feel", { ...given, [field]: Math.round(value) })}
      onCancel={() => store.endPreview()}
    />
  );
  return (
    <TreatmentStep
      id="feel"
      name="Feel"
      sentence={
        feel?.isOn
          ? `“${feel.groove.name}”, timing ${feel.timingPercent} %, loudness ${feel.accentPercent} %.`
          : "Off: no groove is laid on it."
      }
      controls={
        feel && (
          <Toggle
            label="Feel"
            isOn={feel.isOn}
            onChange={(isOn) => commit(`Switch the feel ${isOn ? "on" : "off"}`, { ...feel, isOn })}
          />
        )
      }
    >
      <p className="mt-1 leading-[1.75]">
        Lay{" "}
        <SentenceChoice
          label="Groove"
          chosenId={feel?.groove.id ?? "none"}
          groups={[
            [
              { id: "none", name: "no groove" },
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
            if (groove) commit(`Lay ${groove.name} on the hits`, laid(groove));
            if (id === "none") commit("Take the groove off the hits", null);
          }}
          onCancel={() => store.endPreview()}
        />{" "}
        on it
        {feel && (
          <>
            , timing {amount("timingPercent", "Groove timing", 100, feel)}, loudness{" "}
            {amount("accentPercent", "Groove loudness", 60, feel)}
          </>
        )}
        .
      </p>
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
        <p className="text-[13px] text-muted">
          {layer
            ? `${grooveWords(feel.groove, bpm)}, at ${Math.round(bpm)} bpm. Curve: late above the line. Bars: loudness.`
            : `“${feel.groove.name}” says nothing of ${voice.family}, so this voice stays as it is.`}
        </p>
      )}
      {feel && layer && !isOnPlaces(handGridAt(lane.treatment.timing, 0), feel.groove.grid) && (
        <p className="mt-1 text-[13px] text-amber-text">
          This voice is played on {gridName(handGridAt(lane.treatment.timing, 0))}: what lies between the places of the
          groove takes what is between them.
        </p>
      )}
      {feel?.isOn && (
        <Button className="mt-1.5 px-2.5 text-[13px]" onClick={() => toast(giveFeel(bench, feel), { id: "command" })}>
          Lay it on every voice
        </Button>
      )}
      <TakeGroove
        lane={lane}
        shelf={shelf}
        onTaken={(groove) => commit(`Lay ${groove.name} on the hits`, laid(groove))}
      />
    </TreatmentStep>
  );
}

/** Whether every slot of a voice is a place of the groove. */
function isOnPlaces(voice: Grid, places: Grid): boolean {
  const ratio = gridStepTicks(voice, 1) / gridStepTicks(places, 1);
  return Math.abs(ratio - Math.round(ratio)) < 1e-6 && ratio > 0.5;
}
