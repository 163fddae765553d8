import { X } from "lucide-react";
import { OneOf } from "../../../components/OneOf.tsx";
import { SentenceChoice } from "../../../components/SentenceChoice.tsx";
import { choicesOf, idOf, meaningOfId } from "../../../components/stroke-choices.ts";
import type { ChoreAct } from "../../../core/chore/index.ts";
import { CONTOUR_SPANS, CONTOURS } from "../../../core/dynamics/index.ts";
import { useBenchState } from "../../../store/bench-context.ts";
import { NumberIn } from "./NumberIn.tsx";

/** What can be done, as it is offered, and how it begins. */
export const ACTS: readonly { readonly name: string; readonly first: ChoreAct }[] = [
  { name: "make them louder or softer", first: { kind: "add", velocity: -10 } },
  { name: "in proportion", first: { kind: "scale", percent: 80 } },
  { name: "make them all alike", first: { kind: "set", velocity: 80 } },
  { name: "even them out", first: { kind: "evenOut", percent: 50 } },
  { name: "make them more or less dynamic", first: { kind: "range", percent: 130 } },
  { name: "lead them along a curve", first: { kind: "contour", contour: "straight", from: 50, to: 110, span: "once" } },
  { name: "fit them in between 1 and 127", first: { kind: "fitIn" } },
  { name: "put them ahead or behind, in ms", first: { kind: "shiftMs", ms: 6 } },
  { name: "put them ahead or behind, in ticks", first: { kind: "shiftTicks", ticks: 10 } },
  { name: "leave a little to chance", first: { kind: "humanize", ms: 3, velocity: 3, seed: 1 } },
  { name: "give them to another drum or stroke", first: { kind: "revoice", voiceId: "clap", articulationId: "clap" } },
  { name: "mute them", first: { kind: "mute" } },
  { name: "remove them", first: { kind: "remove" } },
  { name: "play them twice as fast", first: { kind: "stretchTime", factor: 0.5 } },
  { name: "play them half as fast", first: { kind: "stretchTime", factor: 2 } },
  { name: "take their voice out to a pattern of its own", first: { kind: "takeOut" } },
];

interface ActProps {
  readonly act: ChoreAct;
  readonly onChange: (act: ChoreAct | null) => void;
}

/** One thing that a chore does, with its numbers to be changed in place. */
export function ActRow({ act, onChange }: ActProps) {
  return (
    <li className="flex items-start gap-1 border-t border-hairline py-1.5 leading-[1.75]">
      <span className="min-w-0 flex-1">
        <ActWords act={act} onChange={onChange} />
      </span>
      <button
        type="button"
        aria-label="Do not do this"
        className="mt-1 rounded p-0.5 text-muted hover:text-ink"
        onClick={() => onChange(null)}
      >
        <X size={13} />
      </button>
    </li>
  );
}

const behind = (unit: string) => (value: number) =>
  value === 0 ? "where they are" : `${Math.abs(value)} ${unit} ${value < 0 ? "ahead" : "behind"}`;

