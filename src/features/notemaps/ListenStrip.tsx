import { useEffect, useRef, useState } from "react";
import { Key } from "../../components/Key.tsx";
import { isTaken, namedKeys } from "../../store/page/keyboard.ts";
import { type LiveStrike, listenToMidi } from "../../store/playback/midi-input.ts";

/** Keys that strike the pads of the stand-in kit, in the order of the pads. */
const PAD_KEYS = [..."1234567890QWERTYUIOPASDFGHJKL"];

interface ListenStripProps {
  /** The pads that can be struck here. A pad with a pedal is struck where the pedal is. */
  readonly notes: readonly number[];
  readonly hasPedal: boolean;
  /** How a pad is called; null for one without a name. */
  readonly nameOf: (note: number) => string | null;
  readonly onStrike: (strike: LiveStrike) => void;
  readonly onStop: () => void;
}

const DRUM_CHANNEL = 9;
const PAD_VELOCITY = 96;

/** Listens for a struck pad: of a MIDI device, of the stand-in kit on screen, or a key of the computer for one of its pads. */
export function ListenStrip({ notes, hasPedal, nameOf, onStrike, onStop }: ListenStripProps) {
  const [deviceNames, setDeviceNames] = useState<readonly string[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const [pedal, setPedal] = useState(127);
  const strike = useRef(onStrike);
  strike.current = onStrike;
  const hit = (note: number) =>
    strike.current({ note, channel: DRUM_CHANNEL, pedal: hasPedal ? pedal : null, velocity: PAD_VELOCITY });
  const hitByKey = useRef(hit);
  hitByKey.current = hit;

  useEffect(() => {
    let isOver = false;
    let stop = () => {};
    void listenToMidi({ onStrike: (one) => strike.current(one) }, setDeviceNames).then((input) => {
      if (isOver) return input.stop();
      stop = input.stop;
      setProblem(input.problem);
    });
    return () => {
      isOver = true;
      stop();
    };
  }, []);

  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      const keys = namedKeys(event);
      const note = notes[PAD_KEYS.indexOf(keys)];
      if (event.repeat || event.altKey || note === undefined || isTaken(event.target, keys)) return;
      event.preventDefault();
      hitByKey.current(note);
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  }, [notes]);

  return (
    <section aria-label="Listening" className="border-y border-hairline bg-spruce-tint px-6 py-2.5">
      <p className="flex items-baseline gap-3">
        <strong className="whitespace-nowrap">Strike a pad.</strong>
        <span className="text-muted" role="status">
          {deviceNames.length > 0
            ? `Hearing ${deviceNames.join(" and ")}, and the pads below.`
            : `${problem ?? "No MIDI device is connected."} Use the pads below, or their keys.`}
        </span>
        <button
          type="button"
          className="ml-auto font-semibold whitespace-nowrap text-spruce underline"
          onClick={onStop}
        >
          Stop listening
        </button>
      </p>
      <div className="mt-2 flex flex-wrap items-center gap-1.5">
        {notes.map((note, index) => (
          <button
            key={note}
            type="button"
            className="flex h-11 min-w-16 flex-col items-center justify-center rounded-lg border border-hairline-strong bg-sheet px-2 leading-tight hover:border-edge active:bg-amber-tint"
            onPointerDown={(event) => event.button === 0 && hit(note)}
            onClick={(event) => event.detail === 0 && hit(note)}
          >
            <span className="font-bold">
              <span className="sr-only">Pad </span>
              {note} {PAD_KEYS[index] && <Key>{PAD_KEYS[index]}</Key>}
            </span>
            <span className="max-w-24 truncate text-fine text-muted">{nameOf(note) ?? "no name"}</span>
          </button>
        ))}
        {hasPedal && (
          <label className="ml-3 flex items-center gap-2 text-small">
            Pedal
            <input
              type="range"
              min={0}
              max={127}
              value={pedal}
              className="w-32 accent-(--spruce)"
              onChange={(event) => setPedal(Number(event.target.value))}
            />
            <span className="w-24">
              {pedal >= 90 ? "pressed" : pedal >= 30 ? "half open" : "open"}, {pedal}
            </span>
          </label>
        )}
      </div>
    </section>
  );
}
