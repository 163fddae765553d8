/** What a number can be: for the control that turns it, the shape that is stored, and whatever checks it. */
export interface Limit {
  /** What it is called, such as “Strength”. */
  readonly label: string;
  readonly min: number;
  readonly max: number;
  /** Where a slider ends: what is beyond it is rare, and typed. Left out, at the limits. */
  readonly handy?: readonly [min: number, max: number];
  /** How far one turn of a wheel or press of a key goes. */
  readonly step: number;
  /** Written behind the value; empty for none. */
  readonly unit: string;
  /** Where a double-click goes. Left out, there is no such value. */
  readonly usual?: number;
  /** Whether only whole numbers are stored. Left out, a finer one is kept as it was typed. */
  readonly isWhole?: true;
  /** The value in words, where number and unit are not enough. */
  readonly say?: (value: number) => string;
}

/** The shape of a number within its limits, in JSON schema. */
export const shapeOf = ({ min, max, isWhole }: Limit) => ({
  type: isWhole ? "integer" : "number",
  minimum: min,
  maximum: max,
});

/** A value in words, such as “80 %”. */
export function sayLimited({ unit, say }: Limit, value: number): string {
  return say ? say(value) : `${plain(value)}${unit === "" ? "" : ` ${unit}`}`;
}

/** A number without a tail of digits, with a real minus sign. */
function plain(value: number): string {
  return String(Math.round(value * 10) / 10).replace("-", "−");
}
