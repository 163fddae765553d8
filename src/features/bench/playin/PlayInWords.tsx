import { useStore } from "zustand";
import { OneOf } from "../../../components/sentence/OneOf.tsx";
import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";
import { REPEAT_LOUDNESSES } from "../../../core/record/index.ts";
import { scopeOf } from "../../../core/song/index.ts";
import { formatGrid, GRID_CHOICES, type Grid, gridName, STRAIGHT_PERCENT } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import {
  changePlayIn,
  PLAY_IN_LIMITS,
  PLAYER_TIGHTNESSES,
  type PlayInSettings,
} from "../../../store/playin/play-in-state.ts";
import { PLAYER_PARTS } from "../../../store/playin/stand-in.ts";
import { stretchWords } from "../steps/stretch-words.ts";
import { MeasureInput } from "./MeasureInput.tsx";

const MODE_WORDS: Readonly<Record<PlayInSettings["mode"], string>> = {
  add: "Add to",
  replaceDrums: "Replace, of each drum that is struck,",
  replaceAll: "Replace all of",
  replaceHeld: "Replace, as long as a pad is held,",
};
const PLAYS_WORDS: Readonly<Record<PlayInSettings["plays"], string>> = {
  "kick,snare;hats,cymbals;ghosts": "kick and snare, then hats, then ghosts",
  "kick,snare": "kick and snare",
  "hats,cymbals": "hats and cymbals",
  ghosts: "ghost notes",
  all: "all of it",
};
const LOUDNESS_WORDS: Readonly<Record<(typeof REPEAT_LOUDNESSES)[number], string>> = {
  "as struck": "as loud as it was struck",
  pressure: "as loud as it is pressed",
  ramp: "growing louder",
};

const choicesOf = <Id extends string>(words: Readonly<Record<Id, string>>) =>
  (Object.entries(words) as [Id, string][]).map(([id, name]) => ({ id, name }));

const nothing = () => {};

/** How playing in goes, in a sentence of which each word can be changed. */
export function PlayInWords() {
  const { recording } = useBench();
  const settings = useStore(recording.state, (state) => state.settings);
  const change = (next: Partial<PlayInSettings>) => changePlayIn(recording.state, next);
  return (
    <div className="px-[18px] py-3">
      <h2 className="text-lead font-bold">Play in</h2>
      <p className="mt-1 text-base leading-[1.75]">
        From{" "}
        <OneOf
          label="Who plays"
          chosenId={settings.from}
          choices={choicesOf({ hand: "pads, keys or a device", player: "the stand-in player" })}
          onChoose={(from) => change({ from })}
        />
        {settings.from === "player" && <PlayerWords settings={settings} change={change} />}, <OverWords />
        <BeginWords settings={settings} change={change} />.{" "}
        <OneOf
          label="What becomes of what is there"
          chosenId={settings.mode}
          choices={choicesOf(MODE_WORDS)}
          onChoose={(mode) => change({ mode })}
        />{" "}
        what is there. <QuantizeWords settings={settings} change={change} />{" "}
        <RepeatWords settings={settings} change={change} />
      </p>
      <MeasureInput />
    </div>
  );
}

interface WordsProps {
  readonly settings: PlayInSettings;
  readonly change: (next: Partial<PlayInSettings>) => void;
}

function PlayerWords({ settings, change }: WordsProps) {
  return (
    <>
      , who plays{" "}
      <OneOf
        label="What the stand-in player plays"
        chosenId={settings.plays}
        choices={choicesOf(PLAYS_WORDS)}
        onChoose={(plays) => change({ plays })}
      />{" "}
      of <OneOf label="Part" chosenId={settings.part} choices={PLAYER_PARTS} onChoose={(part) => change({ part })} />,{" "}
      <OneOf
        label="How tight"
        chosenId={settings.tightness}
        choices={PLAYER_TIGHTNESSES.map((id) => ({ id, name: id === "none" ? "exact" : id }))}
        onChoose={(tightness) => change({ tightness })}
      />
    </>
  );
}

function OverWords() {
  const { recording } = useBench();
  const over = useStore(recording.state, (state) => state.settings.over);
  const loop = useBenchState((state) => state.loop);
  const meterMap = useBenchState((state) => state.maps.meterMap);
  const scopeName = useBenchState(({ shown, scopeId }) => scopeOf(shown, scopeId)?.name);
  // Seen through a pattern of the song, its bars are the loop, and it is recorded into that pattern.
  const what = scopeName === undefined ? "the loop" : `the pattern “${scopeName}”`;
  const loopName = loop ? `${what}, ${stretchWords(loop, meterMap)}` : "two bars from the playhead";
  return (
    <>
      over{" "}
      <OneOf
        label="Over what"
        chosenId={over}
        choices={[
          { id: "loop", name: loopName },
          { id: "on", name: "the take, on and on" },
        ]}
        onChoose={(next) => changePlayIn(recording.state, { over: next })}
      />
    </>
  );
}

