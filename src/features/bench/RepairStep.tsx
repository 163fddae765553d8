import { toast } from "sonner";
import { Toggle } from "../../components/Toggle.tsx";
import { useBench, useBenchState } from "../../store/bench-context.ts";
import type { LaneView } from "../../store/lane-view.ts";
import { showPicked } from "./travel-actions.ts";
import { repairLane, unrepairLane } from "./worth-a-look.ts";

const linkClass = "font-bold text-spruce underline";

/** What of a voice nobody played, left out as a standing step: the first of its treatment. */
export function RepairStep({ lane }: { lane: LaneView }) {
  const bench = useBench();
  const summary = useBenchState((state) => state.summaries.get(lane.voiceId));
  const seen = useBenchState((state) => state.seen);
  const leftOut = lane.treatment.repair?.leftOut ?? [];
  const faults = summary?.faults ?? [];
  const inLane = new Set(leftOut);
  const more = faults.filter(({ hitId }) => !inLane.has(hitId) && !seen.has(hitId));
  const kept = faults.filter(({ hitId }) => !inLane.has(hitId) && seen.has(hitId)).length;
  const isOn = leftOut.length > 0;
  const repair = () => toast(repairLane(bench, lane), { id: "command" });
  return (
    <section aria-label="Repair" className="mt-3">
      <header className="flex items-center justify-between">
        <h3 className="font-bold">Repair</h3>
        {(isOn || more.length > 0) && (
          <Toggle label="Repair" isOn={isOn} onChange={() => (isOn ? unrepairLane(bench, lane) : repair())} />
        )}
      </header>
      {/* Two lines as a rule: room is kept for them, so that what is below does not move away when they come. */}
      <p className="mt-0.5 min-h-[2lh] text-[13px] leading-snug">
        {isOn ? (
          <>
            Leaves out{" "}
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
            {countWords(faults.filter(({ hitId }) => inLane.has(hitId)))}.{" "}
            {more.length > 0 && (
              <button type="button" className={linkClass} onClick={repair}>
                And the {more.length} found since
              </button>
            )}
          </>
        ) : more.length > 0 ? (
          <>
            {more.length} {more.length === 1 ? "hit looks" : "hits look"} as if nobody played{" "}
            {more.length === 1 ? "it" : "them"}
            {countWords(more)}. {more.length === 1 ? "It still sounds." : "They still sound."}
          </>
        ) : (
          <span className="text-muted">
            {summary ? "Nothing found that nobody played." : "Looking for what nobody played …"}
          </span>
        )}
        {kept > 0 && <span className="text-muted"> {kept} more you kept.</span>}
      </p>
    </section>
  );
}

/** `: 3 double triggers and 41 of cross-talk`. */
function countWords(faults: readonly { readonly kind: string }[]): string {
  const doubles = faults.filter(({ kind }) => kind === "double").length;
  const talks = faults.length - doubles;
  const words = [
    ...(doubles > 0 ? [`${doubles} double ${doubles === 1 ? "trigger" : "triggers"}`] : []),
    ...(talks > 0 ? [`${talks} of cross-talk`] : []),
  ];
  return words.length > 0 ? `: ${words.join(" and ")}` : "";
}
