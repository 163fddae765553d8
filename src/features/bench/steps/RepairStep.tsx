import { findVoice, type NoteMap } from "../../../core/document/index.ts";
import { counted } from "../../../core/ordinal.ts";
import { listed } from "../../../core/phrase.ts";
import type { Fault } from "../../../core/study/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { StepHead } from "../card/StepHead.tsx";
import { doAndSay } from "../commands/do-and-say.ts";
import { showPicked } from "../commands/travel-actions.ts";
import { Lengths } from "./Lengths.tsx";
import { repairLane, unrepairLane } from "./worth-a-look.ts";

const linkClass = "font-bold text-spruce underline";

/** What of a voice nobody played, muted as a standing step: the first of its treatment. */
export function RepairStep({ lane }: { lane: LaneView }) {
  const bench = useBench();
  const summary = useBenchState((state) => state.summaries.get(lane.voiceId));
  const seen = useBenchState((state) => state.seen);
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  const leftOut = lane.treatment.repair?.leftOut ?? [];
  const faults = summary?.faults ?? [];
  const inLane = new Set(leftOut);
  const more = faults.filter(({ hitId }) => !inLane.has(hitId) && !seen.has(hitId));
  const kept = faults.filter(({ hitId }) => !inLane.has(hitId) && seen.has(hitId)).length;
  const muted = countWords(
    faults.filter(({ hitId }) => inLane.has(hitId)),
    noteMap,
  );
  const isOn = leftOut.length > 0;
  const repair = () => doAndSay(bench, () => repairLane(bench, lane));
  return (
    <>
      <StepHead
        label="Repair"
        isOn={isOn || more.length > 0 ? isOn : null}
        onToggle={() => (isOn ? unrepairLane(bench, lane) : repair())}
      >
        {isOn ? (
          <>
            Mutes{" "}
            <button
              type="button"
              className={linkClass}
              onClick={() => {
                bench.store.pick(new Set(leftOut));
                showPicked(bench);
              }}
            >
              {leftOut.length.toLocaleString("en")} {leftOut.length === 1 ? "hit" : "hits"}
            </button>
            {muted && `: ${muted}`}.{" "}
            {more.length > 0 && (
              <button type="button" className={linkClass} onClick={repair}>
                And {more.length} more
              </button>
            )}
          </>
        ) : more.length > 0 ? (
          <>
            Likely {countWords(more, noteMap)}: still playing.{" "}
            <button type="button" className={linkClass} onClick={repair}>
              Mute {more.length === 1 ? "it" : `all ${more.length}`}
            </button>
          </>
        ) : (
          <span className="text-muted">
            {summary ? "No double triggers or crosstalk found." : "Looking for double triggers and crosstalk …"}
          </span>
        )}
      </StepHead>
      {kept > 0 && (
        <p className="mt-1 text-small text-muted">
          {kept} {kept === 1 ? "hit" : "hits"} you kept.
        </p>
      )}
      <Lengths hits={lane.hits} />
    </>
  );
}

/** `3 double triggers and 41 hits of crosstalk from the kick`; nothing of nothing. */
function countWords(faults: readonly Fault[], noteMap: NoteMap): string {
  const talks = faults.filter((fault) => fault.kind === "crossTalk");
  const doubles = faults.length - talks.length;
  const causes = [...new Set(talks.map(({ causeVoiceId }) => findVoice(noteMap, causeVoiceId).name.toLowerCase()))];
  return [
    ...(doubles > 0 ? [counted(doubles, "double trigger")] : []),
    ...(talks.length > 0 ? [`${counted(talks.length, "hit")} of crosstalk from the ${listed(causes, "and the")}`] : []),
  ].join(" and ");
}
