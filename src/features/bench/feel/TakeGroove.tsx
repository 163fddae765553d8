import { type FormEvent, useMemo, useState } from "react";
import { Button } from "../../../components/Button.tsx";
import { GrooveChart } from "../../../components/GrooveChart.tsx";
import { say } from "../../../components/messages/say.ts";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import type { Groove } from "../../../core/document/index.ts";
import { grooveWords } from "../../../core/groove/index.ts";
import { bpmAt, formatGrid, handGridAt, parseGrid, withSwingShare } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import type { GrooveShelf } from "../../../store/shelf/use-grooves.ts";
import { GRID_GROUPS } from "../steps/grid-groups.ts";
import { layersFrom, slotsPerQuarter, type TakeSetting, type TakeSource } from "./feel-actions.ts";

interface TakeProps {
  readonly lane: LaneView;
  readonly shelf: GrooveShelf;
  readonly onTaken: (groove: Groove) => void;
}

/** Takes a groove from what is played here, shows it, and keeps it on the shelf. */
export function TakeGroove({ lane, shelf, onTaken }: TakeProps) {
  const { store } = useBench();
  const { voiceId, voice, maps } = lane;
  const barQuarters = (maps.meterMap.segments[0]?.barTicks ?? 4 * maps.meterMap.ppq) / maps.meterMap.ppq;
  const [setting, setSetting] = useState<TakeSetting>({
    source: "voice",
    side: "recorded",
    // As the voice is played; swing is what a groove says itself.
    grid: withSwingShare(handGridAt(lane.treatment.timing, 0), 0),
    lengthQuarters: barQuarters,
    isByFamily: false,
  });
  const [name, setName] = useState("");
  // On the Shelf it is found by the take that it is from.
  const projectName = useBenchState((state) => state.project.name);
  const usual = setting.source === "voice" ? `${projectName}, ${voice.name.toLowerCase()}` : projectName;
  const pickedCount = useBenchState((state) => state.picked.size);
  const hasLoop = useBenchState((state) => state.loop !== null);
  const pattern = useBenchState((state) => state.pattern);
  const picked = useBenchState((state) => state.picked);
  const loop = useBenchState((state) => state.loop);
  // What is taken depends on what is saved, picked and looped; a preview of something else does not change it.
  const layers = useMemo(
    () => layersFrom(store.getState(), voiceId, setting),
    [store, voiceId, setting, pattern, picked, loop],
  );
  const bpm = bpmAt(maps.tempoMap, 0);
  const groove = { ...setting, id: "taken", name, layers };
  const hitCount = layers.reduce((sum, { slots }) => sum + slots.reduce((own, slot) => own + slot.hitCount, 0), 0);
  const choice = <Id extends string>(
    label: string,
    chosenId: Id,
    choices: readonly { readonly id: Id; readonly name: string }[],
    set: (id: Id) => Partial<TakeSetting>,
  ) => (
    <SentenceChoice
      label={label}
      chosenId={chosenId}
      groups={[choices]}
      onChoose={(id) => setSetting({ ...setting, ...set(choices.find((one) => one.id === id)?.id ?? chosenId) })}
    />
  );
  const sources: readonly { readonly id: TakeSource; readonly name: string }[] = [
    { id: "voice", name: "this voice" },
    { id: "all", name: "all drums" },
    ...(pickedCount > 0 ? [{ id: "picked" as const, name: "the selection" }] : []),
    ...(hasLoop ? [{ id: "loop" as const, name: "the loop" }] : []),
  ];
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const wanted = name.trim() || usual;
    const { lengthQuarters, grid } = setting;
    if (!(await shelf.keep({ name: wanted, lengthQuarters, grid, layers }))) return;
    say(`Saved the groove “${wanted}” to the Shelf, for any voice of any take.`);
    onTaken({ id: `taken ${wanted}`, name: wanted, lengthQuarters, grid, layers });
    setName("");
  };
  return (
    <section aria-label="Extract groove">
      <p className="leading-[1.75]">
        From {choice("Groove from", setting.source, sources, (source) => ({ source }))}, as{" "}
        {choice(
          "Which side",
          setting.side,
          [
            { id: "recorded", name: "recorded" },
            { id: "cleaned", name: "cleaned" },
          ],
          (side) => ({ side }),
        )}
        , in{" "}
        <SentenceChoice
          label="Places of the groove"
          chosenId={formatGrid(setting.grid)}
          groups={GRID_GROUPS}
          onChoose={(id) => setSetting({ ...setting, grid: parseGrid(id) ?? setting.grid })}
        />
        , over{" "}
        {choice(
          "Length of the groove",
          String(setting.lengthQuarters),
          [
            { id: "1", name: "a quarter" },
            { id: String(barQuarters), name: "a bar" },
            { id: String(2 * barQuarters), name: "two bars" },
          ],
          (quarters) => ({ lengthQuarters: Number(quarters) }),
        )}
        ,{" "}
        {choice(
          "Layers",
          setting.isByFamily ? "family" : "all",
          [
            { id: "all", name: "one for all drums" },
            { id: "family", name: "one for each family" },
          ],
          (id) => ({ isByFamily: id === "family" }),
        )}
        :
      </p>
      {layers[0] ? (
        <>
          <GrooveChart
            layer={layers.find(({ family }) => family === voice.family) ?? layers[0]}
            slotsPerQuarter={slotsPerQuarter(setting)}
            ink={`var(--${voice.ink})`}
            label={`What would be extracted: ${grooveWords(groove, bpm)}`}
          />
          <p className="text-small text-muted">
            {grooveWords(groove, bpm)}, from {hitCount.toLocaleString("en")} {hitCount === 1 ? "hit" : "hits"}. Hollow
            steps were not played.
          </p>
          <form onSubmit={(event) => void submit(event)} className="mt-1.5 flex gap-2">
            <input
              aria-label="Name of the groove"
              placeholder={usual}
              value={name}
              maxLength={200}
              className="min-w-0 flex-1 rounded-md border border-hairline-strong bg-paper px-2.5 py-0.5 text-small"
              onChange={(event) => setName(event.target.value)}
            />
            <Button type="submit" className="px-2.5 text-small">
              Save
            </Button>
          </form>
        </>
      ) : (
        <p className="text-small text-muted">Nothing is played on these steps.</p>
      )}
    </section>
  );
}
