import type { Chore } from "../../../core/chore/index.ts";
import type { Groove } from "../../../core/document/index.ts";
import type { Recipe } from "../../../core/recipe.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import type { Sheet } from "../../../store/bench/view.ts";
import type { Found } from "../../page/SearchDialog.tsx";
import { SCREEN_WORDS } from "../../page/screens.ts";
import { workingLane } from "../commands/actions.ts";
import type { BenchKeyed } from "../commands/command-keys.ts";
import { COMMANDS } from "../commands/commands.ts";
import { choreCommand, recipeCommand } from "../commands/shelf-commands.ts";
import { feelEdit } from "../feel/feel-actions.ts";
import { KIN } from "./kin.ts";
import { settingEntries } from "./setting-entries.ts";

/** Something that the search finds, and does. */
export interface SearchEntry extends Found {
  /** Returns what was done, in words, if that is not plain to see. */
  run: BenchKeyed["run"];
}

/** What is on the shelf, as far as it has come. */
export interface SearchShelf {
  readonly chores: readonly Chore[];
  readonly recipes: readonly Recipe[];
  readonly grooves: readonly Groove[];
}

/** Commands that do something to the selected hits, and mean nothing without. */
const FOR_SELECTION = new Set(
  "earlier later tickEarlier tickLater stepBack stepOn louder softer pin unpin revoice remove exact muteHits leaveOut acceptLook otherSlot leave asGhosts asStrokes asAccents byLoudness straight halfSwung swung level quantizeSelection copy cut repeat split glue double half hearAround showPicked fadeOthers others ruleFromPicked".split(
    " ",
  ),
);

/** All that can be found: commands, settings, the card's steps, screens, sheets, and what is on the shelf. */
export function searchEntries(
  state: BenchState,
  shelf: SearchShelf,
  go: (screen: string) => void,
): readonly SearchEntry[] {
  const hasSelection = state.picked.size > 0;
  const commands = COMMANDS.map(
    (command): SearchEntry => ({
      id: command.id,
      name: command.name,
      kin: KIN[command.id] ?? "",
      place: command.group,
      keyed: command,
      fits: FOR_SELECTION.has(command.id) ? (hasSelection ? 1 : 0) : 0.5,
      run: command.run,
    }),
  );
  return [...commands, ...settingEntries(state), ...sheets(), ...screens(go), ...fromShelf(shelf)];
}

/** The menu of the lane is there after the next frame, and its sections after one more. */
function openLaneMenuSoon(section: string): void {
  setTimeout(() => {
    document.querySelector<HTMLElement>('[aria-label="Lane card"] [aria-label="Lane menu"]')?.click();
    setTimeout(() => {
      const found = document.querySelector<HTMLElement>(`section[aria-label="${section}"]`);
      found?.scrollIntoView({ block: "nearest" });
      found?.querySelector("button")?.focus();
    }, 60);
  }, 60);
}

function sheets(): readonly SearchEntry[] {
  const opened = (id: Sheet, name: string): SearchEntry => ({
    id,
    name,
    kin: KIN[id] ?? "",
    place: "Sheet",
    fits: 0.6,
    run: ({ store }) => store.showSheet(id),
  });
  return [
    {
      id: "setting lengths",
      name: "Note lengths",
      kin: "duration gate length note-off sustain legato staccato shorten lengthen fixed until next sampler",
      place: "Lane menu",
      fits: 0.6,
      run: ({ store }) => {
        if (!workingLane(store.getState())) return "Open a lane first.";
        store.closeSift();
        openLaneMenuSoon("Note lengths");
      },
    },
    opened("export", "Export …"),
    opened("tracks", "Tracks of the take …"),
    opened("kit", "Kit layers …"),
  ];
}

function screens(go: (screen: string) => void): readonly SearchEntry[] {
  return SCREEN_WORDS.filter(({ path }) => path !== "bench").map(({ path, name, kin }) => ({
    id: `screen ${path}`,
    name,
    kin: `${kin} screen page go open`,
    place: "Screen",
    fits: 0.4,
    run: () => go(path),
  }));
}

function fromShelf({ chores, recipes, grooves }: SearchShelf): readonly SearchEntry[] {
  return [
    ...chores.map(
      (chore): SearchEntry => ({
        id: choreCommand(chore).id,
        name: chore.name,
        kin: "chore macro batch action preset script",
        place: "Chore",
        keyed: choreCommand(chore),
        fits: 0.3,
        run: ({ store }) => {
          const [first, ...more] = chore.steps;
          if (!first) return;
          const { siftDraft, picked } = store.getState();
          store.openSift({
            ...siftDraft,
            sift: first.sift,
            acts: first.acts,
            more,
            name: chore.name,
            within: "all",
            pickedBefore: picked,
          });
        },
      }),
    ),
    ...recipes.map(
      (recipe): SearchEntry => ({
        id: recipeCommand(recipe).id,
        name: `Recipe: ${recipe.name}`,
        kin: "preset settings quantize template",
        place: "Recipe",
        keyed: recipeCommand(recipe),
        fits: 0.2,
        run: recipeCommand(recipe).run,
      }),
    ),
    ...grooves.map(
      (groove): SearchEntry => ({
        id: `groove ${groove.id}`,
        name: `Groove: ${groove.name}`,
        kin: `feel template ${(groove.tags ?? []).join(" ")}`,
        place: "Groove",
        fits: 0.2,
        run: ({ store }) => {
          const lane = workingLane(store.getState());
          if (!lane) return "Open a lane first.";
          const { id, name, lengthQuarters, grid, layers } = groove;
          const feel = { isOn: true, timingPercent: 100, accentPercent: 60, ...lane.treatment.feel };
          store.commit(
            `Use the groove ${name} for ${lane.voice.name}`,
            feelEdit(store.getState(), new Set([lane.voiceId]), {
              ...feel,
              isOn: true,
              groove: { id, name, lengthQuarters, grid, layers },
            }),
          );
        },
      }),
    ),
  ];
}
