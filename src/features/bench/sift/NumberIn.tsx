import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";

interface NumberInProps {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step?: number;
  readonly unit?: string;
  readonly usual?: number;
  readonly say?: (value: number) => string;
  readonly onChange: (value: number) => void;
}

/** A number of a rule or of what it does. The rule is shown at once, so there is nothing to preview beside it. */
export function NumberIn({ value, step = 1, unit = "", usual, onChange, say = String, ...rest }: NumberInProps) {
  return (
    <SentenceNumber
      {...rest}
      value={value}
      step={step}
      unit={unit}
      say={say}
      usual={usual ?? value}
      onCommit={(next) => onChange(step === 1 ? Math.round(next) : next)}
    />
  );
}
