import { useState } from "react";
import { Button } from "../../components/Button.tsx";
import { Refusal } from "../../components/messages/Refusal.tsx";
import { Sheet } from "../../components/page/Sheet.tsx";
import type { ChangedMessage } from "../../core/document/index.ts";
import { fieldsOf, kindOf, type MessageTable, messageAt, readFields } from "../../core/messages/index.ts";
import { formatBarBeat, parseBarBeat } from "../../core/time/index.ts";
import { useBenchState } from "../../store/bench/bench-context.ts";

interface EditSheetProps {
  readonly table: MessageTable;
  readonly row: number;
  /** A message that is a hit of the Bench: its place and loudness are pinned there. */
  readonly isHit: boolean;
  readonly isOpen: boolean;
  readonly onOpenChange: (isOpen: boolean) => void;
  readonly onTake: (to: NonNullable<ChangedMessage>) => void;
}

/** One message with its place and its values, to be typed. */
export function EditSheet({ table, row, isHit, isOpen, onOpenChange, onTake }: EditSheetProps) {
  const meterMap = useBenchState((state) => state.maps.meterMap);
  const lengthTicks = useBenchState((state) => state.pattern.lengthTicks);
  const [refusal, setRefusal] = useState<string | null>(null);
  const message = messageAt(table, row);
  const fields = fieldsOf(message, isHit);
  const take = (form: FormData) => {
    const typed = Object.fromEntries([...form].map(([key, value]) => [key, String(value)]));
    const tick = parseBarBeat(meterMap, typed.place ?? "");
    if (tick === null) return setRefusal("Type the place as bar:beat:tick, for example 3:2:0.");
    if (isHit && tick >= lengthTicks) return setRefusal("That place is past the end of the take.");
    const bytes = readFields(message, isHit, typed);
    if (typeof bytes === "string") return setRefusal(bytes);
    onTake({ tick, bytes });
    onOpenChange(false);
  };
  const inputClass = "w-full rounded-md border border-edge bg-paper px-2 py-1 font-bold";
  return (
    <Sheet
      title={`Change a ${kindOf(message)}`}
      lead={
        isHit
          ? "It is a hit of the Bench: where you put it and how loud you make it is pinned there."
          : "One undo takes it back."
      }
      isOpen={isOpen}
      onOpenChange={(willOpen) => {
        setRefusal(null);
        onOpenChange(willOpen);
      }}
    >
      <form
        className="grid max-w-md grid-cols-[150px_1fr] items-center gap-x-4 gap-y-2"
        onSubmit={(event) => {
          event.preventDefault();
          take(new FormData(event.currentTarget));
        }}
      >
        <label htmlFor="place">Place, bar:beat:tick</label>
        <input id="place" name="place" defaultValue={formatBarBeat(meterMap, message.tick)} className={inputClass} />
        {fields.map((field) => (
          <div key={field.id} className="col-span-2 grid grid-cols-subgrid items-center">
            <label htmlFor={field.id}>{field.label}</label>
            <input id={field.id} name={field.id} defaultValue={field.value} autoComplete="off" className={inputClass} />
          </div>
        ))}
        {refusal && <Refusal className="col-span-2">{refusal}</Refusal>}
        <Button type="submit" kind="main" className="col-start-2 mt-2 justify-self-start">
          Take
        </Button>
      </form>
    </Sheet>
  );
}
