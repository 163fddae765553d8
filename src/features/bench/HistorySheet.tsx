import { Sheet } from "../../components/Sheet.tsx";
import { useBench, useBenchState } from "../../store/bench-context.ts";
import { Versions } from "./Versions.tsx";

/** Every step that was done, the last one first, to go back to any of them; and those that were undone, to do again. */
export function HistorySheet({ isOpen, onOpenChange }: { isOpen: boolean; onOpenChange: (isOpen: boolean) => void }) {
  const { store } = useBench();
  const { done, undone } = useBenchState((state) => state.history);
  const back = (steps: number) => {
    for (let left = steps; left > 0; left--) store.undo();
  };
  const on = (steps: number) => {
    for (let left = steps; left > 0; left--) store.redo();
  };
  const stepClass = "w-full border-t border-hairline py-1.5 text-left hover:bg-spruce-tint";
  return (
    <Sheet
      title="What was done"
      lead="Keep versions under a name, and go back to any step and on again."
      isOpen={isOpen}
      onOpenChange={onOpenChange}
    >
      <Versions onLeave={() => onOpenChange(false)} />
      <h3 className="font-bold">Steps</h3>
      <ol aria-label="Steps" className="text-[14px]">
        {undone.map((step, index) => (
          // Steps that are undone lie ahead, the farthest first.
          <li key={step.id}>
            <button type="button" className={`${stepClass} text-muted`} onClick={() => on(undone.length - index)}>
              {step.label} <span className="text-[12px]">undone</span>
            </button>
          </li>
        ))}
        <li className="border-t border-hairline bg-amber-tint py-1.5 font-bold">
          {done.length === 0 ? "The take as it was recorded: this is now" : "Now"}
        </li>
        {done.toReversed().map((step, index) => (
          <li key={step.id}>
            <button type="button" className={stepClass} onClick={() => back(index + 1)}>
              {step.label} <span className="text-[12px] text-muted">take back up to here</span>
            </button>
          </li>
        ))}
      </ol>
    </Sheet>
  );
}
