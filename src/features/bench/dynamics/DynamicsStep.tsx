import clsx from "clsx";
import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";
import { SettingRow } from "../../../components/sentence/SettingRow.tsx";
import { DYNAMICS_LIMITS, ROLES } from "../../../core/document/index.ts";
import { type DynamicsTreatment, USUAL_DYNAMICS } from "../../../core/document/treatment.ts";
import { dynamicsSentence } from "../../../core/dynamics/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { More } from "../card/More.tsx";
import { StepHead } from "../card/StepHead.tsx";
import { doAndSay } from "../commands/do-and-say.ts";
import { ByHand } from "./ByHand.tsx";
import { CycleBars } from "./CycleBars.tsx";
import { DynamicsExceptions } from "./DynamicsExceptions.tsx";
import { LoudnessCompare } from "./LoudnessCompare.tsx";
import { alikeHits, showAlike, spreadAlike } from "./loudness-actions.ts";
import { RoleRow } from "./RoleRow.tsx";
import { RoleSentence } from "./RoleSentence.tsx";
import { type DynamicsSetting, firstDynamics, useDynamicsSetting } from "./use-dynamics-setting.ts";
import { VelocityChart } from "./VelocityChart.tsx";

const linkClass = "font-bold text-spruce underline";
/** So many may be cut off without a word: a few of the loudest always are. */
const FEW = 3;

type NumberField = "loudnessPercent" | "rangePercent" | "deviation" | "lowestVelocity" | "highestVelocity";

/** The loudness of one voice as sentences that can be edited, over the chart of its roles. */
export function DynamicsStep({ lane }: { lane: LaneView }) {
  const setting = useDynamicsSetting(lane);
  const dynamics = lane.treatment.dynamics ?? firstDynamics(lane);
  const number = (field: NumberField, name: string) => ({
    value: dynamics[field],
    usual: USUAL_DYNAMICS[field],
    onPreview: (value: number) => setting.preview({ [field]: Math.round(value) }),
    onCommit: (value: number) => setting.commit(name, { [field]: Math.round(value) }),
    onCancel: setting.cancel,
  });
  const bench = useBench();
  const openParts = useBenchState((state) => state.openParts);
  const present = ROLES.filter((role, place) => lane.roles.includes(place) || dynamics.byRole?.[role]);
  const row = (field: NumberField, name: string, hint: string) => (
    <SettingRow limit={DYNAMICS_LIMITS[field]} hint={hint} {...number(field, name)} />
  );
  return (
    <>
      <StepHead label="Dynamics" isOn={dynamics.isOn} onToggle={setting.toggle}>
        {dynamics.isOn ? dynamicsSentence(dynamics) : <span className="text-muted">Off: as loud as played.</span>}
      </StepHead>
      <VelocityChart voiceId={lane.voiceId} setting={setting} />
      <div className="mt-1">
        {present.map((role) => (
          <RoleRow key={role} role={role} dynamics={dynamics} setting={setting} />
        ))}
        {row("rangePercent", "range", "More or less dynamic around its middle: 100 % is as played, 0 is flat")}
        {row("loudnessPercent", "level", "The whole voice, in proportion")}
      </div>
      <Clipped lane={lane} dynamics={dynamics} setting={setting} />
      <Alike lane={lane} />
      {dynamics.isOn && <LoudnessCompare lane={lane} />}
      <More
        what="accent pattern, limits, humanize, selection"
        isOpen={openParts.has("dynamics")}
        onOpenChange={(isOpen) => bench.store.openPart("dynamics", isOpen)}
      >
        {present.map((role) => (
          <RoleSentence key={role} role={role} dynamics={dynamics} setting={setting} />
        ))}
        {dynamics.rangePercent !== 100 && <Middle lane={lane} dynamics={dynamics} setting={setting} />}
        <CycleBars dynamics={dynamics} setting={setting} />
        {row("deviation", "humanize", "Changes each velocity by chance, the same way every time")}
        {dynamics.deviation > 0 && (
          <p className="pl-[102px]">
            <button
              type="button"
              className="text-small font-bold text-spruce underline"
              onClick={() => setting.commit("humanize", { deviationSeed: dynamics.deviationSeed + 1 })}
            >
              Re-roll
            </button>
          </p>
        )}
        {row("lowestVelocity", "minimum", "No hit goes out softer")}
        {row("highestVelocity", "maximum", "No hit goes out louder")}
        <Spared lane={lane} dynamics={dynamics} setting={setting} />
        <DynamicsExceptions lane={lane} dynamics={dynamics} setting={setting} />
        <ByHand />
      </More>
    </>
  );
}