function ActWords({ act, onChange }: ActProps) {
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  switch (act.kind) {
    case "add":
      return (
        <>
          make them{" "}
          <NumberIn
            label="Louder by"
            min={-100}
            max={100}
            unit="of 127, softer is negative"
            say={(value) => `${Math.abs(value)} ${value < 0 ? "softer" : "louder"}`}
            value={act.velocity}
            onChange={(velocity) => onChange({ ...act, velocity })}
          />
        </>
      );
    case "scale":
    case "range":
      return (
        <>
          make them{" "}
          <NumberIn
            label={act.kind === "scale" ? "In proportion" : "Range"}
            min={0}
            max={300}
            unit="%"
            say={(value) => `${value} %`}
            value={act.percent}
            onChange={(percent) => onChange({ ...act, percent })}
          />{" "}
          {act.kind === "scale" ? "as loud" : "as dynamic, around their mean"}
        </>
      );
    case "set":
      return (
        <>
          make all as loud as{" "}
          <NumberIn
            label="As loud as"
            min={1}
            max={127}
            value={act.velocity}
            onChange={(velocity) => onChange({ ...act, velocity })}
          />
        </>
      );
    case "evenOut":
      return (
        <>
          even them out by{" "}
          <NumberIn
            label="Evened out"
            min={0}
            max={100}
            unit="%"
            say={(value) => `${value} %`}
            value={act.percent}
            onChange={(percent) => onChange({ ...act, percent })}
          />
        </>
      );
    case "contour":
      return <ContourWords act={act} onChange={onChange} />;
    case "shiftMs":
      return (
        <>
          put them{" "}
          <NumberIn
            label="Shift"
            min={-100}
            max={100}
            step={0.5}
            unit="ms, behind is positive"
            say={behind("ms")}
            value={act.ms}
            onChange={(ms) => onChange({ ...act, ms })}
          />
        </>
      );
    case "shiftTicks":
      return (
        <>
          put them{" "}
          <NumberIn
            label="Shift in ticks"
            min={-960}
            max={960}
            unit="ticks, behind is positive"
            say={behind("ticks")}
            value={act.ticks}
            onChange={(ticks) => onChange({ ...act, ticks })}
          />
        </>
      );
    case "humanize":
      return (
        <>
          leave{" "}
          <NumberIn
            label="Chance in ms"
            min={0}
            max={30}
            step={0.5}
            unit="ms"
            say={(value) => `± ${value} ms`}
            value={act.ms}
            onChange={(ms) => onChange({ ...act, ms })}
          />{" "}
          and{" "}
          <NumberIn
            label="Chance in loudness"
            min={0}
            max={30}
            unit="of 127"
            say={(value) => `± ${value}`}
            value={act.velocity}
            onChange={(velocity) => onChange({ ...act, velocity })}
          />{" "}
          of loudness to chance{" "}
          <button
            type="button"
            className="text-[13px] font-bold text-spruce underline"
            onClick={() => onChange({ ...act, seed: act.seed + 1 })}
          >
            Roll again
          </button>
        </>
      );
    case "revoice":
      return (
        <>
          give them to{" "}
          <SentenceChoice
            label="Drum and stroke"
            chosenId={idOf(act)}
            groups={choicesOf(noteMap)}
            onPreview={() => {}}
            onChoose={(id) => onChange({ ...act, ...meaningOfId(id) })}
            onCancel={() => {}}
          />
        </>
      );
    case "stretchTime":
      return <>play them {act.factor === 2 ? "half" : "twice"} as fast</>;
    case "fitIn":
      return <>fit them in between 1 and 127, with their shape</>;
    case "mute":
      return <>mute them</>;
    case "remove":
      return <>remove them</>;
    case "takeOut":
      return <>take their voice out to a pattern of its own, and mute it here</>;
    default:
      return act satisfies never;
  }
}

function ContourWords({
  act,
  onChange,
}: {
  act: Extract<ChoreAct, { kind: "contour" }>;
  onChange: (act: ChoreAct) => void;
}) {
  return (
    <>
      lead them from{" "}
      <NumberIn label="Curve from" min={1} max={127} value={act.from} onChange={(from) => onChange({ ...act, from })} />{" "}
      to <NumberIn label="Curve to" min={1} max={127} value={act.to} onChange={(to) => onChange({ ...act, to })} />,{" "}
      <OneOf
        label="Curve"
        chosenId={act.contour}
        choices={CONTOURS.map((id) => ({ id, name: id }))}
        onChoose={(id) => onChange({ ...act, contour: CONTOURS.find((one) => one === id) ?? act.contour })}
      />
      ,{" "}
      <OneOf
        label="Over"
        chosenId={act.span}
        choices={CONTOUR_SPANS.map((id) => ({ id, name: id }))}
        onChoose={(id) => onChange({ ...act, span: CONTOUR_SPANS.find((one) => one === id) ?? act.span })}
      />
    </>
  );
}
