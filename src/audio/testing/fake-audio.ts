/** What a fake audio clock was asked to do. */
export interface PlayedSound {
  readonly buffer: { readonly length: number };
  readonly startS: number;
  readonly gain: number;
  /** When it is faded out before its end, if it is. */
  chokedS: number | null;
  isStopped: boolean;
}

/** Stands in for Web Audio in tests: a clock that the test moves, and a list of what would sound. */
export class FakeAudio {
  currentTime = 0;
  readonly played: PlayedSound[] = [];
  readonly tones: { frequencyHz: number; startS: number; endS: number }[] = [];

  /** The classes that Web Audio has, for `vi.stubGlobal`. */
  classes(): Record<string, unknown> {
    const audio = this;
    class Node {
      connect(next: unknown) {
        return next;
      }
      disconnect() {}
    }
    class FakeGain extends Node {
      sound: PlayedSound | null = null;
      readonly gain: { value: number; setTargetAtTime(target: number, timeS: number): void };
      constructor(_context: unknown, { gain }: { gain: number }) {
        super();
        this.gain = {
          value: gain,
          setTargetAtTime: (_target, timeS) => {
            if (this.sound) this.sound.chokedS = timeS;
          },
        };
      }
    }
    class FakeSource extends Node {
      onended: (() => void) | null = null;
      #gain: FakeGain | null = null;
      #sound: PlayedSound | null = null;
      readonly #buffer: { length: number };
      constructor(_context: unknown, { buffer }: { buffer: { length: number } }) {
        super();
        this.#buffer = buffer;
      }
      override connect(next: unknown) {
        if (next instanceof FakeGain) this.#gain = next;
        return next;
      }
      start(startS: number) {
        this.#sound = {
          buffer: this.#buffer,
          startS,
          gain: this.#gain?.gain.value ?? 0,
          chokedS: null,
          isStopped: false,
        };
        if (this.#gain) this.#gain.sound = this.#sound;
        audio.played.push(this.#sound);
      }
      stop() {
        if (this.#sound) this.#sound.isStopped = true;
      }
    }
    class FakeOscillator extends Node {
      onended: (() => void) | null = null;
      readonly #frequencyHz: number;
      #tone: { frequencyHz: number; startS: number; endS: number } | null = null;
      constructor(_context: unknown, { frequency }: { frequency: number }) {
        super();
        this.#frequencyHz = frequency;
      }
      start(startS: number) {
        this.#tone = { frequencyHz: this.#frequencyHz, startS, endS: Number.POSITIVE_INFINITY };
        audio.tones.push(this.#tone);
      }
      stop(endS: number) {
        if (this.#tone) this.#tone.endS = Math.min(this.#tone.endS, endS ?? audio.currentTime);
      }
    }
    class FakeContext {
      readonly destination = new Node();
      readonly outputLatency = 0;
      state = "suspended";
      get currentTime() {
        return audio.currentTime;
      }
      async resume() {
        this.state = "running";
      }
      async close() {}
    }
    class FakeBuffer {
      readonly length: number;
      constructor({ length }: { length: number }) {
        this.length = length;
      }
      copyToChannel() {}
    }
    return {
      AudioContext: FakeContext,
      GainNode: FakeGain,
      AudioBufferSourceNode: FakeSource,
      OscillatorNode: FakeOscillator,
      DynamicsCompressorNode: Node,
      ConvolverNode: Node,
      AudioBuffer: FakeBuffer,
    };
  }
}
