import { type FormEvent, useState } from "react";
import { Button } from "../../../components/Button.tsx";
import { Refusal } from "../../../components/messages/Refusal.tsx";
import { say } from "../../../components/messages/say.ts";
import type { SiftDraft } from "../../../store/bench/sift-draft.ts";
import type { ChoreShelf } from "../../../store/shelf/use-chores.ts";
import { stepsOf } from "./sift-actions.ts";

/** Keeps the rule and what it does on the shelf, under a name. */
export function KeepChore({ draft, shelf }: { readonly draft: SiftDraft; readonly shelf: ChoreShelf }) {
  const { keep, problem } = shelf;
  const [name, setName] = useState("");
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (name.trim() === "") return;
    if (!(await keep({ name: name.trim(), steps: stepsOf(draft) }))) return;
    say(`“${name.trim()}” is on the Shelf, for any take.`);
    setName("");
  };
  return (
    <form onSubmit={(event) => void submit(event)} className="mt-3 flex gap-2">
      <input
        aria-label="Name of the chore"
        placeholder="Save as a chore, called …"
        value={name}
        maxLength={200}
        className="min-w-0 flex-1 rounded-md border border-hairline-strong bg-paper px-2.5 py-0.5 text-small"
        onChange={(event) => setName(event.target.value)}
      />
      <Button type="submit" className="px-2.5 text-small">
        Save
      </Button>
      {problem && <Refusal>{problem.message}</Refusal>}
    </form>
  );
}
