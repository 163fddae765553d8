import { type FormEvent, useEffect, useState } from "react";
import { Button } from "../../components/Button.tsx";
import { GrooveChart } from "../../components/GrooveChart.tsx";
import { say } from "../../components/messages/say.ts";
import { OneOf } from "../../components/sentence/OneOf.tsx";
import { type Groove, type GrooveLayer, slotCountOf } from "../../core/document/index.ts";
import { grooveWords } from "../../core/groove/index.ts";
import type { CellPlace } from "../../core/song/index.ts";
import {
  bpmAt,
  formatGrid,
  GRID_CHOICES,
  gridName,
  handGridAt,
  parseGrid,
  withSwingShare,
} from "../../core/time/index.ts";
import { useBenchState } from "../../store/bench/bench-context.ts";
import type { SongDesk } from "../../store/playback/use-song.ts";
import type { GrooveShelf } from "../../store/shelf/use-grooves.ts";

interface TakeFromCellsProps {
  readonly desk: SongDesk;
  readonly shelf: GrooveShelf;
  readonly places: readonly CellPlace[];
  readonly words: string;
  readonly onTaken: (groove: Groove) => void;
}

const GRIDS = GRID_CHOICES.map((grid) => ({ id: formatGrid(grid), name: gridName(grid) }));
const LENGTHS = [
  { id: "beat", name: "a quarter" },
  { id: "bar", name: "a bar" },
  { id: "two", name: "two bars" },
] as const;
const LAYERS = [
  { id: "family", name: "one layer for each family" },
  { id: "all", name: "one for all drums" },
] as const;
const SIDES = [
  { id: "recorded", name: "recorded" },
  { id: "cleaned", name: "cleaned" },
] as const;

/** Takes the groove of the chosen cells, shows it, and keeps it on the shelf for the others. */
export function TakeFromCells({ desk, shelf, places, words, onTaken }: TakeFromCellsProps) {
  const [isOpen, setIsOpen] = useState(false);
  return isOpen ? (
    <TakeForm
      desk={desk}
      shelf={shelf}
      places={places}
      words={words}
      onTaken={(groove) => {
        onTaken(groove);
        setIsOpen(false);
      }}
    />
  ) : (
    <Button className="mt-2 ml-2 px-2.5 text-small" onClick={() => setIsOpen(true)}>
      Extract groove …
    </Button>
  );
}

function TakeForm({ desk, shelf, places, words, onTaken }: TakeFromCellsProps) {
  const take = useBenchState((state) => state.pattern);
  const maps = useBenchState((state) => state.maps);
  const [side, setSide] = useState<(typeof SIDES)[number]["id"]>("recorded");
  const [length, setLength] = useState<(typeof LENGTHS)[number]["id"]>("bar");
  const [kind, setKind] = useState<(typeof LAYERS)[number]["id"]>("family");
  const [gridId, setGridId] = useState<string | null>(null);
  const [name, setName] = useState("");
  const [layers, setLayers] = useState<readonly GrooveLayer[] | null>(null);
  const barQuarters = (maps.meterMap.segments[0]?.barTicks ?? 4 * maps.meterMap.ppq) / maps.meterMap.ppq;
  const lengthQuarters = { beat: 1, bar: barQuarters, two: 2 * barQuarters }[length];
  const voiceIds = new Set(places.map(({ voiceId }) => voiceId));
  // In the finest steps of the chosen voices: a coarser groove would say nothing of what is between.
  const grids = take.lanes.flatMap(({ voiceId, treatment }) =>
    voiceIds.has(voiceId) ? [withSwingShare(handGridAt(treatment.timing, 0), 0)] : [],
  );
  const finest = grids.toSorted((a, b) => b.denominator - a.denominator)[0]!;
  const grid = (gridId && parseGrid(gridId)) || finest;
  const key = JSON.stringify([places, { grid, lengthQuarters, isByFamily: kind === "family", side }]);
  useEffect(() => {
    let isOld = false;
    const [wanted, wish] = JSON.parse(key);
    void desk.take(wanted, wish).then((taken) => {
      if (!isOld) setLayers(taken);
    });
    return () => {
      isOld = true;
    };
  }, [desk, key]);
  const bpm = bpmAt(maps.tempoMap, 0);
  const projectName = useBenchState((state) => state.project.name);
  const usual = `${projectName}, ${words.charAt(0).toLowerCase()}${words.slice(1)}`;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (!layers) return;
    const wanted = name.trim() || usual;
    if (!(await shelf.keep({ name: wanted, lengthQuarters, grid, layers }))) return;
    onTaken({ id: `taken ${wanted}`, name: wanted, lengthQuarters, grid, layers });
    say(`“${wanted}” is on the shelf. Select other cells and apply it to them.`);
  };
  return (
    <form
      aria-label="Extract groove"
      onSubmit={(event) => void submit(event)}
      className="mt-3 border-t border-hairline pt-2"
    >
      <p className="leading-[1.75]">
        Take their groove as <OneOf label="Which side" choices={SIDES} chosenId={side} onChoose={setSide} />, in{" "}
        <OneOf label="Places of the groove" choices={GRIDS} chosenId={formatGrid(grid)} onChoose={setGridId} />, over{" "}
        <OneOf label="Length of the groove" choices={LENGTHS} chosenId={length} onChoose={setLength} />,{" "}
        <OneOf label="Layers" choices={LAYERS} chosenId={kind} onChoose={setKind} />:
      </p>
      {layers === null ? (
        <p className="text-small text-muted">Listening …</p>
      ) : layers.length === 0 ? (
        <p className="text-small text-muted">Nothing is played in these cells.</p>
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
          <p className="text-small text-muted">
            {grooveWords({ id: "taken", name, lengthQuarters, grid, layers }, bpm)},{" "}
            {steadyWords(layers, lengthQuarters, bpm)}. Hollow places were not played.
          </p>
          <div className="mt-1.5 flex gap-2">
            <input
              aria-label="Name of the groove"
              placeholder={usual}
              value={name}
              maxLength={200}
              className="min-w-0 flex-1 rounded-md border border-hairline-strong bg-paper px-2.5 py-0.5 text-small"
              onChange={(event) => setName(event.target.value)}
            />
            <Button type="submit" className="px-2.5 text-small">
              Extract
            </Button>
          </div>
        </>
      )}
    </form>
  );
}

/** How many hits a groove was learned from, and how steady they are. */
function steadyWords(layers: readonly GrooveLayer[], lengthQuarters: number, bpm: number): string {
  const slots = layers.flatMap((layer) => layer.slots.filter(({ hitCount }) => hitCount > 0));
  const count = slots.reduce((sum, { hitCount }) => sum + hitCount, 0);
  const spread = slots.reduce((sum, slot) => sum + slot.hitCount * slot.spread, 0) / Math.max(1, count);
  const stepMs = ((60_000 / bpm) * lengthQuarters) / Math.max(1, layers[0]?.slots.length ?? 1);
  return `from ${count.toLocaleString("en")} ${count === 1 ? "hit" : "hits"}, steady to ± ${Math.round(spread * stepMs)} ms`;
}
