import { LimitedNumber } from "../../../components/sentence/LimitedNumber.tsx";
import { OneOf } from "../../../components/sentence/OneOf.tsx";
import { changeTreatments } from "../../../core/commands/index.ts";
import { LENGTH_LIMITS, LENGTH_MODES, type NoteLengths, USUAL_LENGTHS } from "../../../core/document/index.ts";
import { useBench } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";

const RECORDED = "recorded";
export const LENGTH_NAMES: Readonly<Record<NoteLengths["mode"], string>> = {
  fixed: "fixed",
  next: "up to the next hit",
  scaled: "scaled",
  random: "random between two",
};
const CHOICES = [
  { id: RECORDED, name: "as recorded" },
  ...LENGTH_MODES.map((mode) => ({ id: mode, name: LENGTH_NAMES[mode] })),
] as const;

/** How long the notes of a voice last when they go out, for samplers that listen to it. */
export function LengthStep({ lane }: { lane: LaneView }) {
  const { store } = useBench();
  const { voiceId, voice, treatment } = lane;
  const { lengths } = treatment;
  const edit = (next: NoteLengths | null) =>
    changeTreatments(store.getState().pattern, new Set([voiceId]), ({ lengths: _, ...rest }) =>
      next ? { ...rest, lengths: next } : rest,
    );
  const commit = (next: NoteLengths | null) => store.commit(`Change the note lengths of ${voice.name}`, edit(next));
  const number = (field: keyof typeof LENGTH_LIMITS, set: NoteLengths) => (
    <LimitedNumber
      limit={LENGTH_LIMITS[field]}
      value={set[field]}
      onPreview={(value) => store.preview(edit({ ...set, [field]: value }))}
      onCommit={(value) => commit({ ...set, [field]: value })}
      onCancel={() => store.endPreview()}
    />
  );
  return (
    <section aria-label="Note lengths" className="mt-3 border-t border-hairline pt-3">
      <h3 className="font-bold">Note lengths</h3>
      <p className="mt-1 leading-[1.75]">
        <OneOf
          label="Note lengths"
          chosenId={lengths?.mode ?? RECORDED}
          choices={CHOICES}
          onChoose={(mode) => commit(mode === RECORDED ? null : { ...(lengths ?? USUAL_LENGTHS), mode })}
        />
        {lengths?.mode === "fixed" && <>: {number("fixedMs", lengths)}</>}
        {lengths?.mode === "scaled" && <>: {number("scalePercent", lengths)} of what was recorded</>}
        {lengths?.mode === "random" && (
          <>
            : {number("fromMs", lengths)} and {number("toMs", lengths)}{" "}
            <button
              type="button"
              className="text-small font-bold text-spruce underline"
              onClick={() => commit({ ...lengths, seed: lengths.seed + 1 })}
            >
              Roll again
            </button>
          </>
        )}
      </p>
      <p className="text-small text-muted">
        Written on export.{" "}
        {lengths ? "A note ends before the next of its kind, and where a hand or the foot stops it." : ""}
      </p>
    </section>
  );
}