/** It is counted in, or waits for the hand that plays. */
function BeginWords({ settings, change }: WordsProps) {
  if (settings.from === "player") return <CountInWords />;
  return (
    <>
      , begins{" "}
      <OneOf
        label="How it begins"
        chosenId={settings.waitsForStroke ? "stroke" : "counted"}
        choices={choicesOf({ counted: "counted in", stroke: "with the first stroke" })}
        onChoose={(next) => change({ waitsForStroke: next === "stroke" })}
      />
      {!settings.waitsForStroke && <CountInWords />}
    </>
  );
}

const barWords = (bars: number, what: string) =>
  bars === 0 ? `no ${what}` : bars === 1 ? `one bar of ${what}` : `${bars} bars of ${what}`;

/** What is heard before it records: bars that are counted, and bars of the take. */
function CountInWords() {
  const { recording } = useBench();
  const bars = useStore(recording.state, (state) => state.settings.countInBars);
  const preRollBars = useStore(recording.state, (state) => state.settings.preRollBars);
  return (
    <>
      , after{" "}
      <SentenceNumber
        {...PLAY_IN_LIMITS.countInBars}
        value={bars}
        usual={1}
        say={(value) => barWords(value, "count-in")}
        onPreview={nothing}
        onCommit={(next) => changePlayIn(recording.state, { countInBars: Math.round(next) })}
        onCancel={nothing}
      />{" "}
      and{" "}
      <SentenceNumber
        {...PLAY_IN_LIMITS.preRollBars}
        value={preRollBars}
        usual={0}
        say={(value) => barWords(value, "pre-roll")}
        onPreview={nothing}
        onCommit={(next) => changePlayIn(recording.state, { preRollBars: Math.round(next) })}
        onCancel={nothing}
      />
    </>
  );
}

const gridChoices = GRID_CHOICES.map((grid) => ({ id: formatGrid(grid), name: gridName(grid) }));
const gridOf = (id: string): Grid => GRID_CHOICES.find((grid) => formatGrid(grid) === id) ?? GRID_CHOICES[0]!;

function QuantizeWords({ settings, change }: WordsProps) {
  const { quantizes, grid, strengthPercent } = settings;
  const isOn = (
    <OneOf
      label="Quantize on the way in"
      chosenId={quantizes ? "on" : "off"}
      choices={choicesOf({ on: "Quantize on the way in", off: "Do not quantize" })}
      onChoose={(next) => change({ quantizes: next === "on" })}
    />
  );
  if (!quantizes) return <>{isOn}.</>;
  return (
    <>
      {isOn} by{" "}
      <SentenceNumber
        {...PLAY_IN_LIMITS.strengthPercent}
        value={strengthPercent}
        usual={100}
        onPreview={nothing}
        onCommit={(next) => change({ strengthPercent: next })}
        onCancel={nothing}
      />{" "}
      to{" "}
      <OneOf
        label="Grid on the way in"
        chosenId={formatGrid(grid)}
        choices={gridChoices}
        onChoose={(id) => change({ grid: gridOf(id) })}
      />
      .
    </>
  );
}

function RepeatWords({ settings, change }: WordsProps) {
  const { repeats, isLatched, repeatGrid, repeatLoudness } = settings;
  const { takesTurns = false, repeatSwingPercent = STRAIGHT_PERCENT } = settings;
  const chosen = repeats ? (isLatched ? "latched" : "held") : "off";
  const isOn = (
    <OneOf
      label="Repeat"
      chosenId={chosen}
      choices={choicesOf({
        off: "A pad strikes once",
        held: "Repeat a held pad",
        latched: "Repeat a pad until it is struck again",
      })}
      onChoose={(next) => change({ repeats: next !== "off", isLatched: next === "latched" })}
    />
  );
  if (!repeats) return <>{isOn}.</>;
  return (
    <>
      {isOn} in{" "}
      <OneOf
        label="Grid of repeats"
        chosenId={formatGrid(repeatGrid)}
        choices={gridChoices}
        onChoose={(id) => change({ repeatGrid: gridOf(id) })}
      />
      ,{" "}
      <SentenceNumber
        {...PLAY_IN_LIMITS.repeatSwingPercent}
        isInSentence
        value={repeatSwingPercent}
        usual={STRAIGHT_PERCENT}
        say={(value) => (value === STRAIGHT_PERCENT ? "straight" : `swing ${value} %`)}
        onPreview={nothing}
        onCommit={(next) => change({ repeatSwingPercent: next })}
        onCancel={nothing}
      />
      ,{" "}
      <OneOf
        label="How loud repeats are"
        chosenId={repeatLoudness}
        choices={REPEAT_LOUDNESSES.map((id) => ({ id, name: LOUDNESS_WORDS[id] }))}
        onChoose={(next) => change({ repeatLoudness: next })}
      />
      ; two pads{" "}
      <OneOf
        label="Two held pads"
        chosenId={takesTurns ? "turns" : "each"}
        choices={choicesOf({ each: "each for itself", turns: "by turns" })}
        onChoose={(next) => change({ takesTurns: next === "turns" })}
      />
      .
    </>
  );
}
