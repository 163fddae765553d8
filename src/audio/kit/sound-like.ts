import type { ArticulationMark, Family } from "../../core/document/index.ts";
import type { SoundId } from "../sound-bank.ts";
import { RECIPES } from "./recipes.ts";

/** What a drum of a family sounds like if it is none that the kit has. */
const LIKE_FAMILY: Readonly<Record<Family, { readonly plain: SoundId } & Partial<Record<ArticulationMark, SoundId>>>> =
  {
    cymbals: { plain: "crash/crash", bell: "ride/bell", edge: "ride/edge" },
    hats: { plain: "hat/closed", "half-open": "hat/half-open", open: "hat/open", foot: "hat/foot" },
    snare: { plain: "snare/centre", rim: "snare/rim-shot", cross: "snare/cross-stick" },
    toms: { plain: "tom-3/centre" },
    kick: { plain: "kick/main" },
    percussion: { plain: "wood-block/low", bell: "cowbell/strike" },
  };

/** The sound of the kit that is nearest to a stroke: its own, one of the same kind in its family, or the family's plain one. */
export function soundLike(sound: SoundId, family: Family, mark: ArticulationMark): SoundId {
  if (RECIPES[sound]) return sound;
  return LIKE_FAMILY[family][mark] ?? LIKE_FAMILY[family].plain;
}
