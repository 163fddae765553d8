import type { Page } from "playwright-core";

/** A stroke of the simulated device, so long after it begins to play. */
export interface DeviceStroke {
  readonly ms: number;
  readonly note: number;
  readonly velocity: number;
}

/**
 * Puts a MIDI device into the page in place of the browser's: it plays at known times, and can be unplugged. The sound card is simulated
 * as well: where a machine is short of time, sound stands still for moments, and all that is played by it comes later from then on.
 */
export async function withDevice(page: Page): Promise<void> {
  await withSteadySound(page);
  await page.evaluate(() => {
    interface Message {
      data: Uint8Array;
      timeStamp: number;
    }
    const input = {
      id: "pads",
      name: "Test pads",
      state: "connected",
      onmidimessage: null as ((m: Message) => void) | null,
    };
    const sent: SentMessage[] = [];
    const output = {
      id: "module",
      name: "Test module",
      state: "connected",
      send: (data: number[], timeMs?: number) =>
        void sent.push({ data: [...data], timeMs: timeMs ?? null, now: performance.now() }),
      clear: () => {},
    };
    const listeners: (() => void)[] = [];
    const access = {
      inputs: new Map([["pads", input]]),
      outputs: new Map([["module", output]]),
      addEventListener: (_name: string, act: () => void) => void listeners.push(act),
      onstatechange: null as (() => void) | null,
    };
    Object.assign(navigator, { requestMIDIAccess: async () => access });
    Object.assign(window, {
      device: {
        /** Strikes at its times; what the page hears of them comes later, as soon as it can. */
        play: (strokes: DeviceStroke[], begins = performance.now() + 30) => {
          for (const { ms, note, velocity } of strokes) {
            setTimeout(
              () => {
                input.onmidimessage?.({ data: Uint8Array.of(0x99, note, velocity), timeStamp: begins + ms });
                input.onmidimessage?.({ data: Uint8Array.of(0x89, note, 64), timeStamp: begins + ms + 20 });
              },
              begins + ms - performance.now() + Math.random() * 25,
            );
          }
        },
        /** Strikes as long after each sound that is still to come. @returns how many strokes it will play */
        follow: (lateMs: number, note: number) => {
          const { soundsMs } = window as unknown as { soundsMs: number[] };
          const coming = [...new Set(soundsMs.map(Math.round))].filter((ms) => ms > performance.now());
          (window as unknown as { device: Device }).device.play(
            coming.map((ms) => ({ ms: ms + lateMs, note, velocity: 90 })),
            0,
          );
          return coming.length;
        },
        send: (messages: readonly (readonly number[])[]) => {
          const timeStamp = performance.now();
          for (const bytes of messages) input.onmidimessage?.({ data: Uint8Array.from(bytes), timeStamp });
        },
        sent,
        unplug: () => {
          input.state = "disconnected";
          output.state = "disconnected";
          access.onstatechange?.();
          for (const act of listeners) act();
        },
      },
    });
  });
}

/** From its first running moment on, the audio clock keeps pace with the page's; and when each sound is heard is kept, in ms of the page. */
async function withSteadySound(page: Page): Promise<void> {
  await page.evaluate(() => {
    const { get } = Object.getOwnPropertyDescriptor(BaseAudioContext.prototype, "currentTime")!;
    const began = new WeakMap<AudioContext, { readonly audioS: number; readonly pageMs: number }>();
    const timeOf = (context: AudioContext, nowMs: number): number => {
      const audioS: number = get!.call(context);
      if (context.state !== "running") return audioS;
      const start = began.get(context) ?? { audioS, pageMs: nowMs };
      began.set(context, start);
      return start.audioS + (nowMs - start.pageMs) / 1000;
    };
    Object.defineProperty(AudioContext.prototype, "currentTime", {
      configurable: true,
      get(this: AudioContext) {
        return timeOf(this, performance.now());
      },
    });
    const soundsMs: number[] = [];
    Object.assign(window, { soundsMs });
    for (const { prototype } of [AudioBufferSourceNode, OscillatorNode]) {
      const { start } = prototype;
      prototype.start = function (this: AudioBufferSourceNode & OscillatorNode, when = 0, ...more: number[]) {
        const { context } = this;
        if (context instanceof AudioContext) {
          const nowMs = performance.now();
          soundsMs.push(nowMs + (when - timeOf(context, nowMs)) * 1000);
        }
        start.call(this, when, ...(more as []));
      };
    }
    AudioContext.prototype.getOutputTimestamp = function (this: AudioContext) {
      const performanceTime = performance.now();
      return { contextTime: timeOf(this, performanceTime), performanceTime };
    };
  });
}

interface Device {
  play(strokes: readonly DeviceStroke[], begins?: number): void;
  follow(lateMs: number, note: number): number;
  send(messages: readonly (readonly number[])[]): void;
  unplug(): void;
  readonly sent: readonly SentMessage[];
}

/** What the simulated device was sent, and for when; null is at once. */
export interface SentMessage {
  readonly data: readonly number[];
  readonly timeMs: number | null;
  readonly now: number;
}

export const device = {
  play: (page: Page, strokes: readonly DeviceStroke[]) =>
    page.evaluate((all) => (window as unknown as { device: Device }).device.play(all), strokes),
  /** Plays with all that is heard from now on, so many ms late. Gives the number of strokes. */
  follow: (page: Page, lateMs: number, note: number) =>
    page.evaluate(([ms, one]) => (window as unknown as { device: Device }).device.follow(ms, one), [
      lateMs,
      note,
    ] as const),
  send: (page: Page, ...bytes: number[]) => device.sendTogether(page, bytes),
  /** Messages of one moment, however long the test takes to say them. */
  sendTogether: (page: Page, ...messages: readonly (readonly number[])[]) =>
    page.evaluate((all) => (window as unknown as { device: Device }).device.send(all), messages),
  sent: (page: Page) => page.evaluate(() => [...(window as unknown as { device: Device }).device.sent]),
  unplug: (page: Page) => page.evaluate(() => (window as unknown as { device: Device }).device.unplug()),
};
