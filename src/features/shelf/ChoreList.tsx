import { useRef, useState } from "react";
import { FileInput } from "../../components/FileInput.tsx";
import { Refusal } from "../../components/messages/Refusal.tsx";
import { say } from "../../components/messages/say.ts";
import { saveText } from "../../components/save-text.ts";
import { choreSentence } from "../../core/chore/index.ts";
import { GENERAL_MIDI } from "../../core/notemap/index.ts";
import { type KeptChore, type ProjectCard, writeChoreFile } from "../../store/server-api.ts";
import { useChores } from "../../store/shelf/use-chores.ts";
import { ChoreSheet } from "./ChoreSheet.tsx";

/** The chores on the shelf, each with what it does; run from here on whole projects. */
export function ChoreList({ projects, onRun }: { projects: readonly ProjectCard[]; onRun: () => void }) {
  const { chores, problem, remove, putBack, readFile } = useChores();
  const [opened, setOpened] = useState<KeptChore | null>(null);
  const fileInput = useRef<HTMLInputElement>(null);
  const takeOff = async (id: string, name: string) => {
    if (!(await remove(id))) return;
    say(`Deleted “${name}”. What it changed stays changed.`, { label: "Undo", act: () => void putBack(id) });
  };
  const linkClass = "text-small text-muted underline hover:text-ink";
  return (
    <section aria-labelledby="chores">
      <h2 id="chores" className="font-semibold text-muted">
        Chores
      </h2>
      <p className="mt-1 text-small text-muted">
        Rules with what they should do. Make them under “Sift” on the Bench; run them there, or here on whole projects.
      </p>
      <p className="mt-1 flex gap-3">
        <button
          type="button"
          className={linkClass}
          onClick={() => saveText("chores.json", "application/json", writeChoreFile(chores ?? []))}
        >
          Export
        </button>
        <button type="button" className={linkClass} onClick={() => fileInput.current?.click()}>
          Import
        </button>
        <FileInput
          inputRef={fileInput}
          label="File of chores"
          accept=".json,application/json"
          onFile={(file) => void readFile(file).then((isRead) => isRead && say(`Read the chores of ${file.name}.`))}
        />
      </p>
      {problem && (
        <Refusal className="mt-1">
          {problem.message} {problem.remedy}
        </Refusal>
      )}
      <ul className="mt-1.5">
        {chores?.map((chore) => (
          <li key={chore.id} className="border-t border-hairline py-1.5 leading-snug">
            <button type="button" className="text-left font-bold hover:underline" onClick={() => setOpened(chore)}>
              {chore.name}
            </button>
            {!chore.isBuiltIn && (
              <button
                type="button"
                className={`float-right ${linkClass}`}
                aria-label={`Delete ${chore.name}`}
                onClick={() => void takeOff(chore.id, chore.name)}
              >
                Take off
              </button>
            )}
            <br />
            <span className="text-small text-muted">{choreSentence(chore.steps, GENERAL_MIDI)}</span>
          </li>
        ))}
      </ul>
      {opened && <ChoreSheet chore={opened} projects={projects} onDone={onRun} onClose={() => setOpened(null)} />}
    </section>
  );
}
