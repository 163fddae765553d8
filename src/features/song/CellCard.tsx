import { Button } from "../../components/Button.tsx";
import { Refusal } from "../../components/messages/Refusal.tsx";
import { SentenceChoice } from "../../components/sentence/SentenceChoice.tsx";
import { SentenceNumber } from "../../components/sentence/SentenceNumber.tsx";
import { type Groove, OWN_LENGTH_LIMIT } from "../../core/document/index.ts";
import { type Treatment, USUAL_DYNAMICS } from "../../core/document/treatment.ts";
import { grooveWords } from "../../core/groove/index.ts";
import { sayLimited } from "../../core/limit.ts";
import {
  type Arrangement,
  type CellChange,
  type CellTreatment,
  changeCells,
  layOnCells,
  type SongPattern,
  treatmentIn,
} from "../../core/song/index.ts";
import { bpmAt, gridName, handGridAt } from "../../core/time/index.ts";
import { useBench, useBenchState } from "../../store/bench/bench-context.ts";
import type { SongDesk } from "../../store/playback/use-song.ts";
import type { GrooveShelf } from "../../store/shelf/use-grooves.ts";
import { ProfileChart } from "./ProfileChart.tsx";
import {
  arrangeBy,
  arrangementOf,
  type CellRange,
  cellsIn,
  choiceWords,
  clearCells,
  previewArrange,
  sharedBy,
  sixteenthsOf,
} from "./song-actions.ts";
import { TakeFromCells } from "./TakeFromCells.tsx";

const USUAL = { timingPercent: 100, accentPercent: 60 } as const;

interface CellCardProps {
  readonly desk: SongDesk;
  readonly shelf: GrooveShelf;
  readonly range: CellRange | null;
}

