import { useEffect } from "react";
import { listenToMidi } from "../../../store/midi-input.ts";
import type { Recording } from "../../../store/playin/recording.ts";

/** A switch on the kit or a pedal that plays no note starts and stops recording: the sustain pedal, and the next two. */
const START_CONTROLLERS = new Set([64, 66, 67]);

/** Hears every MIDI device as long as a part is played in. */
export function useDevices(recording: Recording): void {
  useEffect(() => {
    let isOver = false;
    let stop = () => {};
    const listener = {
      onStrike: recording.strike.bind(recording),
      onRelease: recording.release.bind(recording),
      onPressure: recording.pressure.bind(recording),
      onControl: (controller: number) => {
        if (START_CONTROLLERS.has(controller)) void recording.toggle();
      },
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
  }, [recording]);
}
