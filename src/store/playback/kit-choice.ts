import { checkOf } from "../../api/check-shape.ts";
import { kit as kitShape } from "../../api/kit-schema.ts";
import { LAYER_BORDERS } from "../../audio/index.ts";
import type { KitProfile } from "../../core/dynamics/index.ts";

import { forget, keep, readKept } from "../project/browser-store.ts";

export const STAND_IN_KIT: KitProfile = { name: "Stand-in kit", borders: LAYER_BORDERS, ofVoices: {} };

const STORAGE_KEY = "marten.kit";

const isKit = checkOf(kitShape);

/** The kit whose layers are shown, as a person chose it. Kept in the browser. */
export function keptKit(): KitProfile {
  return readKept<KitProfile>(STORAGE_KEY, isKit) ?? STAND_IN_KIT;
}

export function keepKit(kit: KitProfile): void {
  if (kit === STAND_IN_KIT) forget(STORAGE_KEY);
  else keep(STORAGE_KEY, kit);
}

/** The text of a file that says which layers a kit has. */
export function writeKitFile(kit: KitProfile): string {
  return `${JSON.stringify({ format: "idle-marten-kit", version: 1, kit }, null, 2)}\n`;
}
