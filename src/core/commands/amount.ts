/**
 * Reads an amount that a person typed for loudness: `64` sets, `+5` and `-5` add, `-10 %` and `*1.1` scale.
 * @returns what becomes of a velocity, rounded and kept within 1 to 127; null if it is no amount
 */
export function parseVelocityChange(text: string): ((velocity: number) => number) | null {
  const match = /^\s*([+\-−*×]?)\s*(\d+(?:[.,]\d+)?)\s*(%?)\s*$/.exec(text);
  if (!match) return null;
  const [, sign = "", digits = "", percent] = match;
  const amount = Number(digits.replace(",", "."));
  const limit = (velocity: number) => Math.max(1, Math.min(127, Math.round(velocity)));
  const isMinus = sign === "-" || sign === "−";
  if (sign === "*" || sign === "×") return percent ? null : (velocity) => limit(velocity * amount);
  if (percent) {
    if (sign === "") return (velocity) => limit((velocity * amount) / 100);
    return (velocity) => limit(velocity * (1 + ((isMinus ? -1 : 1) * amount) / 100));
  }
  if (sign === "") return () => limit(amount);
  return (velocity) => limit(velocity + (isMinus ? -amount : amount));
}

/**
 * Reads a ramp that a person typed for several hits: `40 to 100`, `40 > 100`.
 * @returns the first and the last loudness, 1 to 127; null if it is no ramp
 */
export function parseVelocityRamp(text: string): { readonly from: number; readonly to: number } | null {
  const match = /^\s*(\d{1,3})\s*(?:to|>|→)\s*(\d{1,3})\s*$/i.exec(text);
  const [from, to] = [Number(match?.[1]), Number(match?.[2])];
  return from >= 1 && from <= 127 && to >= 1 && to <= 127 ? { from, to } : null;
}

/** A distance in time that was typed: in ticks, or in ms. */
export interface TimeChange {
  readonly amount: number;
  readonly unit: "ticks" | "ms";
}

/** Reads a distance that a person typed: `+12`, `-12 ticks`, `+5 ms`. Null if it is none. */
export function parseTimeChange(text: string): TimeChange | null {
  const match = /^\s*([+\-−])\s*(\d+(?:[.,]\d+)?)\s*(ms|ticks?|)\s*$/i.exec(text);
  if (!match) return null;
  const amount = Number(match[2]!.replace(",", ".")) * (match[1] === "+" ? 1 : -1);
  return { amount, unit: match[3]?.toLowerCase() === "ms" ? "ms" : "ticks" };
}