/** Settings of the selected cells: their groove and how far, push, pull and loudness, all live. */
export function CellCard({ desk, shelf, range }: CellCardProps) {
  const bench = useBench();
  const { store } = bench;
  const take = useBenchState((state) => state.shown);
  const bpm = useBenchState((state) => bpmAt(state.maps.tempoMap, 0));
  const arrangement = arrangementOf(take);
  const choice = cellsIn(
    range,
    arrangement.patterns,
    take.lanes.map(({ voiceId }) => voiceId),
  );
  const { places } = choice;
  if (places.length === 0) {
    return (
      <section aria-label="Settings of the selected cells" className="text-muted">
        Choose a cell, a row by its pattern, a column by its voice, or all: what they do is set here.
      </section>
    );
  }
  const words = choiceWords(choice, arrangement.patterns, take);
  const grooves = shelf.grooves ?? [];
  const laneOf = (voiceId: string) => take.lanes.find((lane) => lane.voiceId === voiceId)!;
  const effective = (pattern: SongPattern, voiceId: string) =>
    treatmentIn(arrangement, pattern, laneOf(voiceId)).treatment;
  const shared = <Value,>(read: (cell: CellTreatment, voiceId: string) => Value) => sharedBy(arrangement, places, read);
  const feelId = shared(({ feel }) => (feel === undefined ? "take" : feel === null ? "none" : feel.grooveId));
  const hasFeel = places.some(({ patternId, voiceId }) => {
    const pattern = arrangement.patterns.find(({ id }) => id === patternId);
    return pattern && effective(pattern, voiceId).feel;
  });
  type Change = (before: Arrangement) => Arrangement;
  const inCells =
    (make: (cell: CellTreatment) => CellChange): Change =>
    (before) =>
      changeCells(before, places, make);
  /** For steps that a cell has as a whole: what it does now, with something changed. */
  const bySettling =
    (make: (treatment: Treatment) => CellChange): Change =>
    (before) =>
      places.reduce((changed, place) => {
        const pattern = changed.patterns.find(({ id }) => id === place.patternId);
        if (!pattern) return changed;
        const { settling } = treatmentIn(changed, pattern, laneOf(place.voiceId));
        return changeCells(changed, [place], () => make(settling));
      }, before);
  const change = (what: string, make: Change) => arrangeBy(bench, `${what}: ${words}`, make);
  const lay = (groove: Groove) =>
    arrangeBy(bench, `Apply ${groove.name} to ${words}`, (before) => layOnCells(before, places, groove, USUAL));
  const number = (what: string, value: number | undefined, usual: number, make: (value: number) => Change) => ({
    label: what,
    value: value ?? usual,
    usual,
    onPreview: (next: number) => previewArrange(bench, make(next)),
    onCommit: (next: number) => change(what, make(next)),
    onCancel: () => store.endPreview(),
    ...(value === undefined ? { say: () => "as set" } : {}),
  });
  const amount = (what: string, field: "timingPercent" | "accentPercent") => {
    const value = shared(
      (cell, voiceId) => cell.feel?.[field] ?? laneOf(voiceId).treatment.feel?.[field] ?? USUAL[field],
    );
    return (
      <SentenceNumber
        min={-200}
        max={200}
        step={1}
        unit="%, below 0 is away from it"
        say={(shown) => `${shown} %`}
        {...number(what, value, USUAL[field], (next) =>
          inCells(({ feel }) => (feel ? { feel: { ...feel, [field]: Math.round(next) } } : {})),
        )}
      />
    );
  };
  const first = arrangement.patterns.find(({ id }) => id === places[0]!.patternId)!;
  const ofFirst = effective(first, places[0]!.voiceId);
  const strength = shared((cell, voiceId) => {
    const { isOn, strengthPercent } = cell.timing ?? laneOf(voiceId).treatment.timing;
    return isOn ? strengthPercent : 0;
  });
  const loudness = shared((cell, voiceId) => {
    const dynamics = cell.dynamics ?? laneOf(voiceId).treatment.dynamics;
    return dynamics?.isOn ? dynamics.loudnessPercent : 100;
  });
  const inGroups = (isBuiltIn: boolean) =>
    grooves
      .filter((one) => one.isBuiltIn === isBuiltIn)
      .map((one) => ({ id: one.id, name: one.name, note: grooveWords(one, bpm) }));
  const isOnShelf = grooves.some(({ id }) => id === feelId);
  const ofSong = Object.values(arrangement.grooves).filter(({ id }) => !grooves.some((one) => one.id === id));
  const voiceOfOne = choice.voiceIds.length === 1 ? choice.voiceIds[0]! : null;
  return (
    <section aria-label="Settings of the selected cells">
      <h2 className="text-lead leading-tight font-bold">{words}</h2>
      <p className="text-fine text-muted">
        {places.length} {places.length === 1 ? "cell" : "cells"}
      </p>
      <p className="mt-1 leading-[1.8]">
        Lay{" "}
        <SentenceChoice
          label="Groove of the cells"
          chosenId={feelId ?? "several"}
          groups={[
            [
              ...(feelId === undefined ? [{ id: "several", name: "several grooves" }] : []),
              { id: "take", name: "as the take" },
              { id: "none", name: "no groove" },
            ],
            ofSong.map(({ id, name }) => ({ id, name })),
            inGroups(true),
            inGroups(false),
          ].filter(({ length }) => length > 0)}
          onPreview={(id) => {
            const groove = grooves.find((one) => one.id === id);
            if (groove) previewArrange(bench, (before) => layOnCells(before, places, groove, USUAL));
            else store.endPreview();
          }}
          onChoose={(id) => {
            const groove = grooves.find((one) => one.id === id) ?? ofSong.find((one) => one.id === id);
            if (id === "take")
              change(
                "Follow the take's groove",
                inCells(() => ({ feel: undefined })),
              );
            else if (id === "none")
              change(
                "No groove",
                inCells(() => ({ feel: null })),
              );
            else if (groove) lay(groove);
          }}
          onCancel={() => store.endPreview()}
        />
        {hasFeel && feelId !== "take" && feelId !== "none" && (
          <>
            , timing {amount("Groove timing", "timingPercent")}, loudness {amount("Groove loudness", "accentPercent")}
          </>
        )}
        . Put{" "}
        <SentenceNumber
          min={-60}
          max={60}
          step={0.5}
          unit="ms, ahead is negative"
          say={(value) => (value === 0 ? "on the beat" : `${Math.abs(value)} ms ${value < 0 ? "ahead" : "behind"}`)}
          {...number(
            "Push",
            shared((cell, voiceId) => cell.pushMs ?? laneOf(voiceId).treatment.timing.pushMs),
            0,
            (pushMs) => inCells(() => ({ pushMs })),
          )}
        />
        . Pull{" "}
        <SentenceNumber
          min={0}
          max={100}
          step={1}
          unit="%"
          say={(value) => (value === 0 ? "nothing" : `${value} %`)}
          {...number("Pull", strength, ofFirst.timing.strengthPercent, (next) =>
            bySettling(({ timing }) => ({ timing: { ...timing, isOn: true, strengthPercent: Math.round(next) } })),
          )}
        />{" "}
        to the grid, at{" "}
        <SentenceNumber
          min={0}
          max={200}
          step={1}
          unit="% velocity"
          say={(value) => `${value} % velocity`}
          {...number("Loudness", loudness, 100, (next) =>
            bySettling(({ dynamics = USUAL_DYNAMICS }) => ({
              dynamics: { ...dynamics, isOn: true, loudnessPercent: Math.round(next) },
            })),
          )}
        />
        , its length{" "}
        <SentenceNumber
          min={OWN_LENGTH_LIMIT.min}
          max={OWN_LENGTH_LIMIT.max}
          step={1}
          unit="sixteenths, 0 as the pattern"
          say={(count) => sayLimited(OWN_LENGTH_LIMIT, count)}
          {...number(
            OWN_LENGTH_LIMIT.label,
            shared(({ ownLengthTicks }) => sixteenthsOf(ownLengthTicks, take.ppq)),
            0,
            (count) => inCells(() => ({ ownLengthTicks: count >= 1 ? Math.round((count * take.ppq) / 4) : undefined })),
          )}
        />
        .
      </p>
      {feelId && !isOnShelf && feelId !== "take" && feelId !== "none" && feelId !== "several" && (
        <p className="text-fine text-muted">This groove belongs to the song; it is not on the shelf.</p>
      )}
      <Mismatch ofFirst={ofFirst} pattern={first} />
      {shelf.problem && (
        <Refusal className="mt-1">
          {shelf.problem.message} {shelf.problem.remedy}
        </Refusal>
      )}
      {voiceOfOne && <ProfileChart desk={desk} voiceId={voiceOfOne} patternIds={choice.patternIds} />}
      <Button
        className="mt-2 px-2.5 text-small"
        onClick={() => arrangeBy(bench, `As the take: ${words}`, (before) => clearCells(before, places))}
      >
        As the take again
      </Button>
      <TakeFromCells desk={desk} shelf={shelf} places={places} words={words} onTaken={lay} />
    </section>
  );
}

