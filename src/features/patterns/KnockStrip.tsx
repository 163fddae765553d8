import { useEffect } from "react";
import { useStore } from "zustand";
import { Button } from "../../components/Button.tsx";
import { Key } from "../../components/Key.tsx";
import { MenuButton } from "../../components/MenuButton.tsx";
import { OneOf } from "../../components/sentence/OneOf.tsx";
import { SentenceNumber } from "../../components/sentence/SentenceNumber.tsx";
import { type Family, findVoice, meaningOf } from "../../core/document/index.ts";
import { useBench } from "../../store/bench/bench-context.ts";
import { isTypedInto } from "../../store/page/keyboard.ts";
import type { HeardStroke, KnockInput } from "../../store/patterns/knock-input.ts";
import { listenToMidi } from "../../store/playback/midi-input.ts";

const PADS = [
  { family: "kick", name: "Kick", code: "KeyA", voiceId: "kick", articulationId: "main" },
  { family: "snare", name: "Snare", code: "KeyS", voiceId: "snare", articulationId: "centre" },
  { family: "hats", name: "Hats", code: "KeyD", voiceId: "hat", articulationId: "closed" },
] as const;
const ROWS: readonly Family[] = ["hats", "snare", "kick"];
const WIDTH = 720;
const HEIGHT = 108;
const LEFT = 44;
const KEY_VELOCITY = 96;

interface KnockStripProps {
  readonly input: KnockInput;
  /** What else than a knock can be asked with. */
  readonly questions: readonly { readonly id: string; readonly name: string; readonly ask: () => void }[];
  readonly onPlayer: (() => void) | null;
}

/** Where a rhythm is knocked, shown as it was heard, and corrected. */
export function KnockStrip({ input, questions, onPlayer }: KnockStripProps) {
  const bench = useBench();
  const state = useStore(input.state);
  const { phase, strokes, bars, barQuarters, hasClick, bpm, isAnyDrum } = state;
  const isOn = phase !== "idle";
  usePadsAndDevices(input);
  const strike = (pad: (typeof PADS)[number], velocity: number, eventMs: number) => {
    bench.playback.strike(pad.voiceId, pad.articulationId, velocity, 0);
    input.strike(pad.family, velocity, eventMs);
  };
  return (
    <section
      aria-label="Knock"
      className="grid grid-cols-[190px_1fr_300px] gap-4 border-b border-hairline bg-sheet px-[18px] py-3 max-lg:grid-cols-1"
    >
      <div>
        <h2 className="text-lead font-bold">Knock it</h2>
        <p className="text-small text-muted">
          Play the rhythm that you have in mind, on pads, keys <Key>A</Key> <Key>S</Key> <Key>D</Key> or a device.
        </p>
        <fieldset aria-label="Pads" className="mt-2 flex gap-1.5">
          {PADS.map((pad) => (
            <button
              key={pad.family}
              type="button"
              className="h-10 flex-1 touch-none rounded-lg border border-edge bg-sheet text-fine font-semibold select-none active:bg-amber-tint"
              style={{ borderLeft: `4px solid var(--${pad.family})` }}
              onPointerDown={(event) => strike(pad, KEY_VELOCITY, event.timeStamp)}
              onKeyDown={(event) => {
                if (event.repeat || (event.key !== "Enter" && event.key !== " ")) return;
                event.preventDefault();
                event.stopPropagation();
                strike(pad, KEY_VELOCITY, event.timeStamp);
              }}
            >
              {pad.name}
            </button>
          ))}
        </fieldset>
      </div>
      <Heard strokes={strokes} bars={bars} barQuarters={barQuarters} hasClick={hasClick} input={input} />
      <div className="text-base leading-[1.75]">
        <p>
          {isOn ? (
            <strong className="text-brick">{phase === "countIn" ? "Counting in" : "Listening"}</strong>
          ) : (
            "Listen"
          )}{" "}
          for{" "}
          <OneOf
            label="How long"
            chosenId={hasClick ? String(bars) : "free"}
            choices={[
              { id: "1", name: "one bar" },
              { id: "2", name: "two bars" },
              { id: "4", name: "four bars" },
              { id: "free", name: "as long as it lasts, without a click" },
            ]}
            onChoose={(id) =>
              input.listenTo(id === "free" ? { hasClick: false } : { hasClick: true, bars: Number(id) })
            }
          />
          {hasClick && (
            <>
              {" "}
              at{" "}
              <SentenceNumber
                label="Tempo of the click"
                value={bpm}
                min={40}
                max={240}
                step={1}
                unit="bpm"
                usual={bpm}
                onCommit={(next) => input.listenTo({ bpm: next })}
              />
            </>
          )}
          . It is{" "}
          <OneOf
            label="What was knocked on"
            chosenId={isAnyDrum ? "any" : "drums"}
            choices={[
              { id: "drums", name: "kick, snare and hats" },
              { id: "any", name: "the rhythm of kick and snare together" },
            ]}
            onChoose={(id) => input.listenTo({ isAnyDrum: id === "any" })}
          />
          .
        </p>
        <p className="mt-1 flex flex-wrap gap-2 text-small">
          <Button kind={isOn ? "outline" : "main"} onClick={() => (isOn ? input.stop() : void input.start())}>
            {isOn ? "Stop listening" : strokes.length > 0 ? "Again" : "Listen"}
          </Button>
          {strokes.length > 0 && !isOn && <Button onClick={() => input.clear()}>Clear</Button>}
          {!isOn && (
            <MenuButton
              label="Ask with …"
              groups={[questions]}
              onChoose={(id) => questions.find((one) => one.id === id)?.ask()}
            />
          )}
          {onPlayer && !isOn && <Button onClick={onPlayer}>Let the stand-in player knock it</Button>}
        </p>
      </div>
    </section>
  );
}

