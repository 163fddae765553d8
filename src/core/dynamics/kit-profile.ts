/** At which velocities a kit changes its sounds. Each list holds the highest velocity of every layer but the last, ascending. */
export interface KitProfile {
  readonly name: string;
  readonly borders: readonly number[];
  /** Voices that have other layers than the rest, by id. */
  readonly ofVoices: Readonly<Record<string, readonly number[]>>;
}

/** The velocities at which a voice of a kit changes its sound. */
export function layerBorders({ borders, ofVoices }: KitProfile, voiceId: string): readonly number[] {
  return Object.hasOwn(ofVoices, voiceId) ? ofVoices[voiceId]! : borders;
}

/** The layer that a velocity triggers, 0 the softest. */
export function layerAt(borders: readonly number[], velocity: number): number {
  const layer = borders.findIndex((border) => velocity <= border);
  return layer === -1 ? borders.length : layer;
}

/**
 * Reads borders as they are typed: `45, 76, 104`; nothing for a sound of one layer.
 * @returns what is wrong, in words, if they are none
 */
export function parseBorders(text: string): readonly number[] | string {
  const parts = text.split(/[\s,;]+/).filter((part) => part !== "");
  const borders = parts.map(Number);
  const odd = parts.find(
    (_, index) => !Number.isInteger(borders[index]) || borders[index]! < 1 || borders[index]! > 126,
  );
  if (odd !== undefined) return `“${odd}” is no velocity from 1 to 126.`;
  if (borders.some((border, index) => index > 0 && border <= borders[index - 1]!))
    return "The velocities have to rise.";
  return borders;
}
