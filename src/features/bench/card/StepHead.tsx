import type { ReactNode } from "react";
import { Toggle } from "../../../components/Toggle.tsx";

interface StepHeadProps {
  /** What the switch is called. */
  readonly label: string;
  /** Null for a step that has nothing to switch. */
  readonly isOn: boolean | null;
  readonly onToggle: (isOn: boolean) => void;
  readonly children: ReactNode;
}

/** What a step does, in one sentence that says only what differs from the usual, and its switch. */
export function StepHead({ label, isOn, onToggle, children }: StepHeadProps) {
  return (
    <div className="flex items-start justify-between gap-3">
      <p className="min-h-[1lh] min-w-0 leading-[1.55]">{children}</p>
      {isOn !== null && (
        <span className="mt-0.5 shrink-0">
          <Toggle label={label} isOn={isOn} onChange={onToggle} />
        </span>
      )}
    </div>
  );
}
