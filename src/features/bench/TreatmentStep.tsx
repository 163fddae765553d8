import clsx from "clsx";
import { ChevronRight } from "lucide-react";
import type { ReactNode } from "react";
import { useBench, useBenchState } from "../../store/bench-context.ts";
import type { StepId } from "../../store/bench-state.ts";

interface TreatmentStepProps {
  readonly id: StepId;
  readonly name: string;
  /** What it does, in one line: shown while it is closed. */
  readonly sentence: string;
  /** Switches beside the name. */
  readonly controls: ReactNode;
  readonly children: ReactNode;
}

/** A step of a lane's treatment: one line, or opened, with all that can be set. One of them is open at a time. */
export function TreatmentStep({ id, name, sentence, controls, children }: TreatmentStepProps) {
  const { store } = useBench();
  const isOpen = useBenchState((state) => state.openStep === id);
  return (
    <section aria-label={name} className="mt-3 border-t border-hairline pt-2.5">
      <header className="flex items-center justify-between">
        <h3 className="min-w-0">
          <button
            type="button"
            aria-expanded={isOpen}
            className="flex items-center gap-1 font-bold"
            onClick={() => store.setState({ openStep: isOpen ? null : id })}
          >
            <ChevronRight size={14} className={clsx("-ml-1 text-muted", isOpen && "rotate-90")} />
            {name}
          </button>
        </h3>
        <span className="flex items-center gap-3">{controls}</span>
      </header>
      {isOpen ? children : <p className="text-[13px] leading-snug text-muted">{sentence}</p>}
    </section>
  );
}
