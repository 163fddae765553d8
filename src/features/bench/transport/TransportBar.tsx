import { useRef } from "react";
import { Hint } from "../../../components/Hint.tsx";
import { Key } from "../../../components/Key.tsx";
import { PlayButton } from "../../../components/PlayButton.tsx";
import { SideChoice } from "../../../components/SideChoice.tsx";
import { barAt, bpmAt, tickToBarBeat } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { usePlayFrames } from "../../../store/playback/use-play-frames.ts";
import { useKeyNames } from "../commands/command-keys.ts";
import { commandById } from "../commands/commands.ts";
import { RecordButton, RecordingWords } from "../playin/RecordButton.tsx";
import { stretchWords } from "../steps/stretch-words.ts";
import { StatusLine } from "./StatusLine.tsx";

/** Transport, recorded or cleaned, and the selection in words. */
export function TransportBar() {
  const bench = useBench();
  const isPlaying = useBenchState((state) => state.isPlaying);
  const keyName = useKeyNames();
  return (
    <footer className="flex min-h-[60px] shrink-0 flex-wrap items-center gap-x-6 border-t border-hairline bg-sheet px-[18px] max-lg:gap-x-3 max-lg:px-3 short:min-h-10 short:flex-nowrap short:overflow-x-auto">
      <PlayButton isPlaying={isPlaying} keys={keyName("play")} onToggle={() => void bench.playback.toggle()} />
      <RecordButton />
      <PlaceWords />
      <LoopAndClick />
      <RecordingWords>
        <SideSwitch />
        <StatusLine />
      </RecordingWords>
    </footer>
  );
}

/** The place in bars and beats, with tempo and meter, written without React while it plays. */
function PlaceWords() {
  const { store } = useBench();
  const keyName = useKeyNames();
  const place = useRef<HTMLSpanElement>(null);
  const tempo = useRef<HTMLElement>(null);
  const meter = useRef<HTMLElement>(null);
  const write = (element: HTMLElement | null, text: string) => {
    if (element && element.textContent !== text) element.textContent = text;
  };
  usePlayFrames((tick) => {
    const { maps } = store.getState();
    const { barIndex, beatIndex } = tickToBarBeat(maps.meterMap, tick);
    const { numerator, denominator } = barAt(maps.meterMap, tick).meter;
    write(place.current, `${barIndex + 1}:${beatIndex + 1}`);
    write(tempo.current, String(Math.round(bpmAt(maps.tempoMap, tick) * 10) / 10));
    write(meter.current, `${numerator}/${denominator}`);
  });
  return (
    <>
      <span ref={place} data-testid="place" className="w-[62px] text-head font-bold" />
      <Hint text="Tempo and bars: find them, follow them, straighten them" keys={keyName("tempo")}>
        <button
          type="button"
          className="text-left text-small leading-snug whitespace-nowrap"
          onClick={() => store.showSheet("tempo")}
        >
          <span className="sr-only">Tempo and bars: </span>
          <strong ref={tempo} className="border-b-[1.5px] border-dotted border-spruce" /> bpm
          <br />
          <strong ref={meter} />
        </button>
      </Hint>
    </>
  );
}

function LoopAndClick() {
  const bench = useBench();
  const loop = useBenchState((state) => state.loop);
  const keyName = useKeyNames();
  const click = useBenchState((state) => state.click);
  const meterMap = useBenchState((state) => state.maps.meterMap);
  const { store } = bench;
  const wordClass = "font-bold border-b-[1.5px] border-dotted border-spruce hover:bg-spruce-tint";
  const clickWords = !click.isOn ? "off" : click.hasOffBeats ? "beats, off-beats soft" : "beats";
  const nextClick = !click.isOn
    ? { isOn: true, hasOffBeats: false }
    : click.hasOffBeats
      ? { isOn: false, hasOffBeats: false }
      : { isOn: true, hasOffBeats: true };
  return (
    <p className="w-[158px] text-small leading-snug whitespace-nowrap">
      Loop{" "}
      <Hint text="Loop the selected bars or those in view; drag on the ruler for others" keys={keyName("loop")}>
        <button type="button" className={wordClass} onClick={() => commandById("loop")?.run(bench)}>
          {loop ? stretchWords(loop, meterMap) : "off"}
        </button>
      </Hint>
      <br />
      Click{" "}
      <Hint text="Beats, also off-beats, or off" keys={keyName("click")}>
        <button type="button" className={wordClass} onClick={() => store.setClick(nextClick)}>
          {clickWords}
        </button>
      </Hint>
    </p>
  );
}

function SideSwitch() {
  const { store } = useBench();
  const side = useBenchState((state) => state.side);
  const keyName = useKeyNames();
  return (
    <div className="flex items-center gap-3">
      <SideChoice
        side={side}
        keysOf={{ recorded: keyName("hearRecorded"), cleaned: keyName("hearCleaned"), plain: keyName("hearPlain") }}
        onChoose={(next) => store.setSide(next)}
      />
      <p className="hidden text-fine leading-snug whitespace-nowrap text-muted xl:block">
        {keyName("flip") && (
          <>
            hold <Key>{keyName("flip")}</Key> to
            <br />
            compare
          </>
        )}
      </p>
    </div>
  );
}
