import { describe, expect, it } from "vitest";
import { GENERAL_MIDI } from "../../core/notemap/index.ts";
import { loudnessDb, shareBetween } from "../testing/spectrum.ts";
import { CLICK_RECIPES, RECIPES, type Recipe, UNNAMED_RECIPE } from "./recipes.ts";
import { LAYERS, layerOf, renderLayers } from "./render-sound.ts";

const RATE = 44_100;
const soundOf = (id: string, layer = 2, take = 0) => renderLayers(RECIPES[id] as Recipe, take, RATE)[layer]!;

const energy = (samples: Float32Array) => samples.reduce((sum, sample) => sum + sample * sample, 0);
/** How bright a sound is: the energy of its differences against its own. A sine of f Hz gives (2π f / rate)². */
function brightnessHz(samples: Float32Array): number {
  let differences = 0;
  for (let index = 1; index < samples.length; index++) differences += (samples[index]! - samples[index - 1]!) ** 2;
  return (Math.sqrt(differences / energy(samples)) * RATE) / (2 * Math.PI);
}
/** Seconds until 99 % of the energy is over. */
function lengthS(samples: Float32Array): number {
  const whole = energy(samples);
  let sum = 0;
  for (let index = 0; index < samples.length; index++) {
    sum += samples[index]! ** 2;
    if (sum > 0.99 * whole) return index / RATE;
  }
  return samples.length / RATE;
}

describe("the stand-in kit", () => {
  it("has a sound for every stroke of General MIDI, degrees of the hats, the edge of the ride, and no others", () => {
    const strokes = GENERAL_MIDI.voices.flatMap((voice) => voice.articulations.map(({ id }) => `${voice.id}/${id}`));
    const more = ["hat/loose", "hat/nearly-open", "ride/edge"];
    expect(Object.keys(RECIPES).sort()).toEqual([...strokes, ...more].sort());
  });

  it("makes sound that starts and ends in silence, at its level, without a bad sample", () => {
    for (const recipe of [...Object.values(RECIPES), ...Object.values(CLICK_RECIPES), UNNAMED_RECIPE]) {
      const samples = renderLayers(recipe, 1, 8000)[3]!;
      const peak = samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
      expect(peak).toBeCloseTo(recipe.level, 4);
      expect(Math.abs(samples[0]!)).toBeLessThan(1e-6);
      expect(Math.abs(samples.at(-1)!)).toBeLessThan(1e-3);
    }
  });

  it("sounds like a kit: low toms below high ones below snare below hats, and the kick under all of them", () => {
    const under = (id: string) => shareBetween(soundOf(id), RATE, 0, 90);
    expect(under("kick/main")).toBeGreaterThan(under("tom-5/centre"));
    const order = ["tom-5/centre", "tom-1/centre", "snare/centre", "hat/closed"].map((id) => brightnessHz(soundOf(id)));
    expect(order).toEqual([...order].sort((a, b) => a - b));
    expect(order.at(-1)).toBeGreaterThan(5000);
  });

  it("lets open hats and crashes ring, and keeps closed and foot hats short", () => {
    expect(lengthS(soundOf("hat/foot"))).toBeLessThan(lengthS(soundOf("hat/closed")));
    expect(lengthS(soundOf("hat/open"))).toBeGreaterThan(4 * lengthS(soundOf("hat/closed")));
    expect(lengthS(soundOf("crash/crash"))).toBeGreaterThan(lengthS(soundOf("splash/crash")));
  });

  it("has four velocity layers that grow brighter, for kick and hats", () => {
    expect([1, 45, 46, 76, 77, 104, 105, 127].map(layerOf)).toEqual([0, 0, 1, 1, 2, 2, 3, 3]);
    for (const id of ["kick/main", "hat/closed", "hat/open"]) {
      const layers = Array.from({ length: LAYERS }, (_, layer) => brightnessHz(soundOf(id, layer)));
      for (let layer = 1; layer < LAYERS; layer++) expect(layers[layer]).toBeGreaterThan(layers[layer - 1]!);
    }
  });

  it("is balanced as a set of drums is from in front, to the ear", () => {
    const snare = loudnessDb(soundOf("snare/centre", 3), RATE);
    const against = (id: string) => loudnessDb(soundOf(id, 3), RATE) - snare;
    const near = (id: string, dB: number, by: number) => {
      expect(against(id), id).toBeGreaterThan(dB - by);
      expect(against(id), id).toBeLessThan(dB + by);
    };
    near("kick/main", 0, 2.5);
    near("hat/closed", -9, 1.5);
    near("hat/open", -4, 1.5);
    near("hat/half-open", -5, 2);
    near("crash/crash", 3, 1.5);
    near("crash-2/crash", 3, 1.5);
    near("ride/bow", -5, 2);
    for (const id of ["tom-1/centre", "tom-3/centre", "tom-6/centre"]) near(id, -2, 2.5);
    expect(against("hat/foot")).toBeLessThan(against("hat/closed"));
  });

  it("has a kick that clicks, so that it is heard on small loudspeakers, and is over within two thirds of a second", () => {
    const kick = soundOf("kick/main", 3);
    expect(shareBetween(kick, RATE, 1000, RATE / 2)).toBeGreaterThan(0.08);
    expect(shareBetween(kick, RATE, 0, 200)).toBeLessThan(0.85);
    expect(kick.length / RATE).toBeLessThan(0.67);
  });

  it("lets the wires of the snare speak when it is hardly touched, and two crashes be two", () => {
    const wires = (layer: number) => shareBetween(soundOf("snare/centre", layer), RATE, 1000, RATE / 2);
    expect(wires(0)).toBeGreaterThan(0.5);
    expect(wires(0)).toBeGreaterThan(wires(3));
    const high = (id: string) => shareBetween(soundOf(id, 3), RATE, 3000, RATE / 2);
    expect(Math.abs(high("crash/crash") - high("crash-2/crash"))).toBeGreaterThan(0.05);
  });

  it("goes over from the falling pitch to the steady one without a step", () => {
    const plain: Recipe = { level: 1, modes: [[180, 1, 0.3]], sweep: { ratio: 1.6, timeS: 0.03 } };
    const samples = renderLayers(plain, 0, RATE)[3]!;
    // A sine of 180 Hz, sampled so often, turns by so much from one difference to the next at most; a step would be far more.
    const most = (2 * Math.PI * 180 * 1.7) / RATE;
    let bow = 0;
    for (let index = 100; index < samples.length; index++) {
      bow = Math.max(bow, Math.abs(samples[index]! - 2 * samples[index - 1]! + samples[index - 2]!));
    }
    expect(bow).toBeLessThan(1.5 * most ** 2);
  });

  it("gives repeated strokes takes that differ, and the same ones every time", () => {
    expect(soundOf("snare/centre", 2, 0)).not.toEqual(soundOf("snare/centre", 2, 1));
    expect(soundOf("snare/centre", 2, 0)).toEqual(soundOf("snare/centre", 2, 0));
  });
});
