import { useState } from "react";
import { Button } from "../../../components/Button.tsx";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";
import { CONTOUR_SPANS, CONTOURS } from "../../../core/dynamics/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { copyShape, type HandShape, handEdit, layShape, leadByHand, meantHits, moveMean } from "./hand-actions.ts";

/** Shapes laid over some hits by hand, as sentences: a ramp or a swell, another mean, the shape of other hits. */
export function ByHand() {
  const bench = useBench();
  const { store } = bench;
  const [shape, setShape] = useState<HandShape>({ contour: "straight", from: 50, to: 110, span: "once" });
  const pickedCount = useBenchState((state) => state.picked.size);
  const hasLoop = useBenchState((state) => state.loop !== null);
  const what = pickedCount > 0 ? "the selection" : `this voice in the ${hasLoop ? "loop" : "bars in view"}`;
  const mean = useBenchState((state) => {
    const placed = meantHits(state);
    return Math.round(placed.reduce((sum, { velocity }) => sum + velocity, 0) / Math.max(1, placed.length));
  });
  const preview = (next: HandShape) => store.preview(handEdit(store.getState(), next));
  const number = (label: string, field: "from" | "to") => (
    <SentenceNumber
      label={label}
      min={1}
      max={127}
      step={1}
      unit="of 127"
      say={String}
      value={shape[field]}
      usual={field === "from" ? 50 : 110}
      onPreview={(value) => preview({ ...shape, [field]: Math.round(value) })}
      onCommit={(value) => setShape({ ...shape, [field]: Math.round(value) })}
      onCancel={() => store.endPreview()}
    />
  );
  const choice = <Id extends string>(label: string, chosen: Id, ids: readonly Id[], shapeOf: (id: Id) => HandShape) => {
    const found = (id: string) => ids.find((one) => one === id) ?? chosen;
    return (
      <SentenceChoice
        label={label}
        chosenId={chosen}
        groups={[ids.map((id) => ({ id, name: id }))]}
        onPreview={(id) => preview(shapeOf(found(id)))}
        onChoose={(id) => setShape(shapeOf(found(id)))}
        onCancel={() => store.endPreview()}
      />
    );
  };
  return (
    <section aria-label="Loudness by hand" className="mt-3 border-t border-hairline pt-2">
      <p className="leading-[1.75]">
        By hand, lead {what} from {number("Shape from", "from")} to {number("Shape to", "to")},{" "}
        {choice("Shape", shape.contour, CONTOURS, (contour) => ({ ...shape, contour }))},{" "}
        {choice("Shape over", shape.span, CONTOUR_SPANS, (span) => ({ ...shape, span }))}:{" "}
        <Button className="px-2 py-0 text-small" onClick={() => doAndSay(bench, () => leadByHand(bench, shape))}>
          Lead
        </Button>
      </p>
      <p className="leading-[1.75]">
        Move its mean to{" "}
        <SentenceNumber
          label="Mean"
          min={1}
          max={127}
          step={1}
          unit="of 127"
          say={String}
          value={mean}
          usual={mean}
          onCommit={(value) => doAndSay(bench, () => moveMean(bench, Math.round(value)))}
        />
        , with its shape. Its shape can be{" "}
        <button
          type="button"
          className="font-bold text-spruce underline"
          onClick={() => doAndSay(bench, () => copyShape(bench))}
        >
          copied
        </button>{" "}
        and laid on others,{" "}
        <button
          type="button"
          className="font-bold text-spruce underline"
          onClick={() => doAndSay(bench, () => layShape(bench, true))}
        >
          around their mean
        </button>{" "}
        or{" "}
        <button
          type="button"
          className="font-bold text-spruce underline"
          onClick={() => doAndSay(bench, () => layShape(bench, false))}
        >
          as loud
        </button>
        .
      </p>
    </section>
  );
}
