import { createStore } from "zustand/vanilla";
import { checkOf } from "../../api/check-shape.ts";
import type { MidiPort, OutNote, SoundEvent } from "../../audio/index.ts";
import { findVoice, type Pattern } from "../../core/document/index.ts";
import { record, withOptional } from "../../core/json-shape.ts";
import { outgoingStroke } from "../../core/notemap/index.ts";
import { keep, readKept } from "../project/browser-store.ts";

export const OUT_MODES = ["kit", "both", "device"] as const;

/** Where it sounds, as a person chose it. Kept in the browser: it is about what is plugged in there. */
export interface SoundChoice {
  readonly mode: (typeof OUT_MODES)[number];
  /** The name of the device; empty for none. */
  readonly deviceName: string;
  /** Whether the device is told how fast it goes, when it starts and stops. */
  readonly sendsClock: boolean;
  /** The speakers or headphones of the stand-in kit, as the browser calls them. Left out, the usual ones. */
  readonly speakersId?: string;
}

export interface SoundOutState extends SoundChoice {
  /** The devices that can play; null before anybody asked. */
  readonly deviceNames: readonly string[] | null;
  /** Speakers and headphones to choose from, where the browser tells and lets choose. */
  readonly speakers: readonly { readonly id: string; readonly name: string }[];
  /** Why none can, or why the chosen one does not; null if all is well. */
  readonly problem: string | null;
}

const STORAGE_KEY = "marten.soundOut";
const isChoice = checkOf(
  withOptional(
    record({ mode: { enum: OUT_MODES }, deviceName: { type: "string", maxLength: 400 } }),
    // Earlier versions kept neither.
    { sendsClock: { type: "boolean" }, speakersId: { type: "string", maxLength: 400 } },
  ),
);
const USUAL: SoundChoice = { mode: "kit", deviceName: "", sendsClock: false };

/** Finds devices that can play, and gives the one that is chosen. */
export class SoundOut {
  readonly state = createStore<SoundOutState>(() => ({
    ...USUAL,
    ...readKept<Partial<SoundChoice>>(STORAGE_KEY, isChoice),
    deviceNames: null,
    speakers: [],
    problem: null,
  }));
  #access: MIDIAccess | null = null;
  #outputs = new Map<string, MIDIOutput>();
  readonly #onGone: () => void;

  /** @param onGone called when the device that plays is unplugged */
  constructor(onGone: () => void) {
    this.#onGone = onGone;
  }

  choose(change: Partial<SoundChoice>): void {
    const { mode, deviceName, sendsClock, speakersId } = { ...this.state.getState(), ...change };
    this.#keep({ mode, deviceName, sendsClock, ...(speakersId === undefined ? {} : { speakersId }) });
    this.state.setState({ problem: null });
    if (mode !== "kit") void this.find();
  }

  #keep(choice: SoundChoice): void {
    this.state.setState(choice);
    keep(STORAGE_KEY, choice);
  }

  /** The device that plays; null where the kit alone does. */
  get port(): MidiPort | null {
    const { mode, deviceName } = this.state.getState();
    return mode === "kit" ? null : (this.#outputs.get(deviceName) ?? null);
  }

  /** Looks for speakers and headphones, where the browser tells them apart and can play on a chosen one. */
  async findSpeakers(): Promise<void> {
    if (!("setSinkId" in AudioContext.prototype) || !("mediaDevices" in navigator)) return;
    const all = await navigator.mediaDevices.enumerateDevices();
    const speakers = all.flatMap(({ kind, deviceId, label }) =>
      kind === "audiooutput" && deviceId !== "" && label !== "" ? [{ id: deviceId, name: label }] : [],
    );
    this.state.setState({ speakers });
  }

  /** Looks for devices, and goes on looking. */
  async find(): Promise<void> {
    if (this.#access) {
      this.#read(this.#access);
      return;
    }
    if (!("requestMIDIAccess" in navigator)) {
      this.state.setState({ deviceNames: [], problem: "This browser cannot play on MIDI devices." });
      return;
    }
    try {
      const access = await navigator.requestMIDIAccess();
      // Asked for twice at once, it is listened to once.
      if (this.#access) return;
      this.#access = access;
      const read = () => this.#read(access);
      access.addEventListener("statechange", read);
      read();
    } catch (error) {
      if (!(error instanceof DOMException)) throw error;
      this.state.setState({ deviceNames: [], problem: "The browser was not allowed to play on MIDI devices." });
    }
  }

  #read(access: MIDIAccess): void {
    const { mode, deviceName } = this.state.getState();
    const had = this.#outputs.has(deviceName);
    const outputs = [...access.outputs.values()].filter(({ state }) => state !== "disconnected");
    this.#outputs = new Map(outputs.map((output) => [output.name ?? "a device without a name", output]));
    const deviceNames = [...this.#outputs.keys()];
    const isGone = mode !== "kit" && deviceName !== "" && !this.#outputs.has(deviceName);
    this.state.setState({
      deviceNames,
      problem: isGone ? `${deviceName} is not plugged in. The stand-in kit plays until it is.` : null,
    });
    const [first] = deviceNames;
    if (deviceName === "" && first !== undefined) this.choose({ deviceName: first });
    if (had && isGone) this.#onGone();
  }
}

/** Metronome sounds of General MIDI 2, on the channel of drums. */
const CLICK_NOTES: Readonly<Record<string, number>> = { bar: 34, countBar: 34 };
const OTHER_CLICK = 33;
const DRUM_CHANNEL = 9;
const PEDALS = { open: 0, "half-open": 64 } as const;

/** The note that an event goes out on, as an export would write it: by the outgoing map, or that of the take. */
export function noteOfEvent(
  { outgoingMap, noteMap }: Pick<Pattern, "outgoingMap" | "noteMap">,
  { voiceId, articulationId, toneNote, pedal: known }: SoundEvent,
): OutNote | null {
  if (toneNote !== undefined) return null;
  if (voiceId === "click") {
    return { note: CLICK_NOTES[articulationId] ?? OTHER_CLICK, channel: DRUM_CHANNEL, pedal: null };
  }
  const out = outgoingStroke(outgoingMap ?? noteMap, { voiceId, articulationId });
  if (!out) return null;
  const voice = findVoice(noteMap, voiceId);
  const mark = voice.articulations.find(({ id }) => id === articulationId)?.mark ?? "none";
  const meant = mark === "open" || mark === "half-open" ? PEDALS[mark] : 127;
  const pedal = voice.family === "hats" ? (known ?? meant) : null;
  return { note: out.note, channel: out.channel ?? DRUM_CHANNEL, pedal };
}
