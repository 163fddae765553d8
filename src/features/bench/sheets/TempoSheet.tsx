import { useEffect, useRef, useState } from "react";
import { Button } from "../../../components/Button.tsx";
import { Sheet } from "../../../components/page/Sheet.tsx";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";
import { ordinal } from "../../../core/ordinal.ts";
import { fileBpm, periodOfTaps, type TempoStudy, USUAL_STIFFNESS } from "../../../core/tempo/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { useTempoStudy } from "../../../store/project/use-tempo-study.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { TempoCurve } from "./TempoCurve.tsx";
import { giveFileTimeBack, takeFoundTime } from "./tempo-actions.ts";

/** The tempo of a take that was played to no click: found, shown, corrected, and followed or straightened. */
export function TempoSheet() {
  const { store } = useBench();
  const isOpen = useBenchState((state) => state.sheet === "tempo");
  // Another time is that of the take, and not of one pattern of it.
  useEffect(() => store.setScope(null), [store]);
  return (
    <Sheet
      title="Tempo and bars"
      lead="For takes that were played to no click, or to one that the file does not know. Every hit stays at the moment at which it was played."
      isOpen={isOpen}
      onOpenChange={(willOpen) => store.showSheet("tempo", willOpen)}
    >
      {isOpen && <TempoForm onDone={() => store.showSheet("tempo", false)} />}
    </Sheet>
  );
}

/** Other ways to count the beats that were found. */
const COUNTS = [
  { id: "1", name: "as they were found", factor: 1 },
  { id: "1/2", name: "twice as fast", factor: 1 / 2 },
  { id: "2", name: "half as fast", factor: 2 },
  { id: "3/2", name: "two in the place of three", factor: 3 / 2 },
  { id: "2/3", name: "three in the place of two", factor: 2 / 3 },
] as const;
const UNITS = [
  { id: "quarter", name: "quarters" },
  { id: "eighth", name: "eighths" },
  { id: "dotted", name: "dotted quarters" },
] as const;

function TempoForm({ onDone }: { onDone: () => void }) {
  const bench = useBench();
  const pattern = useBenchState((state) => state.pattern);
  const { study, isLooking, stiffness, seekBeats, countAs, shiftBeat } = useTempoStudy();
  const [count, setCount] = useState<string>("1");
  const [steadyBpm, setSteadyBpm] = useState<number | null>(null);
  const done = (act: () => string) => {
    doAndSay(bench, act);
    onDone();
  };
  if (pattern.timeline?.barChanges) {
    return (
      <p>
        Bars were put into this take, or taken out of it: its tempo can be found as long as all bars are those that were
        played. Undo takes them back.
      </p>
    );
  }
  if (!study) return <p role="status">Looking for the beats…</p>;
  const back = pattern.timeline && (
    <Button onClick={() => done(() => giveFileTimeBack(bench))}>Back to the time of the file</Button>
  );
  if (study.verdict === "none") {
    return (
      <>
        <p>There is too little in this take to hear a beat in it.</p>
        {back && <p className="mt-4">{back}</p>}
      </>
    );
  }
  const recount = (id: string) => {
    const chosen = COUNTS.find((one) => one.id === id);
    if (!chosen) return;
    const before = COUNTS.find((one) => one.id === count)?.factor ?? 1;
    const meanMs = 60_000 / study.bpm;
    setCount(id);
    seekBeats({ periodMs: (meanMs / before) * chosen.factor });
  };
  const straightBpm = steadyBpm ?? Math.round(study.bpm * 10) / 10;
  return (
    <div aria-busy={isLooking}>
      <p>
        <Verdict study={study} fileBpm={fileBpm(pattern)} />
      </p>
      <TempoCurve study={study} fileBpm={fileBpm(pattern)} onShift={shiftBeat} />
      <p className="mt-3 leading-[1.75]">
        Count the beats <Choice label="Count" chosenId={count} choices={COUNTS} onChoose={recount} />:{" "}
        <Amount
          label="Beats to the bar"
          value={study.beatsPerBar}
          range={[2, 16]}
          onCommit={(beatsPerBar) => countAs({ beatsPerBar })}
        />{" "}
        <Choice
          label="Written as"
          chosenId={study.beatUnit}
          choices={UNITS}
          onChoose={(id) => {
            const unit = UNITS.find((one) => one.id === id);
            if (unit) countAs({ beatUnit: unit.id });
          }}
        />{" "}
        to the bar, the first bar from the{" "}
        <Amount
          label="First beat"
          value={study.firstDownbeat + 1}
          range={[1, study.beatsPerBar]}
          say={ordinal}
          onCommit={(first) => countAs({ firstDownbeat: first - 1 })}
        />{" "}
        beat that is heard. Keep it even by{" "}
        <Amount
          label="Evenness"
          value={stiffness ?? USUAL_STIFFNESS}
          range={[0, 100]}
          unit="%"
          onCommit={(value) => seekBeats({ stiffness: value })}
        />
        .
      </p>
      <TapAlong
        onPeriod={(periodMs) => {
          setCount("1");
          seekBeats({ periodMs });
        }}
      />
      <p className="mt-4 flex flex-wrap items-center gap-2">
        <Button onClick={() => done(() => takeFoundTime(bench, study, null))}>Follow it</Button>
        <Button onClick={() => done(() => takeFoundTime(bench, study, straightBpm))}>Straighten it</Button>
        <span>
          to{" "}
          <Amount
            label="Steady tempo"
            value={straightBpm}
            range={[30, 300]}
            unit="bpm"
            step={0.1}
            onCommit={setSteadyBpm}
          />
        </span>
        {back}
      </p>
    </div>
  );
}

