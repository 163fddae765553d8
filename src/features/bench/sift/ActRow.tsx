import { X } from "lucide-react";
import { type ChoreAct, kindOfAct } from "../../../core/chore/index.ts";
import { Phrase } from "./Phrase.tsx";

interface ActProps {
  readonly act: ChoreAct;
  readonly onChange: (act: ChoreAct | null) => void;
}

/** One thing that a chore does, with its numbers to be changed in place. */
export function ActRow({ act, onChange }: ActProps) {
  return (
    <li className="flex items-start gap-1 border-t border-hairline py-1.5 leading-[1.75]">
      <span className="min-w-0 flex-1">
        <Phrase phrase={kindOfAct(act).phrase(act)} onChange={onChange} />
      </span>
      <button
        type="button"
        aria-label="Remove this action"
        className="mt-1 rounded p-0.5 text-muted hover:text-ink"
        onClick={() => onChange(null)}
      >
        <X size={13} />
      </button>
    </li>
  );
}
