import { type Limit, sayLimited } from "../../core/limit.ts";
import { SentenceNumber } from "./SentenceNumber.tsx";

interface LimitedNumberProps {
  readonly limit: Limit;
  /** What it is called here, if not as its limit says. */
  readonly label?: string;
  readonly isInSentence?: true;
  readonly value: number;
  /** Where a double-click goes, if not where its limit says. */
  readonly usual?: number;
  readonly onPreview?: ((value: number) => void) | undefined;
  readonly onCommit: (value: number) => void;
  readonly onCancel?: (() => void) | undefined;
}

/** A number in a sentence that can be what its limit says. */
export function LimitedNumber({ limit, label = limit.label, usual, ...on }: LimitedNumberProps) {
  const { min, max, handy, step, unit } = limit;
  return (
    <SentenceNumber
      label={label}
      min={min}
      max={max}
      {...(handy ? { handy } : {})}
      step={step}
      unit={unit}
      say={(value) => sayLimited(limit, value)}
      usual={usual ?? limit.usual ?? on.value}
      {...on}
    />
  );
}
