import { Refusal } from "../../components/messages/Refusal.tsx";
import { say } from "../../components/messages/say.ts";
import { recipeSentence } from "../../core/recipe.ts";
import { useRecipes } from "../../store/shelf/use-recipes.ts";

/** The recipes on the shelf, each with what it does. */
export function RecipeList() {
  const { recipes, problem, remove, putBack } = useRecipes();
  const takeOff = async (id: string, name: string) => {
    if (!(await remove(id))) return;
    say(`Deleted “${name}”. Lanes that use it stay as they are.`, { label: "Undo", act: () => void putBack(id) });
  };
  return (
    <section aria-labelledby="recipes">
      <h2 id="recipes" className="font-semibold text-muted">
        Recipes
      </h2>
      <p className="mt-1 text-small text-muted">Ways to quantize a voice. Choose one on its lane card.</p>
      {problem && (
        <Refusal className="mt-1">
          {problem.message} {problem.remedy}
        </Refusal>
      )}
      <ul className="mt-1.5">
        {recipes?.map(({ id, name, timing, isBuiltIn }) => (
          <li key={id} className="border-t border-hairline py-1.5 leading-snug">
            <strong>{name}</strong>
            {!isBuiltIn && (
              <button
                type="button"
                className="float-right text-small text-muted underline"
                aria-label={`Delete ${name}`}
                onClick={() => void takeOff(id, name)}
              >
                Take off
              </button>
            )}
            <br />
            <span className="text-small text-muted">{recipeSentence(timing)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
