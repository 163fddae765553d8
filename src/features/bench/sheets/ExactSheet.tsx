import { useState } from "react";
import { Button } from "../../../components/Button.tsx";
import { Refusal } from "../../../components/messages/Refusal.tsx";
import { Sheet } from "../../../components/page/Sheet.tsx";
import {
  loudnessOf,
  moveHitsBy,
  parseTimeChange,
  parseVelocityChange,
  parseVelocityRamp,
} from "../../../core/commands/index.ts";
import { baseVelocity, type Edit } from "../../../core/document/index.ts";
import { lineAt, setVelocities } from "../../../core/dynamics/index.ts";
import { formatBarBeat, msToTick, parseBarBeat, tickToMs } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { pickedHits } from "../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { hitCount } from "../commands/actions.ts";

/** Place and loudness of what is picked, typed. */
export function ExactSheet() {
  const { store } = useBench();
  const isOpen = useBenchState((state) => state.sheet === "exact");
  return (
    <Sheet
      title="Position and velocity"
      lead="Several hits keep their distances: the place is that of the first. Leave a field empty to keep what it says."
      isOpen={isOpen}
      onOpenChange={(willOpen) => store.showSheet("exact", willOpen)}
    >
      {isOpen && <ExactForm onDone={() => store.showSheet("exact", false)} />}
    </Sheet>
  );
}

function ExactForm({ onDone }: { onDone: () => void }) {
  const { store } = useBench();
  const [refusal, setRefusal] = useState<string | null>(null);
  const placed = pickedHits(store.getState()).toSorted((a, b) => a.tick - b.tick);
  const [first] = placed;
  const { meterMap } = store.getState().maps;
  const take = (form: FormData) => {
    const edits = readEdits(store.getState(), String(form.get("place") ?? ""), String(form.get("velocity") ?? ""));
    if (typeof edits === "string") return setRefusal(edits);
    const [only] = edits;
    if (only) {
      const label = `Type ${hitCount(placed.length)}`;
      store.commit(label, edits.length === 1 ? only : { kind: "together", edits });
    }
    onDone();
  };
  const inputClass = "w-full rounded-md border border-edge bg-paper px-2 py-1 font-bold placeholder:font-normal";
  return (
    <form
      className="grid max-w-md grid-cols-[90px_1fr] items-center gap-x-4 gap-y-2"
      onSubmit={(event) => {
        event.preventDefault();
        take(new FormData(event.currentTarget));
      }}
    >
      <label htmlFor="exact-place">Place</label>
      <input
        id="exact-place"
        name="place"
        autoComplete="off"
        placeholder={`${first ? formatBarBeat(meterMap, first.tick) : ""}, or +12, or -5 ms`}
        className={inputClass}
      />
      <label htmlFor="exact-velocity">Velocity</label>
      <input
        id="exact-velocity"
        name="velocity"
        autoComplete="off"
        placeholder={`${first ? (first.velocity ?? baseVelocity(first.hit)) : ""}, or +5, -10 %, *1.1, 40 to 100`}
        className={inputClass}
      />
      {refusal && <Refusal className="col-span-2">{refusal}</Refusal>}
      <Button type="submit" kind="main" className="col-start-2 mt-2 justify-self-start">
        Take
      </Button>
    </form>
  );
}

/** Reads what was typed into edits, or says what cannot be read. */
export function readEdits(state: BenchState, place: string, velocity: string): readonly Edit[] | string {
  const placed = pickedHits(state).toSorted((a, b) => a.tick - b.tick);
  const [first] = placed;
  if (!first) return "Nothing is selected.";
  const edits: Edit[] = [];
  if (place.trim() !== "") {
    const { meterMap, tempoMap } = state.maps;
    const change = parseTimeChange(place);
    const target = change ? null : parseBarBeat(meterMap, place);
    if (!change && target === null) return "Type a place such as 3:2:40, or a distance such as +12 or -5 ms.";
    if (target !== null && target >= state.pattern.lengthTicks) return "That place is past the end of the take.";
    const moved =
      change?.unit === "ms"
        ? msToTick(tempoMap, tickToMs(tempoMap, first.tick) + change.amount) - first.tick
        : change
          ? change.amount
          : (target ?? 0) - first.tick;
    edits.push(moveHitsBy(state.pattern, placed, moved));
  }
  if (velocity.trim() !== "") {
    const change = parseVelocityChange(velocity);
    const ramp = parseVelocityRamp(velocity);
    if (!change && !ramp) return "Type a velocity such as 64, +5, -10 %, *1.1, or a ramp such as 40 to 100.";
    const last = placed.at(-1)!;
    const tickOf = new Map(placed.map(({ hit, tick }) => [hit, tick]));
    const ends =
      ramp &&
      ([
        { tick: first.tick, velocity: ramp.from },
        { tick: last.tick, velocity: ramp.to },
      ] as const);
    const hits = placed.map(({ hit }) => hit);
    const velocityOf = loudnessOf(placed);
    edits.push(setVelocities(hits, (hit) => (ends ? lineAt(...ends, tickOf.get(hit)!) : change!(velocityOf(hit)))));
  }
  return edits;
}
