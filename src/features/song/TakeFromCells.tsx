import { type FormEvent, useEffect, useState } from "react";
import { toast } from "sonner";
import { Button } from "../../components/Button.tsx";
import { GrooveChart } from "../../components/GrooveChart.tsx";
import { OneOf } from "../../components/OneOf.tsx";
import { type Groove, type GrooveLayer, grooveWords, slotCountOf } from "../../core/groove/index.ts";
import type { CellPlace } from "../../core/song/index.ts";
import { bpmAt, handGridAt, withSwingShare } from "../../core/time/index.ts";
import { useBenchState } from "../../store/bench-context.ts";
import type { GrooveShelf } from "../../store/use-grooves.ts";
import type { SongDesk } from "../../store/use-song.ts";

interface TakeFromCellsProps {
  readonly desk: SongDesk;
  readonly shelf: GrooveShelf;
  readonly places: readonly CellPlace[];
  readonly words: string;
  readonly onTaken: (groove: Groove) => void;
}

const LENGTHS = [
  { id: "bar", name: "a bar" },
  { id: "two", name: "two bars" },
] as const;
const SIDES = [
  { id: "recorded", name: "recorded" },
  { id: "cleaned", name: "cleaned" },
] as const;

/** Takes the groove of the chosen cells, shows it, and keeps it on the shelf for the others. */
export function TakeFromCells({ desk, shelf, places, words, onTaken }: TakeFromCellsProps) {
  const [isOpen, setIsOpen] = useState(false);
  return isOpen ? (
    <TakeForm desk={desk} shelf={shelf} places={places} words={words} onTaken={onTaken} />
  ) : (
    <Button className="mt-2 ml-2 px-2.5 text-[13px]" onClick={() => setIsOpen(true)}>
      Take their groove …
    </Button>
  );
}

function TakeForm({ desk, shelf, places, words, onTaken }: TakeFromCellsProps) {
  const take = useBenchState((state) => state.pattern);
  const maps = useBenchState((state) => state.maps);
  const [side, setSide] = useState<(typeof SIDES)[number]["id"]>("recorded");
  const [length, setLength] = useState<(typeof LENGTHS)[number]["id"]>("bar");
  const [name, setName] = useState("");
  const [layers, setLayers] = useState<readonly GrooveLayer[] | null>(null);
  const barQuarters = (maps.meterMap.segments[0]?.barTicks ?? 4 * maps.meterMap.ppq) / maps.meterMap.ppq;
  const lengthQuarters = length === "bar" ? barQuarters : 2 * barQuarters;
  const voiceIds = new Set(places.map(({ voiceId }) => voiceId));
  // In the finest steps of the chosen voices: a coarser groove would say nothing of what is between.
  const grids = take.lanes.flatMap(({ voiceId, treatment }) =>
    voiceIds.has(voiceId) ? [withSwingShare(handGridAt(treatment.timing, 0), 0)] : [],
  );
  const grid = grids.toSorted((a, b) => b.denominator - a.denominator)[0]!;
  const key = JSON.stringify([places, side, length, grid]);
  useEffect(() => {
    let isOld = false;
    const [wanted, wantedSide, wantedLength, wantedGrid] = JSON.parse(key);
    const quarters = wantedLength === "bar" ? barQuarters : 2 * barQuarters;
    void desk
      .take(wanted, { grid: wantedGrid, lengthQuarters: quarters, isByFamily: true, side: wantedSide })
      .then((taken) => {
        if (!isOld) setLayers(taken);
      });
    return () => {
      isOld = true;
    };
  }, [desk, key, barQuarters]);
  const usual = `Feel of ${words.charAt(0).toLowerCase()}${words.slice(1)}`;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (!layers) return;
    const wanted = name.trim() || usual;
    if (!(await shelf.keep({ name: wanted, lengthQuarters, grid, layers }))) return;
    toast(`“${wanted}” is on the shelf. Choose other cells and lay it on them.`, { id: "command" });
    onTaken({ id: `taken ${wanted}`, name: wanted, lengthQuarters, grid, layers });
  };
  return (
    <form
      aria-label="Take a groove"
      onSubmit={(event) => void submit(event)}
      className="mt-3 border-t border-hairline pt-2"
    >
      <p className="leading-[1.75]">
        Take their groove as <OneOf label="Which side" choices={SIDES} chosenId={side} onChoose={setSide} />, over{" "}
        <OneOf label="Length of the groove" choices={LENGTHS} chosenId={length} onChoose={setLength} />:
      </p>
      {layers === null ? (
        <p className="text-[13px] text-muted">Listening …</p>
      ) : layers.length === 0 ? (
        <p className="text-[13px] text-muted">Nothing is played in these cells.</p>
      ) : (
        <>
          {layers.map((layer) => (
            <GrooveChart
              key={layer.family ?? "all"}
              layer={layer}
              slotsPerQuarter={slotCountOf(lengthQuarters, grid) / lengthQuarters}
              ink={`var(--${layer.family ?? "percussion"})`}
              label={`What would be taken from ${layer.family ?? "all drums"}`}
            />
          ))}
          <p className="text-[13px] text-muted">
            {grooveWords({ id: "taken", name, lengthQuarters, grid, layers }, bpmAt(maps.tempoMap, 0))}. Hollow places
            were not played.
          </p>
          <div className="mt-1.5 flex gap-2">
            <input
              aria-label="Name of the groove"
              placeholder={usual}
              value={name}
              maxLength={200}
              className="min-w-0 flex-1 rounded-md border border-hairline-strong bg-paper px-2.5 py-0.5 text-[13px]"
              onChange={(event) => setName(event.target.value)}
            />
            <Button type="submit" className="px-2.5 text-[13px]">
              Take it
            </Button>
          </div>
        </>
      )}
    </form>
  );
}
