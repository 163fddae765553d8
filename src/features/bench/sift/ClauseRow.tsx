import { X } from "lucide-react";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { kindOfTest, type SiftClause, type SiftTest, TEST_KINDS } from "../../../core/sift/index.ts";
import { useBenchState } from "../../../store/bench/bench-context.ts";
import { Phrase } from "./Phrase.tsx";

interface ClauseProps {
  readonly clause: SiftClause;
  readonly onChange: (clause: SiftClause | null) => void;
}

/** One condition of a rule: only these, or not these, with others beside them. */
export function ClauseRow({ clause, onChange }: ClauseProps) {
  const { anyOf } = clause;
  const isNot = clause.not === true;
  const withTests = (tests: readonly SiftTest[]) => onChange(tests.length === 0 ? null : { ...clause, anyOf: tests });
  return (
    <li className="flex items-start gap-1 border-t border-hairline py-1.5 leading-[1.75]">
      <span className="min-w-0 flex-1">
        <button
          type="button"
          aria-label={isNot ? "Except: change to only" : "Only: change to except"}
          className="border-b-[1.5px] border-dotted border-spruce hover:bg-spruce-tint"
          onClick={() => onChange(isNot ? { anyOf } : { not: true, anyOf })}
        >
          {isNot ? "except" : "only"}
        </button>{" "}
        {anyOf.map((test, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a test is its place in the clause
          <span key={index}>
            {index > 0 && " or "}
            <Phrase phrase={kindOfTest(test).phrase(test)} onChange={(next) => withTests(anyOf.with(index, next))} />
          </span>
        ))}{" "}
        <AddTest label="Or also" name="or …" onAdd={(test) => withTests([...anyOf, test])} />
      </span>
      <button
        type="button"
        aria-label="Remove this condition"
        className="mt-1 rounded p-0.5 text-muted hover:text-ink"
        onClick={() => onChange(null)}
      >
        <X size={13} />
      </button>
    </li>
  );
}

interface AddProps {
  readonly label: string;
  readonly name: string;
  readonly onAdd: (test: SiftTest) => void;
}

/** A choice of tests to begin one with. */
export function AddTest({ label, name, onAdd }: AddProps) {
  const openVoiceId = useBenchState((state) => state.openVoiceId);
  const firstVoiceId = useBenchState((state) => state.pattern.lanes[0]?.voiceId ?? "snare");
  return (
    <SentenceChoice
      label={label}
      chosenId="none"
      groups={[
        [{ id: "none", name }],
        Object.entries(TEST_KINDS).map(([kind, { name: offered }]) => ({ id: kind, name: offered })),
      ]}
      onChoose={(id) => {
        const first: SiftTest | undefined = Object.values(TEST_KINDS).find((kind) => kind.first.kind === id)?.first;
        if (!first) return;
        // The drum that is worked on is the likeliest to be meant.
        onAdd(first.kind === "voices" ? { ...first, voiceIds: [openVoiceId ?? firstVoiceId] } : first);
      }}
    />
  );
}
