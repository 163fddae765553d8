import { Check } from "lucide-react";
import { Checkbox } from "radix-ui";
import { Button } from "../../../components/Button.tsx";
import { SettingRow } from "../../../components/sentence/SettingRow.tsx";
import { changePartBy, PART_FIELDS, PART_LIMITS, type PartField } from "../../../core/commands/index.ts";
import type { Limit } from "../../../core/limit.ts";
import { foundGridSentence } from "../../../core/study/index.ts";
import { gridName } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { useSettled } from "../../../store/bench/use-settled.ts";
import { tightenAll } from "../commands/actions.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { FullnessRow } from "./FullnessRow.tsx";

/** How far each setting is moved at once, from what each voice has. */
const FARTHEST: Readonly<Record<PartField, number>> = {
  strengthPercent: 50,
  swingPercent: 15,
  pushMs: 30,
  humanizeMs: 10,
  rangePercent: 100,
  loudnessPercent: 60,
};

const HINTS: Readonly<Record<PartField, string>> = {
  strengthPercent: "How far quantized voices are pulled to their slots",
  swingPercent: "How late every second step of quantized voices is",
  pushMs: "Ahead of the beat, or behind it",
  humanizeMs: "Moves each hit by chance, the same way every time",
  rangePercent: "More or less dynamic, each around its own middle",
  loudnessPercent: "The level of each voice, in proportion",
};

/** The part as a whole: a setting of all voices, or of some, changed by the same, each from what it has. */
export function PartCard() {
  const bench = useBench();
  const { store } = bench;
  const lanes = useSettled(
    (state) => state.lanes,
    ({ lanes: now, isPreviewing }) => (isPreviewing ? null : [now]),
  );
  const chosen = useBenchState((state) => state.partVoiceIds);
  const loose = lanes.filter(({ treatment }) => !treatment.timing.isOn).length;
  const voiceIds = new Set(lanes.map(({ voiceId }) => voiceId).filter((id) => chosen?.has(id) ?? true));
  const editOf = (field: PartField, by: number) => changePartBy(store.getState().pattern, voiceIds, field, by);
  const who =
    voiceIds.size === lanes.length ? "all voices" : voiceIds.size === 1 ? "1 voice" : `${voiceIds.size} voices`;
  return (
    <>
      <h2 className="text-title font-bold">Whole part</h2>
      <Studying />
      {lanes.length > 0 && (
        <section aria-label="Settings of the part" className="mt-2">
          <p className="mb-1.5 text-small text-muted">Change {who} by the same, each from what it has:</p>
          {PART_FIELDS.map((field) => (
            <SettingRow
              key={field}
              limit={relative(PART_LIMITS[field], FARTHEST[field])}
              hint={HINTS[field]}
              value={0}
              onPreview={(by) => store.preview(editOf(field, by))}
              onCommit={(by) => store.commit(`${PART_LIMITS[field].label} of ${who} ${signed(by)}`, editOf(field, by))}
              onCancel={() => store.endPreview()}
            />
          ))}
        </section>
      )}
      {lanes.some(({ hits }) => hits.some(({ chance }) => chance)) && <FullnessRow />}
      <ul className="mt-3">
        {lanes.map((lane) => (
          <VoiceRow
            key={lane.voiceId}
            lane={lane}
            isChosen={voiceIds.has(lane.voiceId)}
            onChoose={(isChosen) => {
              const next = new Set(voiceIds);
              if (isChosen) next.add(lane.voiceId);
              else next.delete(lane.voiceId);
              store.choosePart(next.size === lanes.length ? null : next);
            }}
          />
        ))}
      </ul>
      {loose > 0 && (
        <div className="mt-3 border-t border-hairline pt-3">
          <Button onClick={() => doAndSay(bench, () => tightenAll(bench))}>
            Quantize {loose === 1 ? "1 voice" : `${loose} voices`}
          </Button>
          <p className="mt-1.5 text-small text-muted">Each on the grid it was played on. One undo takes it back.</p>
        </div>
      )}
    </>
  );
}

const signed = (by: number) => `${by < 0 ? "−" : "+"}${Math.abs(by)}`;

/** A limit for a change, and not for what is changed. */
const relative = ({ label, step, unit }: Limit, farthest: number): Limit => ({
  label,
  min: -farthest,
  max: farthest,
  step,
  unit,
  usual: 0,
  say: (by) => (by === 0 ? "as each" : `${signed(by)}${unit ? ` ${unit}` : ""}`),
});

interface RowProps {
  readonly lane: LaneView;
  readonly isChosen: boolean;
  readonly onChoose: (isChosen: boolean) => void;
}

/** A voice with what it has, to be opened, or left out of what is changed. */
function VoiceRow({ lane, isChosen, onChoose }: RowProps) {
  const { store } = useBench();
  const { voice, voiceId } = lane;
  const found = useBenchState((state) => state.summaries.get(voiceId)?.found);
  return (
    <li className="flex items-start gap-2 border-t border-hairline py-1.5">
      <Checkbox.Root
        checked={isChosen}
        aria-label={`Change ${voice.name}`}
        className="mt-0.5 flex size-6 shrink-0 items-center justify-center"
        onCheckedChange={(state) => onChoose(state === true)}
      >
        <span className="flex size-4 items-center justify-center rounded border border-edge bg-paper">
          <Checkbox.Indicator>
            <Check size={13} />
          </Checkbox.Indicator>
        </span>
      </Checkbox.Root>
      <button type="button" className="min-w-0 flex-1 text-left leading-tight" onClick={() => store.openLane(voiceId)}>
        <strong>{voice.name}</strong>
        <br />
        <span className="text-small text-muted">{settingWords(lane) || (found ? foundGridSentence(found) : "…")}</span>
      </button>
    </li>
  );
}

/** `80 % to eighths, push 6 ms ahead, range 120 %`: what a voice has; empty for nothing. */
function settingWords({ treatment: { timing, dynamics } }: LaneView): string {
  const parts: string[] = [];
  if (timing.isOn && timing.strengthPercent > 0) {
    parts.push(`${Math.round(timing.strengthPercent)} % to ${gridName(timing.grid)}`);
  }
  if (timing.isOn && timing.pushMs !== 0) parts.push(`push ${PART_LIMITS.pushMs.say?.(timing.pushMs)}`);
  if (timing.isOn && timing.humanizeMs !== 0) parts.push(`humanize ± ${timing.humanizeMs} ms`);
  if (dynamics?.isOn && dynamics.rangePercent !== 100) parts.push(`range ${dynamics.rangePercent} %`);
  if (dynamics?.isOn && dynamics.loudnessPercent !== 100) parts.push(`level ${dynamics.loudnessPercent} %`);
  return parts.join(", ");
}

/** How far the look at the voices has come, while it goes on. */
function Studying() {
  const share = useBenchState(({ studiedShare, summaries }) => (summaries.size > 0 ? 1 : studiedShare));
  if (share === 1) return null;
  return (
    <p className="mt-2 text-small">
      <label>
        Finding the grid of each voice{" "}
        <progress className="ml-1 h-2 w-24 accent-spruce" value={share} max={1}>
          {Math.round(share * 100)} %
        </progress>
      </label>
    </p>
  );
}
