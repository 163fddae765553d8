import { type FormEvent, memo, useState } from "react";
import { toast } from "sonner";
import { Button } from "../../components/Button.tsx";
import { Refusal } from "../../components/Refusal.tsx";
import { SentenceChoice } from "../../components/SentenceChoice.tsx";
import { isSameValue } from "../../core/document/index.ts";
import type { TimingTreatment } from "../../core/document/treatment.ts";
import { recipeOf, recipeSentence } from "../../core/recipe.ts";
import { useBench, useBenchState } from "../../store/bench-context.ts";
import type { RecipeShelf } from "../../store/use-recipes.ts";
import { type BakeScope, bakeInScope, giveSettings, recipeEdit } from "./treatment-actions.ts";

const EVERY_VOICE = "every other voice";

interface RecipeProps {
  readonly voiceId: string;
  readonly timing: TimingTreatment;
  /** Whether any step of the treatment is on. */
  readonly isOn?: boolean;
  /** One for the whole card, so that what is kept can be chosen at once. */
  readonly shelf: RecipeShelf;
}

/** Which of the recipes on the shelf a voice is treated by, and the others to try. */
export const RecipeChoice = memo(function RecipeChoice({ voiceId, timing, shelf }: RecipeProps) {
  const { store } = useBench();
  const { recipes, problem } = shelf;
  const now = recipeOf(timing);
  const chosen = timing.isOn ? recipes?.find((recipe) => isSameValue(recipe.timing, now)) : undefined;
  const editOf = (id: string) => {
    const recipe = recipes?.find((one) => one.id === id);
    return recipe ? { recipe, edit: recipeEdit(store.getState(), new Set([voiceId]), recipe.timing) } : null;
  };
  const choose = (id: string) => {
    const found = editOf(id);
    const voice = store.getState().lanes.find((lane) => lane.voiceId === voiceId)?.voice.name ?? voiceId;
    if (found) store.commit(`Treat ${voice} as ${found.recipe.name}`, found.edit);
  };
  const choicesOf = (isBuiltIn: boolean) =>
    (recipes ?? []).filter((one) => one.isBuiltIn === isBuiltIn).map(({ id, name }) => ({ id, name }));
  return (
    <>
      <p className="mt-2 leading-[1.75]">
        Treat it{" "}
        <SentenceChoice
          label="Recipe"
          chosenId={chosen?.id ?? "own"}
          groups={[[{ id: "own", name: "as set below" }], choicesOf(true), choicesOf(false)].filter(
            (group) => group.length > 0,
          )}
          onPreview={(id) => {
            const found = editOf(id);
            if (found) store.preview(found.edit);
            else store.endPreview();
          }}
          onChoose={choose}
          onCancel={() => store.endPreview()}
        />
        .
      </p>
      {problem && (
        <Refusal className="mt-1">
          {problem.message} {problem.remedy}
        </Refusal>
      )}
    </>
  );
});

/** What can be done with the settings as a whole: put on the shelf, given to other voices, baked in. */
export const RecipeStep = memo(function RecipeStep({ voiceId, timing, isOn = false, shelf }: RecipeProps) {
  const bench = useBench();
  const voices = useBenchState((state) => state.pattern.lanes.length);
  const hasLoop = useBenchState((state) => state.loop !== null);
  const { keep } = shelf;
  const [isNaming, setIsNaming] = useState(false);
  const say = (words: string | null) => words && toast(words, { id: "command" });
  const others = bench.store.getState().lanes.filter((lane) => lane.voiceId !== voiceId);
  return (
    <section aria-label="Settings as a whole" className="mt-3 border-t border-hairline pt-3">
      <p className="leading-[1.75]">
        {voices > 1 && (
          <>
            Give these settings to{" "}
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
            .{" "}
          </>
        )}
        {isOn && (
          <>
            Bake in{" "}
            <SentenceChoice
              label="Bake in"
              chosenId="what they did"
              groups={[bakeScopes(hasLoop)]}
              onPreview={() => {}}
              onChoose={(id) => {
                const scope = bakeScopes(hasLoop).find((one) => one.id === id)?.id;
                if (scope) say(bakeInScope(bench, scope));
              }}
              onCancel={() => {}}
            />
            .
          </>
        )}
      </p>
      {isNaming ? (
        <NameForm
          sentence={recipeSentence(recipeOf(timing))}
          onName={async (name) => {
            if (!(await keep({ name, timing: recipeOf(timing) }))) return;
            setIsNaming(false);
            say(`“${name}” is on the shelf, for any lane of any project.`);
          }}
          onCancel={() => setIsNaming(false)}
        />
      ) : (
        <Button className="mt-1 px-2.5 text-[13px]" onClick={() => setIsNaming(true)}>
          Keep them as a recipe
        </Button>
      )}
    </section>
  );
});

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
