import type { SoundBank, SoundId } from "./sound-bank.ts";
import type { SoundEvent } from "./transport.ts";

/** Rides on the mix, so that a bar full of accents does not distort. */
const MASTER_GAIN = 0.7;
const CHOKE_S = 0.035;

/** Strokes that silence an earlier one of the same voice: closing the hats chokes the open ones. */
const CHOKES: Readonly<Record<string, readonly string[]>> = {
  "hat/closed": ["hat/open"],
  "hat/foot": ["hat/open"],
  "hat/open": ["hat/open"],
  "triangle/muted": ["triangle/open"],
};

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
  #sources = new Set<AudioBufferSourceNode>();

  constructor(context: AudioContext, bank: SoundBank) {
    this.context = context;
    this.#bank = bank;
    const master = new GainNode(context, { gain: MASTER_GAIN });
    const limiter = new DynamicsCompressorNode(context, { threshold: -8, ratio: 8, attack: 0.002, release: 0.12 });
    master.connect(limiter).connect(context.destination);
    this.#output = master;
  }

  /** Sounds an event at a moment of the audio clock. */
  play(event: SoundEvent, timeS: number): void {
    const sound: SoundId = `${event.voiceId}/${event.articulationId}`;
    const buffer = this.#bank.pick(sound, event.velocity);
    if (!buffer) return;
    this.#choke(sound, timeS);
    const source = new AudioBufferSourceNode(this.context, { buffer });
    const gain = new GainNode(this.context, { gain: gainOf(event.velocity) });
    source.connect(gain).connect(this.#output);
    source.start(timeS);
    this.#sources.add(source);
    this.#ringing.push({ sound, gain, startS: timeS });
    source.onended = () => {
      this.#sources.delete(source);
      this.#ringing = this.#ringing.filter((ringing) => ringing.gain !== gain);
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

  /** Silences what sounds and takes back what is planned. */
  silence(): void {
    for (const source of this.#sources) source.stop();
    this.#sources.clear();
    this.#ringing = [];
  }
}

/** Loudness against velocity: a ghost note at 32 is about 18 dB below a full stroke. */
function gainOf(velocity: number): number {
  return (velocity / 127) ** 1.5;
}
