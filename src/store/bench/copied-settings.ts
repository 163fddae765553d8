import { checkOf } from "../../api/check-shape.ts";
import { recipeTiming } from "../../core/document/shapes/treatment-shape.ts";
import type { TimingRecipe } from "../../core/recipe.ts";
import { keep, readKept } from "../project/browser-store.ts";

/** The treatment that was copied, also of another project: it is kept with the browser. */
const COPIED_KEY = "marten.copied-settings";
const isRecipe = checkOf(recipeTiming);

/** Null if nothing was copied, or something that is no recipe. */
export const readCopiedSettings = () => readKept<TimingRecipe>(COPIED_KEY, isRecipe);

/** Returns false if the browser has no room. */
export const keepCopiedSettings = (recipe: TimingRecipe) => keep(COPIED_KEY, recipe);
