import { OneOf } from "../../../components/sentence/OneOf.tsx";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { choicesOf, idOf, meaningOfId } from "../../../components/sentence/stroke-choices.ts";
import { sayLimited } from "../../../core/limit.ts";
import { listed, type PhrasePart, type Phrase as PhraseParts } from "../../../core/phrase.ts";
import { formatGrid, gridStepTicks, parseGrid } from "../../../core/time/index.ts";
import { useBenchState } from "../../../store/bench/bench-context.ts";
import { GRID_GROUPS } from "../steps/grid-groups.ts";
import { NumberIn } from "./NumberIn.tsx";

interface PhraseProps<Thing> {
  readonly phrase: PhraseParts<Thing>;
  readonly onChange: (thing: Thing) => void;
}

/** The sentence of a test or an act, whose values can be set in place. */
export function Phrase<Thing>({ phrase, onChange }: PhraseProps<Thing>) {
  return phrase.map((part, index) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: a part is its place in the sentence
    <Part key={index} part={part} onChange={onChange} />
  ));
}

function Part<Thing>({ part, onChange }: { part: PhrasePart<Thing>; onChange: (thing: Thing) => void }) {
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  const lanes = useBenchState((state) => state.pattern.lanes);
  if (typeof part === "string") return part;
  switch (part.kind) {
    case "number":
      return (
        <NumberIn
          label={part.limit.label}
          min={part.limit.min}
          max={part.limit.max}
          step={part.limit.step}
          unit={part.limit.unit}
          usual={part.limit.usual ?? part.value}
          say={(value) => sayLimited(part.limit, value)}
          value={part.value}
          onChange={(value) => onChange(part.set(value))}
        />
      );
    case "choice": {
      const [only] = part.chosenIds;
      const names = part.chosenIds.map((id) => part.choices.find((choice) => choice.id === id)?.name ?? id);
      // A rule from a file may name several at once: they are shown together, until one is chosen in their place.
      const several = part.chosenIds.length > 1 ? [{ id: "several", name: listed(names) }] : [];
      return (
        <OneOf
          label={part.label}
          chosenId={several.length > 0 ? "several" : (only ?? "")}
          choices={[...several, ...part.choices]}
          onChoose={(id) => id !== "several" && onChange(part.set(id))}
        />
      );
    }
    case "voices": {
      const choices = lanes.map(({ voiceId }) => ({
        id: voiceId,
        name: noteMap.voices.find(({ id }) => id === voiceId)?.name ?? voiceId,
      }));
      return (
        <OneOf
          label="Drum"
          chosenId={part.voiceIds[0] ?? "some drum"}
          choices={choices}
          onChoose={(id) => onChange(part.set(id))}
        />
      );
    }
    case "stroke":
      return (
        <SentenceChoice
          label="Drum and stroke"
          chosenId={idOf(part.meaning)}
          groups={choicesOf(noteMap)}
          onChoose={(id) => onChange(part.set(meaningOfId(id)))}
        />
      );
    case "steps":
      return <Steps part={part} onChange={onChange} />;
    case "button":
      return (
        <button
          type="button"
          className="ml-1 text-small font-bold text-spruce underline"
          onClick={() => onChange(part.set())}
        >
          {part.name}
        </button>
      );
    default:
      return part satisfies never;
  }
}

const MOST_STEPS = 64;

interface StepsProps<Thing> {
  readonly part: Extract<PhrasePart<Thing>, { readonly kind: "steps" }>;
  readonly onChange: (thing: Thing) => void;
}

/** Steps of a bar to be switched on and off. */
function Steps<Thing>({ part: { grid, steps, set }, onChange }: StepsProps<Thing>) {
  const barTicks = useBenchState(({ maps }) => maps.meterMap.segments[0]?.barTicks ?? 1920);
  const ppq = useBenchState(({ maps }) => maps.meterMap.ppq);
  const count = Math.min(MOST_STEPS, Math.max(1, Math.round(barTicks / gridStepTicks(grid, ppq))));
  const isOn = new Set(steps);
  return (
    <span>
      <SentenceChoice
        label="Grid of the steps"
        chosenId={formatGrid(grid)}
        groups={GRID_GROUPS}
        onChoose={(id) => onChange(set(parseGrid(id) ?? grid, [1]))}
      />
      <span className="mt-1 flex flex-wrap gap-0.5">
        {Array.from({ length: count }, (_, index) => index + 1).map((step) => (
          <button
            key={step}
            type="button"
            aria-pressed={isOn.has(step)}
            aria-label={`Step ${step}`}
            className={`h-6 min-w-6 rounded border text-fine ${isOn.has(step) ? "border-spruce bg-spruce text-sheet" : "border-hairline-strong text-muted"}`}
            onClick={() => {
              const next = isOn.has(step) ? steps.filter((one) => one !== step) : [...steps, step];
              if (next.length > 0)
                onChange(
                  set(
                    grid,
                    next.toSorted((a, b) => a - b),
                  ),
                );
            }}
          >
            {step}
          </button>
        ))}
      </span>
    </span>
  );
}
