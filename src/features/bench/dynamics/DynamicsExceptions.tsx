import { X } from "lucide-react";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";
import type { DynamicsException, DynamicsTreatment } from "../../../core/document/treatment.ts";
import { barAt } from "../../../core/time/index.ts";
import { withException } from "../../../core/timing/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { showStretch } from "../commands/travel-actions.ts";
import { meantStretch } from "../commands/write-actions.ts";
import { stretchWords } from "../steps/stretch-words.ts";
import type { DynamicsSetting } from "./use-dynamics-setting.ts";

type Settings = Omit<DynamicsException, "startTick" | "endTick">;

/** What a stretch can be at first; its numbers can be changed afterwards. */
const FIRST: readonly { readonly id: string; readonly name: string; readonly settings: Settings }[] = [
  { id: "softer", name: "softer than the rest", settings: { loudnessPercent: 80 } },
  { id: "louder", name: "louder than the rest", settings: { loudnessPercent: 115 } },
  { id: "played", name: "as it was played", settings: { isOn: false } },
];
const ONLY = "only";

interface ExceptionsProps {
  readonly lane: LaneView;
  readonly dynamics: DynamicsTreatment;
  readonly setting: DynamicsSetting;
}

/** Stretches whose loudness is treated otherwise than the rest of a voice. */
export function DynamicsExceptions({ lane, dynamics, setting }: ExceptionsProps) {
  const bench = useBench();
  const hasLoop = useBenchState((state) => state.loop !== null);
  const { exceptions = [] } = dynamics;
  const { meterMap } = lane.maps;
  const made = (id: string) => {
    const state = bench.store.getState();
    const { startTick, endTick } = meantStretch(state);
    const first = FIRST.find((one) => one.id === id);
    if (first) return { exceptions: withException<Settings>(exceptions, startTick, endTick, first.settings) };
    const before = withException<Settings>([], 0, startTick, { isOn: false });
    return { exceptions: withException<Settings>(before, endTick, state.pattern.lengthTicks, { isOn: false }) };
  };
  const reset = (one: DynamicsException, settings: Settings | null) => ({
    exceptions: withException<Settings>(exceptions, one.startTick, one.endTick, settings),
  });
  return (
    <div className="mt-1 text-small">
      {exceptions.length > 0 && (
        <ul aria-label="Stretches of another loudness" className="max-h-[150px] overflow-y-auto">
          {exceptions.map((one) => {
            const { startTick, endTick, ...settings } = one;
            const words = stretchWords(one, meterMap);
            return (
              <li key={startTick} className="flex items-baseline gap-1 border-t border-hairline py-0.5">
                <span className="min-w-0 flex-1">
                  <button
                    type="button"
                    className="underline decoration-dotted"
                    onClick={() => showStretch(bench, barAt(meterMap, startTick).startTick, endTick)}
                  >
                    {words}
                  </button>
                  :{" "}
                  {one.isOn === false ? (
                    "as played"
                  ) : (
                    <SentenceNumber
                      label={`Loudness in ${words}`}
                      min={0}
                      max={200}
                      step={1}
                      unit="%"
                      say={(value) => `at ${value} %`}
                      value={one.loudnessPercent ?? dynamics.loudnessPercent}
                      usual={dynamics.loudnessPercent}
                      onPreview={(value) =>
                        setting.preview(reset(one, { ...settings, loudnessPercent: Math.round(value) }))
                      }
                      onCommit={(value) =>
                        setting.commit("exceptions", reset(one, { ...settings, loudnessPercent: Math.round(value) }))
                      }
                      onCancel={setting.cancel}
                    />
                  )}
                </span>
                <button
                  type="button"
                  aria-label={`Like the rest in ${words}`}
                  className="rounded p-0.5 text-muted hover:text-ink"
                  onClick={() => setting.commit("exceptions", reset(one, null))}
                >
                  <X size={13} />
                </button>
              </li>
            );
          })}
        </ul>
      )}
      <p className="leading-[1.75]">
        Make the {hasLoop ? "loop" : "bars in view"}{" "}
        <SentenceChoice
          label="Loudness of this stretch"
          chosenId="none"
          groups={[
            [{ id: "none", name: "like the rest" }],
            FIRST.map(({ id, name }) => ({ id, name })),
            [{ id: ONLY, name: "the only part that is shaped" }],
          ]}
          onPreview={(id) => (id === "none" ? setting.cancel() : setting.preview(made(id)))}
          onChoose={(id) => id !== "none" && setting.commit("exceptions", made(id))}
          onCancel={setting.cancel}
        />
        .
      </p>
    </div>
  );
}
