import { LAYER_BORDERS } from "../audio/index.ts";
import type { KitProfile } from "../core/dynamics/index.ts";

export const STAND_IN_KIT: KitProfile = { name: "Stand-in kit", borders: LAYER_BORDERS, ofVoices: {} };

const STORAGE_KEY = "marten.kit";

/** The kit whose layers are shown, as a person chose it. Kept in the browser. */
export function keptKit(): KitProfile {
  const stored = typeof localStorage === "undefined" ? null : localStorage.getItem(STORAGE_KEY);
  return stored ? (JSON.parse(stored) as KitProfile) : STAND_IN_KIT;
}

export function keepKit(kit: KitProfile): void {
  if (kit === STAND_IN_KIT) localStorage.removeItem(STORAGE_KEY);
  else localStorage.setItem(STORAGE_KEY, JSON.stringify(kit));
}

/** The text of a file that says which layers a kit has. */
export function writeKitFile(kit: KitProfile): string {
  return `${JSON.stringify({ format: "idle-marten-kit", version: 1, kit }, null, 2)}\n`;
}
