import { useEffect } from "react";
import { tempoOfPulses } from "../../../core/record/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { listenToMidi } from "../../../store/playback/midi-input.ts";
import { tellClock, tellDevices, tellInput } from "../../../store/playin/play-in-state.ts";

/** A switch on the kit or a pedal that plays no note starts and stops recording: the sustain pedal, and the next two. */
const START_CONTROLLERS = new Set([64, 66, 67]);

const MOST_PULSES = 100;

/** Hears every MIDI device as long as a part is played in. */
export function useDevices({ recording, playback }: Bench): void {
  useEffect(() => {
    const pulsesMs: number[] = [];
    let isOver = false;
    let stop = () => {};
    const listener = {
      onStrike: recording.strike.bind(recording),
      onRelease: recording.release.bind(recording),
      onPressure: recording.pressure.bind(recording),
      onControl: (controller: number) => {
        if (START_CONTROLLERS.has(controller)) void recording.toggle();
      },
      onPulse: (eventMs: number) => {
        pulsesMs.push(eventMs);
        if (pulsesMs.length > MOST_PULSES) pulsesMs.splice(0, pulsesMs.length - MOST_PULSES);
        const bpm = tempoOfPulses(pulsesMs);
        const clockBpm = bpm && Math.round(bpm * 10) / 10;
        tellClock(recording.state, clockBpm);
      },
      onStart: () => {
        pulsesMs.length = 0;
        if (!recording.isOn) void playback.play();
      },
      onStop: () => playback.stop(),
    };
    void listenToMidi(listener, (devices) => tellDevices(recording.state, devices)).then((input) => {
      if (isOver) return input.stop();
      stop = input.stop;
      tellInput(recording.state, input.problem);
    });
    return () => {
      isOver = true;
      stop();
    };
  }, [recording, playback]);
}
