import { X } from "lucide-react";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";
import type { ExceptionalSettings, TimingException } from "../../../core/document/index.ts";
import type { TimingTreatment } from "../../../core/document/treatment.ts";
import { barAt } from "../../../core/time/index.ts";
import { AS_RECORDED, onlyWithin, withException } from "../../../core/timing/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { showStretch } from "../commands/travel-actions.ts";
import { meantStretch } from "../commands/write-actions.ts";
import { stretchWords } from "./stretch-words.ts";

interface ExceptionStepProps {
  readonly lane: LaneView;
  readonly onPreview: (change: Partial<TimingTreatment>) => void;
  readonly onChange: (change: Partial<TimingTreatment>) => void;
  readonly onCancel: () => void;
}

/** What a stretch can be at first; each number of it can be changed afterwards. */
const FIRST: readonly { readonly id: string; readonly name: string; readonly settings: ExceptionalSettings }[] = [
  { id: "recorded", name: "not at all: as it was recorded", settings: AS_RECORDED },
  { id: "half", name: "half as far", settings: {} },
  { id: "full", name: "all the way", settings: { strengthPercent: 100 } },
];
const ONLY = "only";

/** The stretches in which a voice is treated otherwise, as "only bar 5" or "bar 9 as recorded". */
export function ExceptionStep({ lane, onPreview, onChange, onCancel }: ExceptionStepProps) {
  const bench = useBench();
  const hasLoop = useBenchState((state) => state.loop !== null);
  const { timing } = lane.treatment;
  const { exceptions = [] } = timing;
  const { meterMap } = lane.maps;
  const reset = (one: TimingException, settings: ExceptionalSettings | null) => ({
    exceptions: withException(exceptions, one.startTick, one.endTick, settings),
  });
  const made = (id: string): Partial<TimingTreatment> => {
    const state = bench.store.getState();
    const { startTick, endTick } = meantStretch(state);
    if (id === ONLY) return { exceptions: onlyWithin(startTick, endTick, state.pattern.lengthTicks) };
    const first = FIRST.find((one) => one.id === id);
    if (!first) return {};
    const settings = id === "half" ? { strengthPercent: Math.round(timing.strengthPercent / 2) } : first.settings;
    return { exceptions: withException(exceptions, startTick, endTick, settings) };
  };
  return (
    <div className="mt-1 text-small">
      {exceptions.length > 0 && (
        <ul aria-label="Stretches treated otherwise" className="max-h-[150px] overflow-y-auto">
          {exceptions.map((one) => (
            <ExceptionRow
              key={one.startTick}
              exception={one}
              timing={timing}
              words={stretchWords(one, meterMap)}
              onGo={() => showStretch(bench, barAt(meterMap, one.startTick).startTick, one.endTick)}
              onPreview={(settings) => onPreview(reset(one, settings))}
              onSet={(settings) => onChange(reset(one, settings))}
              onCancel={onCancel}
            />
          ))}
        </ul>
      )}
      <p className="leading-[1.75]">
        Quantize the {hasLoop ? "loop" : "bars in view"}{" "}
        <SentenceChoice
          label="Treat this stretch"
          chosenId="none"
          groups={[
            [{ id: "none", name: "like the rest" }],
            FIRST.map(({ id, name }) => ({ id, name })),
            [{ id: ONLY, name: "and nothing else" }],
          ]}
          onPreview={(id) => (id === "none" ? onCancel() : onPreview(made(id)))}
          onChoose={(id) => onChange(made(id))}
          onCancel={onCancel}
        />
        .
      </p>
    </div>
  );
}

interface RowProps {
  readonly exception: TimingException;
  readonly timing: TimingTreatment;
  readonly words: string;
  readonly onGo: () => void;
  readonly onPreview: (settings: ExceptionalSettings) => void;
  readonly onSet: (settings: ExceptionalSettings | null) => void;
  readonly onCancel: () => void;
}

function ExceptionRow({ exception, timing, words, onGo, onPreview, onSet, onCancel }: RowProps) {
  const { startTick: _start, endTick: _end, ...settings } = exception;
  const number = (
    field: keyof ExceptionalSettings,
    label: string,
    [min, max, step]: readonly [number, number, number],
    unit: string,
    say?: (value: number) => string,
  ) => (
    <SentenceNumber
      label={`${label} in ${words}`}
      min={min}
      max={max}
      step={step}
      unit={unit}
      {...(say ? { say } : {})}
      value={settings[field] ?? timing[field]}
      usual={timing[field]}
      onPreview={(value) => onPreview({ ...settings, [field]: value })}
      onCommit={(value) => onSet({ ...settings, [field]: value })}
      onCancel={onCancel}
    />
  );
  return (
    <li className="flex items-baseline gap-1 border-t border-hairline py-0.5">
      <span className="min-w-0 flex-1">
        <button type="button" className="underline decoration-dotted" onClick={onGo}>
          {words}
        </button>
        : {number("strengthPercent", "Strength", [0, 100, 1], "%")}, push{" "}
        {number("pushMs", "Push", [-40, 40, 0.5], "ms, behind the beat is positive", (ms) =>
          ms === 0 ? "on the beat" : `${Math.abs(ms)} ms ${ms > 0 ? "behind" : "ahead"}`,
        )}
        , humanize {number("humanizeMs", "Humanize", [0, 30, 0.5], "ms")}
      </span>
      <button
        type="button"
        aria-label={`No exception in ${words}`}
        className="rounded p-0.5 text-muted hover:text-ink"
        onClick={() => onSet(null)}
      >
        <X size={13} />
      </button>
    </li>
  );
}
