import { Sheet } from "../../../components/page/Sheet.tsx";
import { Steps } from "./later.tsx";
import { Versions } from "./Versions.tsx";

/** Every step that was done, the last one first, to go back to any of them; and those that were undone, to do again. */
export function HistorySheet({ isOpen, onOpenChange }: { isOpen: boolean; onOpenChange: (isOpen: boolean) => void }) {
  return (
    <Sheet
      title="What was done"
      lead="Keep versions under a name, and go back to any step and on again."
      isOpen={isOpen}
      onOpenChange={onOpenChange}
    >
      <Versions onLeave={() => onOpenChange(false)} />
      <h3 className="font-bold">Steps</h3>
      <Steps />
    </Sheet>
  );
}
