import { useRouter } from "next/navigation";
import { type FormEvent, useCallback, useEffect, useId, useState } from "react";
import { Button } from "../../components/Button.tsx";
import { Refusal } from "../../components/messages/Refusal.tsx";
import { Sheet } from "../../components/page/Sheet.tsx";
import { faultOfNewTake, NEW_TAKE_DENOMINATORS, NEW_TAKE_LIMITS } from "../../core/file/index.ts";
import { GENERAL_MIDI } from "../../core/notemap/index.ts";
import { createTake, type KeptMap, listMaps, type Problem, ServerProblem } from "../../store/server-api.ts";

const fieldClass = "rounded-md border border-edge bg-paper px-2 py-1 font-bold";

/** Begins a take on which nobody has played yet: to draw on, to paste into, or to play over. */
export function NewTakeSheet({ onClose }: { onClose: () => void }) {
  const router = useRouter();
  const [maps, setMaps] = useState<readonly KeptMap[]>([]);
  const [refusal, setRefusal] = useState<string | null>(null);
  const [isMaking, setIsMaking] = useState(false);
  const say = useCallback(
    ({ message, remedy }: Pick<Problem, "message" | "remedy">) => setRefusal(`${message} ${remedy}`),
    [],
  );
  useEffect(() => {
    listMaps().then(setMaps, (error: unknown) => {
      if (!(error instanceof ServerProblem)) throw error;
      say(error.problem);
    });
  }, [say]);
  const make = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const text = (name: string) => String(form.get(name) ?? "").trim();
    const number = (name: string) => Number(text(name).replace(",", ".") || Number.NaN);
    const take = {
      tempoBpm: number("tempo"),
      numerator: number("numerator"),
      denominator: number("denominator"),
      bars: number("bars"),
    };
    const fault = faultOfNewTake(take);
    if (fault) return setRefusal(fault);
    setIsMaking(true);
    try {
      const { id } = await createTake({ ...take, name: text("name") || "New take", mapId: text("map") });
      router.push(`/bench/${id}`);
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      say(error.problem);
      setIsMaking(false);
    }
  };
  return (
    <Sheet title="New take" isOpen onOpenChange={(isOpen) => !isOpen && onClose()}>
      <form
        className="mt-4 grid max-w-md grid-cols-[90px_1fr] items-center gap-x-4 gap-y-3"
        onSubmit={(event) => void make(event)}
      >
        <Field label="Name">
          {(id) => (
            <input
              id={id}
              name="name"
              maxLength={200}
              placeholder="New take"
              autoComplete="off"
              className={fieldClass}
            />
          )}
        </Field>
        <Field label="Tempo">
          {(id) => (
            <span>
              <TypedNumber id={id} name="tempo" usual="120" /> bpm
            </span>
          )}
        </Field>
        <Field label="Meter">
          {(id) => (
            <span>
              <TypedNumber id={id} name="numerator" usual="4" /> /{" "}
              <select name="denominator" defaultValue="4" aria-label="Note of a beat" className={fieldClass}>
                {NEW_TAKE_DENOMINATORS.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </span>
          )}
        </Field>
        <Field label="Bars">
          {(id) => (
            <span>
              <TypedNumber id={id} name="bars" usual="8" />{" "}
              <span className="text-small text-muted">1 to {NEW_TAKE_LIMITS.bars.max}; it grows as you write.</span>
            </span>
          )}
        </Field>
        <Field label="Kit">
          {(id) => (
            <select id={id} name="map" defaultValue={GENERAL_MIDI.id} className={fieldClass}>
              {(maps.length > 0 ? maps.map(({ map }) => map) : [GENERAL_MIDI]).map((map) => (
                <option key={map.id} value={map.id}>
                  {map.name}
                </option>
              ))}
            </select>
          )}
        </Field>
        {refusal && <Refusal className="col-span-2">{refusal}</Refusal>}
        <Button type="submit" kind="main" className="col-start-2 justify-self-start" disabled={isMaking}>
          {isMaking ? "Creating …" : "Create"}
        </Button>
      </form>
    </Sheet>
  );
}

function TypedNumber({ id, name, usual }: { id: string; name: string; usual: string }) {
  return (
    <input
      id={id}
      name={name}
      defaultValue={usual}
      inputMode="decimal"
      autoComplete="off"
      className={`${fieldClass} w-20`}
    />
  );
}

function Field({ label, children }: { label: string; children: (id: string) => React.ReactNode }) {
  const id = useId();
  return (
    <>
      <label htmlFor={id}>{label}</label>
      {children(id)}
    </>
  );
}