interface HeardProps {
  readonly strokes: readonly HeardStroke[];
  readonly bars: number;
  readonly barQuarters: number;
  readonly hasClick: boolean;
  readonly input: KnockInput;
}

/** What was heard; a stroke that is clicked goes to the next drum, and from the last one away. */
function Heard({ strokes, bars, barQuarters, hasClick, input }: HeardProps) {
  const last = strokes.at(-1)?.quarters ?? 0;
  const length = hasClick
    ? bars * barQuarters
    : Math.max(barQuarters, Math.ceil(last / barQuarters + 0.01) * barQuarters);
  const x = (quarters: number) => LEFT + (quarters / length) * (WIDTH - LEFT - 10);
  const rowHeight = HEIGHT / ROWS.length;
  const turn = (stroke: HeardStroke) => {
    const next = ROWS[ROWS.indexOf(stroke.family) + 1];
    const rest = strokes.filter((one) => one !== stroke);
    const turned = next ? [...rest, { ...stroke, family: next }] : rest;
    input.change(turned);
  };
  const beats = Array.from({ length: Math.ceil(length) + 1 }, (_, beat) => beat).filter((beat) => beat <= length);
  const share = (quarters: number) => `${(x(quarters) / WIDTH) * 100}%`;
  return (
    <fieldset aria-label="What was heard" className="relative h-[108px] min-w-0">
      <svg aria-hidden="true" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="size-full" preserveAspectRatio="none">
        {beats.map((beat) => (
          <line
            key={beat}
            x1={x(beat)}
            x2={x(beat)}
            y1={0}
            y2={HEIGHT}
            stroke={beat % barQuarters === 0 ? "var(--edge)" : "var(--hairline-strong)"}
            vectorEffect="non-scaling-stroke"
          />
        ))}
        {ROWS.map((family, row) => (
          <line
            key={family}
            x1={LEFT}
            x2={WIDTH}
            y1={(row + 1) * rowHeight - 2}
            y2={(row + 1) * rowHeight - 2}
            stroke="var(--hairline)"
          />
        ))}
      </svg>
      {ROWS.map((family, row) => (
        <span
          key={family}
          aria-hidden="true"
          className="absolute left-0 text-fine text-muted"
          style={{ top: row * rowHeight + 14 }}
        >
          {family}
        </span>
      ))}
      {strokes.map((stroke, index) => {
        const row = Math.max(0, ROWS.indexOf(stroke.family));
        const tall = 8 + (stroke.velocity / 127) * (rowHeight - 12);
        return (
          <button
            // biome-ignore lint/suspicious/noArrayIndexKey: strokes of one moment and drum are told apart by nothing else
            key={`${stroke.family} ${stroke.quarters} ${index}`}
            type="button"
            aria-label={`${stroke.family}, ${(stroke.quarters + 1).toFixed(2)} beats in: turn to the next drum, or remove`}
            className="absolute w-3"
            style={{ left: share(stroke.quarters), top: (row + 1) * rowHeight - 2 - tall, height: tall }}
            onClick={() => turn(stroke)}
            onKeyDown={(event) => event.key === "Enter" && event.stopPropagation()}
          >
            <svg aria-hidden="true" viewBox="0 0 12 30" className="size-full" preserveAspectRatio="none">
              <path d="M0 30V0Q2 24 12 30z" fill={`var(--${stroke.family})`} />
            </svg>
          </button>
        );
      })}
    </fieldset>
  );
}

/** Devices and keys knock as long as the screen is open; keys only while it listens, for they have other uses. */
function usePadsAndDevices(input: KnockInput): void {
  const { playback, store } = useBench();
  useEffect(() => {
    let isOver = false;
    let stop = () => {};
    const onStrike = (
      strike: { note: number; channel: number; pedal: number | null; velocity: number },
      eventMs: number,
    ) => {
      const { noteMap } = store.getState().pattern;
      const { voiceId, articulationId } = meaningOf(noteMap, strike);
      playback.strike(voiceId, articulationId, strike.velocity, 0);
      input.strike(findVoice(noteMap, voiceId).family, strike.velocity, eventMs);
    };
    void listenToMidi({ onStrike }, () => {}).then((midi) => {
      if (isOver) midi.stop();
      else stop = midi.stop;
    });
    const down = (event: KeyboardEvent) => {
      const pad = PADS.find(({ code }) => code === event.code);
      if (!pad || !input.isOn || isTypedInto(event.target) || event.ctrlKey || event.metaKey) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (event.repeat) return;
      playback.strike(pad.voiceId, pad.articulationId, KEY_VELOCITY, 0);
      input.strike(pad.family, KEY_VELOCITY, event.timeStamp);
    };
    window.addEventListener("keydown", down, { capture: true });
    return () => {
      isOver = true;
      stop();
      window.removeEventListener("keydown", down, { capture: true });
    };
  }, [input, playback, store]);
}
