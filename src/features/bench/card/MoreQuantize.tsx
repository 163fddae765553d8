import clsx from "clsx";
import { Hint } from "../../../components/Hint.tsx";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";
import { SettingRow } from "../../../components/sentence/SettingRow.tsx";
import { NOISE_SHAPES, TIMING_LIMITS } from "../../../core/document/index.ts";
import { ordinal } from "../../../core/ordinal.ts";
import type { FoundGrid } from "../../../core/study/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { toggleVoice } from "../commands/actions.ts";
import { useKeyNames } from "../commands/command-keys.ts";
import { latencyOfVoice } from "../steps/grid-fit.ts";
import { Ghosts, RoleTimings } from "../steps/RoleTimings.tsx";
import type { useTimingSetting } from "../steps/use-timing-setting.ts";

type Setting = ReturnType<typeof useTimingSetting>;

interface MoreProps {
  readonly lane: LaneView;
  readonly found: FoundGrid | null;
  readonly setting: Setting;
}

type RowField = "reachPercent" | "pocketMs" | "latencyMs" | "humanizeMs";

const shapeOf = (id: string) => NOISE_SHAPES.find((shape) => shape === id) ?? "bell";

/** The settings of the quantize step that people reach for less often. */
export function MoreQuantize({ lane, found, setting }: MoreProps) {
  const { timing } = lane.treatment;
  const row = (field: RowField, hint: string, usual?: number) => (
    <SettingRow
      limit={TIMING_LIMITS[field]}
      hint={hint}
      value={timing[field]}
      {...(usual === undefined ? {} : { usual })}
      onPreview={(value) => setting.preview({ [field]: value })}
      onCommit={(value) => setting.commit(TIMING_LIMITS[field].label.toLowerCase(), { [field]: value })}
      onCancel={setting.cancel}
    />
  );
  return (
    <div>
      {row("reachPercent", "Hits farther from their slot than this share of a step are not moved")}
      {row(
        "pocketMs",
        "How late or early this voice sits by habit: allowed for before a slot is chosen",
        Math.round(((found?.meanDriftMs ?? 0) - (found ? latencyOfVoice(lane) : 0)) * 10) / 10,
      )}
      {row("latencyMs", "How late the whole take came in: taken off first")}
      <PushRow timing={timing} setting={setting} />
      {row("humanizeMs", "Moves each hit by chance, the same way every time")}
      {timing.humanizeMs > 0 && <Chance lane={lane} setting={setting} />}
      <p className="mt-1 leading-[1.75]">
        Ghosts and accents
        <Ghosts lane={lane} setting={setting} />.<RoleTimings lane={lane} setting={setting} />
      </p>
      <p className="mt-1 flex flex-wrap gap-1.5">
        <button
          type="button"
          aria-pressed={timing.keepsGraceNotes}
          className={chip(timing.keepsGraceNotes)}
          onClick={() => setting.commit("flams", { keepsGraceNotes: !timing.keepsGraceNotes })}
        >
          Keep flams and drags
        </button>
        <HearRecorded lane={lane} />
      </p>
    </div>
  );
}

const chip = (isOn: boolean) =>
  clsx(
    "rounded border px-1.5 text-small",
    isOn ? "border-spruce bg-spruce-tint font-bold" : "border-hairline-strong text-muted hover:text-ink",
  );

/** How far ahead of the beat or behind it, in ms or ticks, and which hits. */
function PushRow({ timing, setting }: { timing: LaneView["treatment"]["timing"]; setting: Setting }) {
  const isMs = timing.pushTicks === undefined;
  const limit = isMs ? TIMING_LIMITS.pushMs : TIMING_LIMITS.pushTicks;
  const change = (value: number) => (isMs ? { pushMs: value } : { pushTicks: Math.round(value) });
  const value = timing.pushTicks ?? timing.pushMs;
  const every = (field: "pushEvery" | "pushFrom", say: (count: number) => string, max: number) => (
    <SentenceNumber
      label={TIMING_LIMITS[field].label}
      min={TIMING_LIMITS[field].min}
      max={max}
      step={1}
      unit=""
      say={say}
      value={timing[field]}
      usual={1}
      onPreview={(next) => setting.preview({ [field]: Math.round(next) })}
      onCommit={(next) => setting.commit("push", { [field]: Math.round(next) })}
      onCancel={setting.cancel}
    />
  );
  return (
    <>
      <SettingRow
        limit={limit}
        hint="Ahead of the beat or behind it, after quantizing"
        value={value}
        onPreview={(next) => setting.preview(change(next))}
        onCommit={(next) => setting.commit("push", change(next))}
        onCancel={setting.cancel}
      />
      {value !== 0 && (
        <p className="pl-[102px] text-small leading-[1.75]">
          in{" "}
          <SentenceChoice
            label="Unit of the push"
            chosenId={isMs ? "ms" : "ticks"}
            groups={[
              [
                { id: "ms", name: "ms" },
                { id: "ticks", name: "ticks" },
              ],
            ]}
            onChoose={(unit) => setting.swapPushUnit(unit === "ticks")}
          />
          , {every("pushEvery", (count) => (count === 1 ? "every hit" : `every ${ordinal(count)} hit`), 16)}
          {timing.pushEvery > 1 && <>, from the {every("pushFrom", ordinal, timing.pushEvery)}</>}
        </p>
      )}
    </>
  );
}

function Chance({ lane, setting }: Omit<MoreProps, "found">) {
  const { timing } = lane.treatment;
  return (
    <>
      <SettingRow
        limit={TIMING_LIMITS.humanizeWanderPercent}
        hint="How much of the chance is a slow drift that hits near one another share"
        value={timing.humanizeWanderPercent ?? 0}
        onPreview={(value) => setting.preview({ humanizeWanderPercent: Math.round(value) })}
        onCommit={(value) => setting.commit("humanize", { humanizeWanderPercent: Math.round(value) })}
        onCancel={setting.cancel}
      />
      <p className="pl-[102px] text-small leading-[1.75]">
        <SentenceChoice
          label="Shape of humanize"
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
        <button
          type="button"
          className="font-bold text-spruce underline"
          onClick={() => setting.commit("humanize", { humanizeSeed: timing.humanizeSeed + 1 })}
        >
          Re-roll
        </button>
      </p>
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
        className={chip(isRecorded)}
        onClick={() => toggleVoice(bench, "asRecorded", lane.voiceId)}
      >
        Hear as recorded
      </button>
    </Hint>
  );
}
