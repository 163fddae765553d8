import { RINGING_HATS, soundAt } from "./kit/hat-degrees.ts";
import { roomAnswer } from "./kit/room.ts";
import { gainOf } from "./loudness.ts";
import { SAMPLE_RATE, type SoundBank, type SoundId } from "./sound-bank.ts";
import type { SoundEvent } from "./transport.ts";

/** Rides on the mix, so that a bar full of accents does not distort. */
const MASTER_GAIN = 0.7;
const CHOKE_S = 0.035;
const TONE_GAIN = 0.22;
const TONE_EDGE_S = 0.012;
const TONE_MS = 200;
const METER_SAMPLES = 2048;

/** Strokes that silence an earlier one of the same voice: closing the hats chokes the open ones. */
const CHOKES: Readonly<Record<string, readonly string[]>> = {
  ...Object.fromEntries(["hat/closed", "hat/foot", ...RINGING_HATS].map((sound) => [sound, RINGING_HATS])),
  "triangle/muted": ["triangle/open"],
};

/** How much of the room is heard beside the drums themselves. */
const ROOM_GAIN = 0.22;

function roomOf(context: AudioContext): AudioNode {
  const ears = roomAnswer(SAMPLE_RATE);
  const buffer = new AudioBuffer({ length: ears[0].length, numberOfChannels: 2, sampleRate: SAMPLE_RATE });
  for (const [ear, samples] of ears.entries()) buffer.copyToChannel(samples as Float32Array<ArrayBuffer>, ear);
  return new ConvolverNode(context, { buffer });
}

/** How loud a drum is in the mix, and where it stands: -1 is left, 1 right. */
export interface Mix {
  readonly gain: number;
  readonly pan: number;
}
const PLAIN_MIX: Mix = { gain: 1, pan: 0 };

interface Ringing {
  readonly sound: SoundId;
  readonly gain: GainNode;
  readonly startS: number;
}

/** Plays sounds on the audio clock. It decides nothing: what sounds when comes from a `Transport`. */
export class Engine {
  readonly context: AudioContext;
  readonly #output: AudioNode;
  readonly #bank: SoundBank;
  #ringing: Ringing[] = [];
  #sources = new Set<AudioScheduledSourceNode>();
  readonly #mixOf: (voiceId: string) => Mix;
  #meter: { readonly node: AnalyserNode; readonly samples: Float32Array<ArrayBuffer> } | null = null;
  readonly #limiter: AudioNode;

  /** @param mixOf asked for each sound as it begins */
  constructor(context: AudioContext, bank: SoundBank, mixOf: (voiceId: string) => Mix = () => PLAIN_MIX) {
    this.context = context;
    this.#bank = bank;
    this.#mixOf = mixOf;
    const master = new GainNode(context, { gain: MASTER_GAIN });
    const limiter = new DynamicsCompressorNode(context, { threshold: -8, ratio: 8, attack: 0.002, release: 0.12 });
    master.connect(limiter).connect(context.destination);
    master
      .connect(roomOf(context))
      .connect(new GainNode(context, { gain: ROOM_GAIN }))
      .connect(limiter);
    this.#output = master;
    this.#limiter = limiter;
  }

  /** Sounds an event at a moment of the audio clock. */
  play(event: SoundEvent, timeS: number): void {
    if (event.toneNote !== undefined) {
      this.#playTone(event.toneNote, event, timeS);
      return;
    }
    const sound = soundAt(`${event.voiceId}/${event.articulationId}`, event.pedal);
    const buffer = this.#bank.pick(sound, event.velocity);
    if (!buffer) return;
    this.#choke(sound, timeS);
    const source = new AudioBufferSourceNode(this.context, { buffer });
    const mix = this.#mixOf(event.voiceId);
    const gain = new GainNode(this.context, { gain: gainOf(event.velocity) * (event.gain ?? 1) * mix.gain });
    const panned = mix.pan === 0 ? gain : gain.connect(new StereoPannerNode(this.context, { pan: mix.pan }));
    source.connect(gain);
    panned.connect(this.#output);
    source.start(timeS);
    if (event.stopAfterMs !== undefined) {
      gain.gain.setTargetAtTime(0, timeS + event.stopAfterMs / 1000, CHOKE_S / 3);
    }
    this.#sources.add(source);
    this.#ringing.push({ sound, gain, startS: timeS });
    source.onended = () => {
      this.#sources.delete(source);
      this.#ringing = this.#ringing.filter((ringing) => ringing.gain !== gain);
      gain.disconnect();
    };
  }

  /** A soft triangle with short edges, far behind the drums. */
  #playTone(note: number, { velocity, stopAfterMs = TONE_MS }: SoundEvent, timeS: number): void {
    const endS = timeS + Math.max(TONE_EDGE_S * 2, stopAfterMs / 1000);
    const oscillator = new OscillatorNode(this.context, {
      type: "triangle",
      frequency: 440 * 2 ** ((note - 69) / 12),
    });
    const gain = new GainNode(this.context, { gain: 0 });
    gain.gain.setTargetAtTime(TONE_GAIN * gainOf(velocity), timeS, TONE_EDGE_S / 3);
    gain.gain.setTargetAtTime(0, endS - TONE_EDGE_S, TONE_EDGE_S / 3);
    oscillator.connect(gain).connect(this.#output);
    oscillator.start(timeS);
    oscillator.stop(endS + TONE_EDGE_S);
    this.#sources.add(oscillator);
    oscillator.onended = () => {
      this.#sources.delete(oscillator);
      gain.disconnect();
    };
  }

  #choke(sound: SoundId, timeS: number): void {
    const choked = CHOKES[sound];
    if (!choked) return;
    for (const ringing of this.#ringing) {
      if (choked.includes(ringing.sound) && ringing.startS < timeS)
        ringing.gain.gain.setTargetAtTime(0, timeS, CHOKE_S / 3);
    }
  }

  /** A hand on a drum: what sounds of it dies away at once. */
  damp(voiceId: string): void {
    for (const { sound, gain } of this.#ringing) {
      if (sound.startsWith(`${voiceId}/`)) gain.gain.setTargetAtTime(0, this.context.currentTime, CHOKE_S / 3);
    }
  }

  /** How loud it is at this moment after everything, in dB under full scale; -Infinity for silence. */
  peakDb(): number {
    if (!this.#meter) {
      const node = new AnalyserNode(this.context, { fftSize: METER_SAMPLES });
      this.#limiter.connect(node);
      this.#meter = { node, samples: new Float32Array(METER_SAMPLES) };
    }
    const { node, samples } = this.#meter;
    node.getFloatTimeDomainData(samples);
    const peak = samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
    return 20 * Math.log10(peak);
  }

  /** Silences what sounds and takes back what is planned. */
  silence(): void {
    for (const source of this.#sources) source.stop();
    this.#sources.clear();
    this.#ringing = [];
  }
}