function Verdict({ study, fileBpm: counted }: { study: TempoStudy; fileBpm: number }) {
  const bpm = (value: number) => <strong>{Math.round(value * 10) / 10} bpm</strong>;
  switch (study.verdict) {
    case "click":
      return (
        <>This take follows the time of its file: there is nothing to do here, unless its bars are counted wrong.</>
      );
    case "steady":
      return (
        <>
          It was played to a steady {bpm(study.bpm)}, while the file counts {bpm(counted)}.
        </>
      );
    default:
      return (
        <>
          It was played freely, from {bpm(study.slowestBpm)} to {bpm(study.fastestBpm)}, while the file counts{" "}
          {bpm(counted)}.
        </>
      );
  }
}

interface ChoiceProps {
  readonly label: string;
  readonly chosenId: string;
  readonly choices: readonly { readonly id: string; readonly name: string }[];
  readonly onChoose: (id: string) => void;
}

function Choice({ label, chosenId, choices, onChoose }: ChoiceProps) {
  return (
    <SentenceChoice
      label={label}
      chosenId={chosenId}
      groups={[choices.map(({ id, name }) => ({ id, name }))]}
      onChoose={onChoose}
    />
  );
}

interface AmountProps {
  readonly label: string;
  readonly value: number;
  readonly range: readonly [number, number];
  readonly unit?: string;
  readonly step?: number;
  readonly say?: (value: number) => string;
  readonly onCommit: (value: number) => void;
}

function Amount({ label, value, range: [min, max], unit = "", step = 1, say, onCommit }: AmountProps) {
  return (
    <SentenceNumber
      label={label}
      unit={unit}
      min={min}
      max={max}
      step={step}
      value={value}
      usual={value}
      {...(say ? { say } : unit === "" ? { say: String } : {})}
      onCommit={onCommit}
    />
  );
}

const FEWEST_TAPS = 4;
const PAUSE_MS = 2500;

/** Beats that are tapped while the take plays say how fast it is to be counted. */
function TapAlong({ onPeriod }: { onPeriod: (periodMs: number) => void }) {
  const { playback } = useBench();
  const isPlaying = useBenchState((state) => state.isPlaying);
  const taps = useRef<number[]>([]);
  const [tapped, setTapped] = useState(0);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  const tap = (ms: number) => {
    // After a pause somebody begins anew.
    if (ms - (taps.current.at(-1) ?? 0) > PAUSE_MS) taps.current = [];
    taps.current.push(ms);
    setTapped(taps.current.length);
    clearTimeout(timer.current);
    if (taps.current.length < FEWEST_TAPS) return;
    // Looked at once the taps are over, and not after each of them.
    timer.current = setTimeout(() => {
      const periodMs = periodOfTaps(taps.current);
      if (periodMs !== undefined) onPeriod(periodMs);
    }, 900);
  };
  const period = periodOfTaps(taps.current);
  return (
    <p className="mt-3 flex flex-wrap items-center gap-2 text-small">
      <Button className="px-2.5 text-small" onClick={() => void playback.toggle()}>
        {isPlaying ? "Stop" : "Play it"}
      </Button>
      <Button className="px-2.5 text-small" onClick={(event) => tap(event.timeStamp)}>
        Tap the beat
      </Button>
      <span className="text-muted" role="status" aria-label="Taps">
        {tapped === 0 || period === undefined
          ? "and tap along: with the pointer, or Space while “Tap the beat” has the focus."
          : `${tapped} taps, ${Math.round(600_000 / period) / 10} bpm${tapped < FEWEST_TAPS ? "; go on" : ""}`}
      </span>
    </p>
  );
}
