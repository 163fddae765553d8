import clsx from "clsx";
import { useEffect, useMemo, useState } from "react";
import { useStore } from "zustand";
import { Key } from "../../../components/Key.tsx";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { isTypedInto } from "../../../store/page/keyboard.ts";
import { LastStroke } from "./LastStroke.tsx";
import { type Pad, padsOf, velocityAt, velocityOfKey } from "./pads-of.ts";

const PADS = "pads on screen";
const KEYS = "the computer's keys";
const FOCUSED_VELOCITY = 88;

/** Pads on the screen, and the keys that strike them. */
export function Pads() {
  const { recording } = useBench();
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  const devices = useStore(recording.state, (state) => state.devices);
  const problem = useStore(recording.state, (state) => state.inputProblem);
  const clockBpm = useStore(recording.state, (state) => state.clockBpm);
  const lit = useStore(recording.state, (state) => state.lit);
  const pads = useMemo(() => padsOf(noteMap), [noteMap]);
  const labels = useKeyLabels();
  usePadKeys(pads);
  const devicesWords =
    devices.length > 0 ? `Hearing ${devices.join(" and ")}.` : (problem ?? "No MIDI device is connected.");
  return (
    <div className="border-l border-hairline px-[18px] py-3 max-lg:border-l-0">
      <h2 className="text-lead font-bold">
        Pads <span className="text-fine font-normal text-muted">or a device, or keys</span>
      </h2>
      <fieldset aria-label="Pads" className="mt-2 grid grid-cols-4 gap-1.5">
        {pads.map((pad) => (
          <PadButton key={pad.code} pad={pad} label={labels(pad.code)} isLit={lit.has(pad.note)} />
        ))}
      </fieldset>
      <LastStroke />
      <p className="mt-2 text-fine text-muted">
        {devicesWords}
        {clockBpm !== null &&
          ` Its clock runs at ${clockBpm} bpm, starts and stops the take; the take keeps its own tempo.`}{" "}
        Higher on a pad is louder; with keys, <Key>Shift</Key> is an accent, <Key>Alt</Key> a ghost.
      </p>
    </div>
  );
}

function PadButton({ pad, label, isLit }: { pad: Pad; label: string; isLit: boolean }) {
  const { recording } = useBench();
  const { note, channel } = pad;
  const strike = (velocity: number, eventMs: number) =>
    recording.strike({ note, channel, pedal: null, velocity }, eventMs, PADS);
  const release = () => recording.release(note);
  return (
    <button
      type="button"
      className={clsx(
        "flex h-12 touch-none flex-col items-start justify-start rounded-lg border border-edge px-2 pt-1 text-left text-fine leading-tight font-semibold select-none",
        isLit ? "bg-amber-tint" : "bg-sheet hover:bg-spruce-tint",
      )}
      style={{ borderLeft: `4px solid var(--${pad.family})` }}
      onPointerDown={(event) => {
        const { top, height } = event.currentTarget.getBoundingClientRect();
        strike(velocityAt(1 - (event.clientY - top) / height), event.timeStamp);
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerUp={release}
      onPointerCancel={release}
      onKeyDown={(event) => {
        if (event.repeat || (event.key !== "Enter" && event.key !== " ")) return;
        event.preventDefault();
        event.stopPropagation();
        strike(FOCUSED_VELOCITY, event.timeStamp);
      }}
      onKeyUp={(event) => {
        if (event.key === "Enter" || event.key === " ") release();
      }}
    >
      <span className="flex w-full justify-between gap-1">
        {pad.name}
        <span aria-hidden="true" className="font-normal text-muted">
          {label}
        </span>
      </span>
      {pad.stroke && <span className="font-normal text-muted">{pad.stroke}</span>}
    </button>
  );
}

/** Keys strike pads as long as pads are shown, ahead of what they do otherwise. Fields keep them. */
function usePadKeys(pads: readonly Pad[]): void {
  const { recording } = useBench();
  useEffect(() => {
    const padOf = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || isTypedInto(event.target)) return undefined;
      return pads.find(({ code }) => code === event.code);
    };
    const down = (event: KeyboardEvent) => {
      const pad = padOf(event);
      if (!pad) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (event.repeat) return;
      const { note, channel } = pad;
      recording.strike({ note, channel, pedal: null, velocity: velocityOfKey(event) }, event.timeStamp, KEYS);
    };
    const up = (event: KeyboardEvent) => {
      const pad = pads.find(({ code }) => code === event.code);
      if (pad) recording.release(pad.note);
    };
    window.addEventListener("keydown", down, { capture: true });
    window.addEventListener("keyup", up, { capture: true });
    return () => {
      window.removeEventListener("keydown", down, { capture: true });
      window.removeEventListener("keyup", up, { capture: true });
    };
  }, [pads, recording]);
}

interface KeyboardWithLayout {
  getLayoutMap(): Promise<ReadonlyMap<string, string>>;
}

/** What is printed on the keys of this keyboard, where the browser knows; else what is printed on an American one. */
function useKeyLabels(): (code: string) => string {
  const [layout, setLayout] = useState<ReadonlyMap<string, string>>(new Map());
  useEffect(() => {
    const { keyboard } = navigator as { keyboard?: KeyboardWithLayout };
    // A frame that may not ask is refused; then the usual letters stand.
    keyboard?.getLayoutMap().then(setLayout, () => setLayout(new Map()));
  }, []);
  return (code) => (layout.get(code) ?? code.replace("Key", "")).toUpperCase();
}
