import { type FormEvent, useState } from "react";
import { Button } from "../../../components/Button.tsx";
import { MenuButton } from "../../../components/MenuButton.tsx";
import { Refusal } from "../../../components/messages/Refusal.tsx";
import { say } from "../../../components/messages/say.ts";
import { isSameValue, isTreated } from "../../../core/document/index.ts";
import { recipeOf, recipeSentence } from "../../../core/recipe.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import type { RecipeShelf } from "../../../store/shelf/use-recipes.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { type BakeScope, bakeInScope, giveSettings, recipeEdit } from "../commands/treatment-actions.ts";

const EVERY_VOICE = "all other voices";
const SAVE = "save";

/** What can be done with the settings of a voice as a whole. */
export function CardFoot({ lane, shelf }: { lane: LaneView; shelf: RecipeShelf }) {
  const bench = useBench();
  const hasLoop = useBenchState((state) => state.loop !== null);
  const names = useBenchState((state) => state.lanes.map(({ voice }) => voice.name).join("\n"));
  const [isNaming, setIsNaming] = useState(false);
  const { recipes, keep, problem } = shelf;
  const { timing } = lane.treatment;
  const { store } = bench;
  const others = names.length > 0 ? store.getState().lanes.filter(({ voiceId }) => voiceId !== lane.voiceId) : [];
  const now = recipeOf(timing);
  const chosen = timing.isOn ? recipes?.find((recipe) => isSameValue(recipe.timing, now)) : undefined;
  const found = (id: string) => recipes?.find((one) => one.id === id);
  const edit = (id: string) => {
    const recipe = found(id);
    return recipe ? recipeEdit(store.getState(), new Set([lane.voiceId]), recipe.timing) : null;
  };
  const offered = (isBuiltIn: boolean) =>
    (recipes ?? [])
      .filter((one) => one.isBuiltIn === isBuiltIn)
      .map(({ id, name }) => ({ id, name, ...(id === chosen?.id ? { note: "in use" } : {}) }));
  return (
    <section aria-label="Settings as a whole" className="mt-3 border-t border-hairline pt-2.5">
      {isNaming ? (
        <NameForm
          sentence={recipeSentence(now)}
          onName={async (name) => {
            if (!(await keep({ name, timing: now }))) return;
            setIsNaming(false);
            say(`Saved the recipe “${name}” to the Shelf, for any voice of any project.`);
          }}
          onCancel={() => setIsNaming(false)}
        />
      ) : (
        <p className="flex flex-wrap gap-1.5">
          {others.length > 0 && (
            <MenuButton
              label="Copy to voices …"
              groups={[
                [{ id: EVERY_VOICE, name: EVERY_VOICE }],
                others.map(({ voiceId, voice }) => ({ id: voiceId, name: voice.name })),
              ]}
              onChoose={(id) =>
                doAndSay(bench, () =>
                  giveSettings(bench, new Set(id === EVERY_VOICE ? others.map(({ voiceId }) => voiceId) : [id])),
                )
              }
            />
          )}
          <MenuButton
            label={chosen ? `Recipe: ${chosen.name}` : "Recipes"}
            groups={[offered(true), offered(false), [{ id: SAVE, name: "Save as recipe …" }]]}
            onPreview={(id) => {
              const shown = edit(id);
              if (shown) store.preview(shown);
              else store.endPreview();
            }}
            onChoose={(id) => {
              if (id === SAVE) return setIsNaming(true);
              const done = edit(id);
              if (done) store.commit(`Use the recipe ${found(id)?.name} for ${lane.voice.name}`, done);
            }}
            onCancel={() => store.endPreview()}
          />
          {isTreated(lane.treatment) && (
            <MenuButton
              label="Bake in"
              groups={[bakeScopes(hasLoop)]}
              onChoose={(id) => {
                const scope = bakeScopes(hasLoop).find((one) => one.id === id)?.id;
                if (scope) doAndSay(bench, () => bakeInScope(bench, scope));
              }}
            />
          )}
        </p>
      )}
      {problem && (
        <Refusal className="mt-1">
          {problem.message} {problem.remedy}
        </Refusal>
      )}
    </section>
  );
}

function bakeScopes(hasLoop: boolean): readonly { readonly id: BakeScope; readonly name: string }[] {
  return [
    { id: "voice", name: "this voice" },
    { id: "stretch", name: hasLoop ? "this voice, in the loop" : "this voice, in the bars in view" },
    { id: "all", name: "all voices" },
  ];
}

interface NameFormProps {
  readonly sentence: string;
  readonly onName: (name: string) => Promise<void>;
  readonly onCancel: () => void;
}

function NameForm({ sentence, onName, onCancel }: NameFormProps) {
  const [name, setName] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (name.trim() !== "") void onName(name.trim());
  };
  return (
    <form onSubmit={submit}>
      <p className="text-small text-muted">{sentence}</p>
      <p className="mt-1 flex gap-2">
        <input
          // biome-ignore lint/a11y/noAutofocus: it has just been asked for
          autoFocus
          aria-label="Name of the recipe"
          value={name}
          maxLength={200}
          className="min-w-0 flex-1 rounded-md border border-hairline-strong bg-paper px-2.5 py-0.5"
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Escape") onCancel();
          }}
        />
        <Button type="submit" className="px-2.5 text-small">
          Save
        </Button>
      </p>
    </form>
  );
}
