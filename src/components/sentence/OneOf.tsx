import { SentenceChoice } from "./SentenceChoice.tsx";

interface OneOfProps<Id extends string> {
  readonly label: string;
  readonly chosenId: Id;
  readonly choices: readonly { readonly id: Id; readonly name: string }[];
  readonly onChoose: (id: Id) => void;
}

/** A word of a rule with others to take its place. The rule is shown at once, so there is nothing to preview beside it. */
export function OneOf<Id extends string>({ label, chosenId, choices, onChoose }: OneOfProps<Id>) {
  return (
    <SentenceChoice
      label={label}
      chosenId={chosenId}
      groups={[choices]}
      onChoose={(id) => {
        const chosen = choices.find((choice) => choice.id === id);
        if (chosen) onChoose(chosen.id);
      }}
    />
  );
}
