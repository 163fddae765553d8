import { type FormEvent, memo, useState } from "react";
import { toast } from "sonner";
import { Button } from "../../components/Button.tsx";
import { Refusal } from "../../components/Refusal.tsx";
import { SentenceChoice } from "../../components/SentenceChoice.tsx";
import { recipeOf, recipeSentence } from "../../core/recipe.ts";
import type { TimingTreatment } from "../../core/treatment.ts";
import { useBench, useBenchState } from "../../store/bench-context.ts";
import { useRecipes } from "../../store/use-recipes.ts";
import { type BakeScope, bakeInScope, giveSettings, recipeEdit } from "./treatment-actions.ts";

const EVERY_VOICE = "every other voice";

/** Settings as a whole: taken from the shelf or put there, given to other voices, and baked in. */
export const RecipeStep = memo(function RecipeStep({ voiceId, timing }: { voiceId: string; timing: TimingTreatment }) {
  const bench = useBench();
  const { store } = bench;
  const voices = useBenchState((state) => state.pattern.lanes.length);
  const hasLoop = useBenchState((state) => state.loop !== null);
  const { recipes, problem, keep } = useRecipes();
  const [isNaming, setIsNaming] = useState(false);
  const say = (words: string | null) => words && toast(words, { id: "command" });
  const others = store.getState().lanes.filter((lane) => lane.voiceId !== voiceId);
  const now = recipeSentence(recipeOf(timing));
  const chosen = timing.isOn ? recipes?.find((recipe) => recipeSentence(recipe.timing) === now) : undefined;
  const editOf = (id: string) => {
    const recipe = recipes?.find((one) => one.id === id);
    return recipe ? { recipe, edit: recipeEdit(store.getState(), new Set([voiceId]), recipe.timing) } : null;
  };
  const choose = (id: string) => {
    const found = editOf(id);
    if (found) store.commit(`Treat ${nameOf(voiceId)} as ${found.recipe.name}`, found.edit);
  };
  const nameOf = (id: string) => store.getState().lanes.find((lane) => lane.voiceId === id)?.voice.name ?? id;
  return (
    <section aria-label="Recipes" className="mt-4 border-t border-hairline pt-3">
      <h3 className="font-bold">Recipe</h3>
      <p className="mt-1 leading-[1.75]">
        Treat it as{" "}
        <SentenceChoice
          label="Recipe"
          chosenId={chosen?.id ?? "own"}
          groups={[
            ...(chosen ? [] : [[{ id: "own", name: "set above" }]]),
            (recipes ?? []).filter(({ isBuiltIn }) => isBuiltIn).map(choiceOf),
            (recipes ?? []).filter(({ isBuiltIn }) => !isBuiltIn).map(choiceOf),
          ].filter((group) => group.length > 0)}
          onPreview={(id) => {
            const found = editOf(id);
            if (found) store.preview(found.edit);
          }}
          onChoose={choose}
          onCancel={() => store.endPreview()}
        />
        , on its own grid.
        {voices > 1 && (
          <>
            {" "}
            Give its settings to{" "}
            <SentenceChoice
              label="Give the settings to"
              chosenId="another voice"
              groups={[
                [{ id: EVERY_VOICE, name: EVERY_VOICE }],
                others.map((lane) => ({ id: lane.voiceId, name: lane.voice.name })),
              ]}
              onPreview={() => {}}
              onChoose={(id) =>
                say(giveSettings(bench, new Set(id === EVERY_VOICE ? others.map((lane) => lane.voiceId) : [id])))
              }
              onCancel={() => {}}
            />
            .
          </>
        )}
      </p>
      {problem && (
        <Refusal className="mt-1">
          {problem.message} {problem.remedy}
        </Refusal>
      )}
      {isNaming ? (
        <NameForm
          sentence={now}
          onName={async (name) => {
            if (!(await keep({ name, timing: recipeOf(timing) }))) return;
            setIsNaming(false);
            say(`“${name}” is on the shelf, for any lane of any project.`);
          }}
          onCancel={() => setIsNaming(false)}
        />
      ) : (
        <p className="mt-1.5 flex flex-wrap items-baseline gap-2 text-[13px]">
          <Button className="px-2.5 text-[13px]" onClick={() => setIsNaming(true)}>
            Keep as a recipe
          </Button>
          {timing.isOn && (
            <span>
              or bake in{" "}
              <SentenceChoice
                label="Bake in"
                chosenId="…"
                groups={[bakeScopes(hasLoop)]}
                onPreview={() => {}}
                onChoose={(id) => {
                  const scope = bakeScopes(hasLoop).find((one) => one.id === id)?.id;
                  if (scope) say(bakeInScope(bench, scope));
                }}
                onCancel={() => {}}
              />
            </span>
          )}
        </p>
      )}
    </section>
  );
});

const choiceOf = ({ id, name }: { readonly id: string; readonly name: string }) => ({ id, name });

function bakeScopes(hasLoop: boolean): readonly { readonly id: BakeScope; readonly name: string }[] {
  return [
    { id: "voice", name: "this voice" },
    { id: "stretch", name: hasLoop ? "this voice, in the loop" : "this voice, in the bars in view" },
    { id: "all", name: "every voice" },
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
    <form onSubmit={submit} className="mt-1.5">
      <p className="text-[13px] text-muted">{sentence}</p>
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
        <Button type="submit" className="px-2.5 text-[13px]">
          Keep
        </Button>
      </p>
    </form>
  );
}
