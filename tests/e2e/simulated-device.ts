import type { Page } from "playwright-core";

/** A stroke of the simulated device, so long after it begins to play. */
export interface DeviceStroke {
  readonly ms: number;
  readonly note: number;
  readonly velocity: number;
}

/** Puts a MIDI device into the page in place of the browser's: it plays at known times, and can be unplugged. */
export async function withDevice(page: Page): Promise<void> {
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
        play: (strokes: DeviceStroke[]) => {
          const begins = performance.now() + 30;
          for (const { ms, note, velocity } of strokes) {
            setTimeout(
              () => {
                input.onmidimessage?.({ data: Uint8Array.of(0x99, note, velocity), timeStamp: begins + ms });
                input.onmidimessage?.({ data: Uint8Array.of(0x89, note, 64), timeStamp: begins + ms + 20 });
              },
              ms + 30 + Math.random() * 25,
            );
          }
        },
        send: (...bytes: number[]) =>
          input.onmidimessage?.({ data: Uint8Array.from(bytes), timeStamp: performance.now() }),
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

interface Device {
  play(strokes: readonly DeviceStroke[]): void;
  send(...bytes: readonly number[]): void;
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
  send: (page: Page, ...bytes: number[]) =>
    page.evaluate((all) => (window as unknown as { device: Device }).device.send(...all), bytes),
  sent: (page: Page) => page.evaluate(() => [...(window as unknown as { device: Device }).device.sent]),
  unplug: (page: Page) => page.evaluate(() => (window as unknown as { device: Device }).device.unplug()),
};
