import { alongContour, CONTOUR_SPANS, CONTOURS, type Contour, type ContourSpan } from "../../dynamics/index.ts";
import { type Limit, shapeOf } from "../../limit.ts";
import { type ActKind, louder } from "./act-kind.ts";

const FROM: Limit = { label: "Ramp from", min: 1, max: 127, step: 1, unit: "", isWhole: true };
const TO: Limit = { ...FROM, label: "Ramp to" };

/** Velocity along a curve, from the first hit to the last, or anew in each beat or bar. */
export interface ContourAct {
  readonly kind: "contour";
  readonly contour: Contour;
  readonly from: number;
  readonly to: number;
  readonly span: ContourSpan;
}

export const contour: ActKind<ContourAct> = {
  offers: [{ name: "ramp velocity", act: { kind: "contour", contour: "straight", from: 50, to: 110, span: "once" } }],
  fields: { contour: { enum: CONTOURS }, from: shapeOf(FROM), to: shapeOf(TO), span: { enum: CONTOUR_SPANS } },
  phrase: (act) => [
    "ramp velocity ",
    { kind: "number", limit: FROM, value: act.from, set: (from) => ({ ...act, from }) },
    " → ",
    { kind: "number", limit: TO, value: act.to, set: (to) => ({ ...act, to }) },
    ", ",
    {
      kind: "choice",
      label: "Curve",
      chosenIds: [act.contour],
      choices: CONTOURS.map((id) => ({ id, name: id })),
      set: (id) => ({ ...act, contour: CONTOURS.find((one) => one === id) ?? act.contour }),
    },
    ", ",
    {
      kind: "choice",
      label: "Over",
      chosenIds: [act.span],
      choices: CONTOUR_SPANS.map((id) => ({ id, name: id })),
      set: (id) => ({ ...act, span: CONTOUR_SPANS.find((one) => one === id) ?? act.span }),
    },
  ],
  change(working, act, { meterMap }) {
    const velocities = alongContour(working, act, meterMap);
    return louder(working, (_, index) => velocities[index]!);
  },
};