/** Says where a groove and what it lies on are counted otherwise: places in the beat decide. */
function Mismatch({
  ofFirst,
  pattern,
}: {
  ofFirst: ReturnType<typeof treatmentIn>["treatment"];
  pattern: SongPattern;
}) {
  const { feel, timing } = ofFirst;
  const bars = useBenchState((state) => state.maps.meterMap);
  if (!feel) return null;
  const bar = pattern.bars.find((one) => one !== null) ?? 0;
  const segment = bars.segments.findLast(({ startBarIndex }) => startBarIndex <= bar) ?? bars.segments[0]!;
  const barQuarters = segment.barTicks / bars.ppq;
  const { lengthQuarters, grid } = feel.groove;
  const isOtherMeter = lengthQuarters % barQuarters !== 0 && barQuarters % lengthQuarters !== 0;
  const own = handGridAt(timing, 0);
  const isOtherGrid = own.family !== grid.family || own.denominator > grid.denominator;
  if (!isOtherMeter && !isOtherGrid) return null;
  return (
    <p className="mt-1 text-small text-amber-text">
      {isOtherMeter &&
        `The groove is ${lengthQuarters} quarters long and a bar here ${barQuarters}: it restarts at each bar line. `}
      {isOtherGrid && `It is counted in ${gridName(grid)}, the voice in ${gridName(own)}: places in the beat decide.`}
    </p>
  );
}
