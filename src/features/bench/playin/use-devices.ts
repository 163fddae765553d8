import { useEffect } from "react";
import { tempoOfPulses } from "../../../core/record/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { listenToMidi } from "../../../store/playback/midi-input.ts";

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
        if (clockBpm !== recording.state.getState().clockBpm) recording.state.setState({ clockBpm });
      },
      onStart: () => {
        pulsesMs.length = 0;
        if (!recording.isOn) void playback.play();
      },
      onStop: () => playback.stop(),
    };
    const onDevices = (devices: readonly string[]) => {
      const before = recording.state.getState().devices;
      const gone = before.filter((name) => !devices.includes(name));
      const isOn = recording.isOn && gone.length > 0;
      recording.state.setState({
        devices,
        ...(isOn
          ? { trouble: `${gone.join(" and ")} was unplugged. What was played is recorded; plug it in and go on.` }
          : {}),
      });
    };
    void listenToMidi(listener, onDevices).then((input) => {
      if (isOver) return input.stop();
      stop = input.stop;
      recording.state.setState({ inputProblem: input.problem });
    });
    return () => {
      isOver = true;
      stop();
    };
  }, [recording, playback]);
}
