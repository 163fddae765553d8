import { SentenceChoice } from "../../../components/SentenceChoice.tsx";

interface OneOfProps {
  readonly label: string;
  readonly chosenId: string;
  readonly choices: readonly { readonly id: string; readonly name: string }[];
  readonly onChoose: (id: string) => void;
}

/** A word of a rule with others to take its place. The rule is shown at once, so there is nothing to preview beside it. */
export function OneOf({ label, chosenId, choices, onChoose }: OneOfProps) {
  return (
    <SentenceChoice
      label={label}
      chosenId={chosenId}
      groups={[choices]}
      onPreview={() => {}}
      onChoose={onChoose}
      onCancel={() => {}}
    />
  );
}