interface PartProps {
  readonly lane: LaneView;
  readonly dynamics: DynamicsTreatment;
  readonly setting: DynamicsSetting;
}

function Middle({ lane, dynamics, setting }: PartProps) {
  const sorted = lane.recorded.velocities.toSorted();
  const own = sorted[Math.floor(sorted.length / 2)] ?? 64;
  return (
    <p className="leading-[1.75]">
      Range around{" "}
      <SentenceNumber
        label="Middle"
        min={1}
        max={127}
        step={1}
        unit="of 127"
        say={(value) => (dynamics.middleVelocity === undefined ? `its middle, ${value}` : String(value))}
        value={dynamics.middleVelocity ?? own}
        usual={own}
        onPreview={(value) => setting.preview({ middleVelocity: Math.round(value) })}
        onCommit={(value) =>
          setting.commit("middle", { middleVelocity: Math.round(value) === own ? undefined : Math.round(value) })
        }
        onCancel={setting.cancel}
      />
      .
    </p>
  );
}

/** Strokes that carry their own weight, as open and foot hats, can be left alone. */
function Spared({ lane, dynamics, setting }: PartProps) {
  const used = lane.voice.articulations.filter((_, row) => lane.articulationRows.includes(row));
  if (used.length < 2) return null;
  const spared = new Set(dynamics.sparedArticulationIds);
  return (
    <span className="block leading-[1.75]">
      Leave alone:{" "}
      {used.map(({ id, name }, index) => {
        const isSpared = spared.has(id);
        const next = isSpared ? [...spared].filter((one) => one !== id) : [...spared, id];
        return (
          <span key={id}>
            {index > 0 && " "}
            <button
              type="button"
              aria-pressed={isSpared}
              className={clsx(
                "rounded border px-1.5 text-small",
                isSpared
                  ? "border-spruce bg-spruce-tint font-bold"
                  : "border-hairline-strong text-muted hover:text-ink",
              )}
              onClick={() => setting.commit("spared strokes", { sparedArticulationIds: next })}
            >
              {name}
            </button>
          </span>
        );
      })}
    </span>
  );
}

/** What is cut off ends up alike; that is said before it is done by accident. */
function Clipped({ lane, dynamics, setting }: PartProps) {
  const { clippedCount } = lane.cleaned;
  if (dynamics.fitsIn) {
    return (
      <p className="mt-1 text-small">
        Scaled to fit 1–127.{" "}
        <button type="button" className={linkClass} onClick={() => setting.commit("limits", { fitsIn: undefined })}>
          Clip instead
        </button>
      </p>
    );
  }
  if (clippedCount <= FEW) return null;
  return (
    <p role="status" className="mt-2 rounded-lg bg-amber-tint px-3 py-2 text-small">
      <strong>{clippedCount} hits</strong> would clip.{" "}
      <button type="button" className={linkClass} onClick={() => setting.commit("limits", { fitsIn: true })}>
        Scale to fit
      </button>
    </p>
  );
}

/** Hits in a row that sound exactly alike give a machine away. */
function Alike({ lane }: { lane: LaneView }) {
  const bench = useBench();
  const hits = alikeHits(lane);
  if (hits.length === 0) return null;
  return (
    <p className="mt-1 text-small">
      {hits.length.toLocaleString("en")} hits in a row have the same velocity.{" "}
      <button type="button" className={linkClass} onClick={() => showAlike(bench, lane)}>
        Show
      </button>{" "}
      <button type="button" className={linkClass} onClick={() => doAndSay(bench, () => spreadAlike(bench, lane))}>
        Vary them a little
      </button>
    </p>
  );
}
