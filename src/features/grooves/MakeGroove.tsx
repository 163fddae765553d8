import { useState } from "react";
import { Button } from "../../components/Button.tsx";
import { SentenceChoice } from "../../components/sentence/SentenceChoice.tsx";
import { SentenceNumber } from "../../components/sentence/SentenceNumber.tsx";
import type { Groove } from "../../core/document/index.ts";
import { type GrooveNumbers, makeLayer, mixGrooves, PLAIN_NUMBERS } from "../../core/groove/index.ts";
import { formatGrid, GRID_CHOICES, gridName, parseGrid } from "../../core/time/index.ts";

interface MakeProps {
  readonly grooves: readonly Groove[];
  /** The one that is shown: it is what others are mixed with. */
  readonly shown: Groove;
  readonly onMake: (groove: Groove) => void;
}

/** New grooves: of numbers, or of two that there are. */
export function MakeGroove({ grooves, shown, onMake }: MakeProps) {
  const [numbers, setNumbers] = useState<GrooveNumbers>(PLAIN_NUMBERS);
  const [otherId, setOtherId] = useState<string | null>(null);
  const [percent, setPercent] = useState(50);
  const other = grooves.find(({ id }) => id === otherId) ?? grooves.find(({ id }) => id !== shown.id);
  const set = (change: Partial<GrooveNumbers>) => setNumbers({ ...numbers, ...change });
  const number = (
    label: string,
    field: "swingPercent" | "pushPercent" | "layBackPercent" | "weakPercent" | "drunkPercent",
    [min, max]: readonly [number, number],
    say: (value: number) => string,
  ) => (
    <SentenceNumber
      label={label}
      min={min}
      max={max}
      step={1}
      unit="%"
      say={say}
      value={numbers[field]}
      usual={PLAIN_NUMBERS[field]}
      onCommit={(value) => set({ [field]: value })}
    />
  );
  const ofStep = (zero: string, word: (value: number) => string) => (value: number) =>
    value === 0 ? zero : `${Math.abs(value)} % of a step ${word(value)}`;
  const make = () => {
    const { grid, lengthQuarters } = numbers;
    onMake({ id: "made", name: "Made of numbers", grid, lengthQuarters, layers: [makeLayer(numbers)] });
  };
  return (
    <section aria-label="Make a groove" className="mt-8 max-w-[760px] border-t border-hairline pt-3">
      <h2 className="font-bold">Make another</h2>
      <p className="mt-1 leading-[1.9]">
        Of numbers: in{" "}
        <SentenceChoice
          label="Steps"
          chosenId={formatGrid(numbers.grid)}
          groups={[
            GRID_CHOICES.filter(({ family }) => family !== "dotted").map((grid) => ({
              id: formatGrid(grid),
              name: gridName(grid),
            })),
          ]}
          onChoose={(id) => set({ grid: parseGrid(id) ?? numbers.grid })}
        />
        , {number("Swing", "swingPercent", [50, 75], (value) => (value === 50 ? "straight" : `swung ${value} %`))}, all
        of it{" "}
        {number(
          "Push",
          "pushPercent",
          [-30, 30],
          ofStep("on the grid", (value) => (value > 0 ? "behind" : "ahead")),
        )}
        , back-beats{" "}
        {number(
          "Lay back",
          "layBackPercent",
          [0, 30],
          ofStep("with the rest", () => "later"),
        )}
        , every second place{" "}
        {number("Weak", "weakPercent", [0, 80], (value) => (value === 0 ? "as loud" : `${value} % softer`))}, straying{" "}
        {number(
          "Stray",
          "drunkPercent",
          [0, 20],
          ofStep("off", () => "by chance"),
        )}
        {numbers.drunkPercent > 0 && (
          <>
            {" "}
            <button
              type="button"
              className="text-small font-bold text-spruce underline"
              onClick={() => set({ seed: numbers.seed + 1 })}
            >
              Roll again
            </button>
          </>
        )}
        :{" "}
        <Button className="px-2 py-0 text-small" onClick={make}>
          Show it
        </Button>
      </p>
      {other && (
        <p className="leading-[1.9]">
          Of two: “{shown.name}” with{" "}
          <SentenceNumber
            label="Blend with the other"
            min={0}
            max={100}
            step={1}
            unit="%"
            value={percent}
            usual={50}
            onCommit={setPercent}
          />{" "}
          of{" "}
          <SentenceChoice
            label="The other groove"
            chosenId={other.id}
            groups={[grooves.filter(({ id }) => id !== shown.id).map(({ id, name }) => ({ id, name }))]}
            onChoose={setOtherId}
          />
          :{" "}
          <Button
            className="px-2 py-0 text-small"
            onClick={() =>
              onMake({
                ...shown,
                id: "mixed",
                name: `${shown.name} and ${other.name}`,
                layers: mixGrooves(shown, other, percent / 100),
              })
            }
          >
            Mix them
          </Button>
        </p>
      )}
    </section>
  );
}
