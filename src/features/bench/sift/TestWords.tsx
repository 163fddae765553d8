import { OneOf } from "../../../components/OneOf.tsx";
import { SentenceChoice } from "../../../components/SentenceChoice.tsx";
import { choicesOf, idOf, meaningOfId } from "../../../components/stroke-choices.ts";
import { FAMILIES, ROLES } from "../../../core/document/index.ts";
import { COMPANIES, COMPANY_WORDS, PLACE_WORDS, PLACES, type SiftTest } from "../../../core/sift/index.ts";
import { formatGrid, gridStepTicks, parseGrid } from "../../../core/time/index.ts";
import { useBenchState } from "../../../store/bench-context.ts";
import { GRID_GROUPS } from "../grid-groups.ts";
import { NumberIn } from "./NumberIn.tsx";

interface TestProps {
  readonly test: SiftTest;
  readonly onChange: (test: SiftTest) => void;
}

/** One test of a rule as words, each of which can be changed in place. */
export function TestWords({ test, onChange }: TestProps) {
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  const lanes = useBenchState((state) => state.pattern.lanes);
  const found = <Choice extends string>(list: readonly Choice[], id: string): readonly Choice[] => {
    const one = list.find((choice) => choice === id);
    return one ? [one] : [];
  };
  switch (test.kind) {
    case "voices": {
      const choices = lanes.map(({ voiceId }) => ({
        id: voiceId,
        name: noteMap.voices.find(({ id }) => id === voiceId)?.name ?? voiceId,
      }));
      return (
        <OneOf
          label="Drum"
          chosenId={test.voiceIds[0] ?? "some drum"}
          choices={choices}
          onChoose={(id) => onChange({ ...test, voiceIds: [id] })}
        />
      );
    }
    case "families":
      return (
        <OneOf
          label="Family"
          chosenId={test.families[0] ?? "some family"}
          choices={FAMILIES.map((family) => ({ id: family, name: family }))}
          onChoose={(id) => onChange({ ...test, families: found(FAMILIES, id) })}
        />
      );
    case "stroke":
      return (
        <SentenceChoice
          label="Stroke"
          chosenId={idOf(test)}
          groups={choicesOf(noteMap)}
          onPreview={() => {}}
          onChoose={(id) => onChange({ ...test, ...meaningOfId(id) })}
          onCancel={() => {}}
        />
      );
    case "roles":
      return (
        <OneOf
          label="Role"
          chosenId={test.roles[0] ?? "ghost"}
          choices={ROLES.map((role) => ({ id: role, name: `${role}s` }))}
          onChoose={(id) => onChange({ ...test, roles: found(ROLES, id) })}
        />
      );
    case "velocity":
      return (
        <>
          velocity{" "}
          <NumberIn
            label="Velocity from"
            min={1}
            max={127}
            value={test.from}
            onChange={(from) => onChange({ ...test, from, to: Math.max(from, test.to) })}
          />{" "}
          to{" "}
          <NumberIn
            label="Velocity to"
            min={1}
            max={127}
            value={test.to}
            onChange={(to) => onChange({ ...test, to, from: Math.min(to, test.from) })}
          />
        </>
      );
    case "places":
      return (
        <OneOf
          label="Place in the bar"
          chosenId={test.places[0] ?? "offBeats"}
          choices={PLACES.map((place) => ({ id: place, name: PLACE_WORDS[place] }))}
          onChoose={(id) => onChange({ ...test, places: found(PLACES, id) })}
        />
      );
    case "steps":
      return <Steps test={test} onChange={onChange} />;
    case "drift":
      return (
        <>
          <NumberIn
            label="Drift from"
            min={-200}
            max={200}
            unit="ms, late is positive"
            value={test.fromMs}
            onChange={(fromMs) => onChange({ ...test, fromMs, toMs: Math.max(fromMs, test.toMs) })}
          />{" "}
          to{" "}
          <NumberIn
            label="Drift to"
            min={-200}
            max={200}
            unit="ms, late is positive"
            value={test.toMs}
            onChange={(toMs) => onChange({ ...test, toMs, fromMs: Math.min(toMs, test.fromMs) })}
          />{" "}
          ms late
        </>
      );
    case "bars":
      return (
        <>
          in bars{" "}
          <NumberIn
            label="From bar"
            min={1}
            max={4096}
            value={test.from}
            onChange={(from) => onChange({ ...test, from, to: Math.max(from, test.to) })}
          />{" "}
          to{" "}
          <NumberIn
            label="To bar"
            min={1}
            max={4096}
            value={test.to}
            onChange={(to) => onChange({ ...test, to, from: Math.min(to, test.from) })}
          />
        </>
      );
    case "company":
      return (
        <OneOf
          label="Company"
          chosenId={test.company}
          choices={COMPANIES.map((company) => ({ id: company, name: COMPANY_WORDS[company] }))}
          onChoose={(id) => onChange({ ...test, company: found(COMPANIES, id)[0] ?? test.company })}
        />
      );
    case "pinned":
      return (
        <OneOf
          label="Set by hand"
          chosenId={test.what}
          choices={[
            { id: "time", name: "pinned in time" },
            { id: "loudness", name: "with a loudness set by hand" },
          ]}
          onChoose={(id) => onChange({ ...test, what: id === "time" ? "time" : "loudness" })}
        />
      );
    default:
      return test satisfies never;
  }
}

const MOST_STEPS = 64;

/** Steps of a bar to be switched on and off. */
function Steps({ test, onChange }: { test: Extract<SiftTest, { kind: "steps" }>; onChange: (test: SiftTest) => void }) {
  const barTicks = useBenchState(({ maps }) => maps.meterMap.segments[0]?.barTicks ?? 1920);
  const ppq = useBenchState(({ maps }) => maps.meterMap.ppq);
  const count = Math.min(MOST_STEPS, Math.max(1, Math.round(barTicks / gridStepTicks(test.grid, ppq))));
  const isOn = new Set(test.steps);
  return (
    <span>
      <SentenceChoice
        label="Grid of the steps"
        chosenId={formatGrid(test.grid)}
        groups={GRID_GROUPS}
        onPreview={() => {}}
        onChoose={(id) => onChange({ ...test, grid: parseGrid(id) ?? test.grid, steps: [1] })}
        onCancel={() => {}}
      />
      <span className="mt-1 flex flex-wrap gap-0.5">
        {Array.from({ length: count }, (_, index) => index + 1).map((step) => (
          <button
            key={step}
            type="button"
            aria-pressed={isOn.has(step)}
            aria-label={`Step ${step}`}
            className={`h-6 min-w-6 rounded border text-[12px] ${isOn.has(step) ? "border-spruce bg-spruce text-sheet" : "border-hairline-strong text-muted"}`}
            onClick={() => {
              const next = isOn.has(step) ? test.steps.filter((one) => one !== step) : [...test.steps, step];
              if (next.length > 0) onChange({ ...test, steps: next.toSorted((a, b) => a - b) });
            }}
          >
            {step}
          </button>
        ))}
      </span>
    </span>
  );
}
