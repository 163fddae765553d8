"use client";

import clsx from "clsx";
import { line, scaleLinear } from "d3";
import { type FormEvent, useRef, useState } from "react";
import { Button } from "../../components/Button.tsx";
import { FileInput } from "../../components/FileInput.tsx";
import { Refusal } from "../../components/messages/Refusal.tsx";
import { say } from "../../components/messages/say.ts";
import { SearchField } from "../../components/SearchField.tsx";
import { saveBytes, saveText } from "../../components/save-text.ts";
import { SentenceNumber } from "../../components/sentence/SentenceNumber.tsx";
import { Tags } from "../../components/Tags.tsx";
import type { Groove } from "../../core/document/index.ts";
import { grooveToMidi, grooveWords } from "../../core/groove/index.ts";
import { type KeptGroove, writeGrooveFile } from "../../store/server-api.ts";
import { useGrooves } from "../../store/shelf/use-grooves.ts";
import { PageBar } from "../page/PageBar.tsx";
import { GrooveProfile } from "./GrooveProfile.tsx";
import { HearGroove } from "./HearGroove.tsx";
import { MakeGroove } from "./MakeGroove.tsx";

const USUAL_BPM = 96;

/** The grooves on the shelf: looked at, changed, made, mixed, written and read. */
export function GroovesScreen({ projectId }: { projectId?: string }) {
  const { grooves, problem, keep, change, remove, putBack, readFile } = useGrooves();
  const [chosenId, setChosenId] = useState<string | null>(null);
  /** One that is being made or changed, and not kept yet. */
  const [draft, setDraft] = useState<Groove | null>(null);
  const [search, setSearch] = useState("");
  const [bpm, setBpm] = useState(USUAL_BPM);
  const fileInput = useRef<HTMLInputElement>(null);
  const [tag, setTag] = useState<string | null>(null);
  const tags = [...new Set((grooves ?? []).flatMap((one) => one.tags ?? []))].sort();
  const sought = search.trim().toLowerCase();
  const found = (grooves ?? []).filter(
    (one) =>
      (tag === null || one.tags?.includes(tag)) &&
      [one.name, grooveWords(one, bpm), ...(one.tags ?? [])].some((text) => text.toLowerCase().includes(sought)),
  );
  const chosen = grooves?.find(({ id }) => id === chosenId) ?? grooves?.[0];
  const shown: Groove | undefined = draft ?? chosen;
  const choose = (id: string) => {
    setChosenId(id);
    setDraft(null);
  };
  const read = async (file: File) => {
    const reading = await readFile(file);
    if (!reading) return;
    choose(reading.groove.id);
    say(`“${reading.groove.name}” is on the shelf. ${reading.notices.join(" ")}`);
  };
  const takeOff = async ({ id, name }: KeptGroove) => {
    if (!(await remove(id))) return;
    setChosenId(null);
    say(`Deleted “${name}”. Voices that use it keep it.`, { label: "Undo", act: () => void putBack(id) });
  };
  return (
    <div className="flex min-h-screen flex-col">
      <PageBar here="Grooves" projectId={projectId} />
      <div className="grid flex-1 grid-cols-1 gap-6 px-5 pt-3 pb-10 md:grid-cols-[250px_1fr]">
        <aside aria-label="Grooves on the shelf">
          <p className="flex items-baseline justify-between text-small text-muted">
            <span>{grooves ? `${grooves.length} grooves` : "Opening the shelf …"}</span>
            <button
              type="button"
              className="font-bold text-spruce underline"
              onClick={() => fileInput.current?.click()}
            >
              Read a file
            </button>
          </p>
          <FileInput
            inputRef={fileInput}
            label="File of a groove"
            accept=".json,.mid,.midi"
            onFile={(file) => void read(file)}
          />
          <SearchField label="Search grooves" value={search} className="mt-2 w-full text-small" onChange={setSearch} />
          <fieldset aria-label="Only with the tag" className="mt-2 flex flex-wrap gap-1.5">
            {tags.map((one) => (
              <button
                key={one}
                type="button"
                aria-pressed={tag === one}
                className="rounded-full border border-hairline-strong px-2.5 text-fine aria-pressed:bg-spruce-tint aria-pressed:font-bold"
                onClick={() => setTag(tag === one ? null : one)}
              >
                {one}
              </button>
            ))}
          </fieldset>
          {problem && (
            <Refusal className="mt-2">
              {problem.message} {problem.remedy}
            </Refusal>
          )}
          <ul className="mt-2">
            {found.map((groove) => {
              const isShown = draft === null && groove.id === chosen?.id;
              return (
                <li key={groove.id}>
                  <button
                    type="button"
                    aria-current={isShown}
                    className={clsx(
                      "flex w-full items-center gap-2 rounded-lg border px-2.5 py-1.5 text-left leading-tight",
                      isShown ? "border-hairline-strong bg-sheet" : "border-transparent hover:bg-sheet",
                    )}
                    onClick={() => choose(groove.id)}
                  >
                    <span className="min-w-0 flex-1">
                      <strong>{groove.name}</strong>
                      <br />
                      <span className="text-fine text-muted">{grooveWords(groove, bpm)}</span>
                    </span>
                    <SmallProfile groove={groove} />
                  </button>
                </li>
              );
            })}
          </ul>
          {grooves && found.length === 0 && <p className="mt-2 text-small text-muted">Nothing found.</p>}
        </aside>
        {shown && grooves && (
          <main>
            <h1 className="text-head font-bold">
              {shown.name}
              {draft && <span className="ml-3 text-base font-normal text-amber-text">not saved yet</span>}
            </h1>
            <p className="mb-2 text-muted">
              {grooveWords(shown, bpm)}, at{" "}
              <SentenceNumber
                label="Tempo for the ms shown"
                min={40}
                max={240}
                step={1}
                unit="bpm"
                value={bpm}
                usual={USUAL_BPM}
                onPreview={setBpm}
                onCommit={setBpm}
              />
              . {shown.lengthQuarters} {shown.lengthQuarters === 1 ? "quarter" : "quarters"} long.
            </p>
            <HearGroove projectId={projectId} groove={shown} bpm={bpm} />
            {chosen && !draft && (
              <Tags
                tags={chosen.tags ?? []}
                onChange={chosen.isBuiltIn ? null : (next) => void change(chosen.id, withTags(chosen, next))}
              />
            )}
            <GrooveProfile
              key={chosen?.id}
              groove={shown}
              stepMs={((60_000 / bpm) * shown.lengthQuarters) / Math.max(1, shown.layers[0]?.slots.length ?? 1)}
              onChange={(layers) =>
                setDraft({ ...shown, id: "changed", name: draft ? shown.name : `${shown.name}, changed`, layers })
              }
            />
            <p className="mt-3 flex flex-wrap items-center gap-3">
              {draft ? (
                <KeepForm
                  key={draft.name}
                  name={draft.name}
                  onKeep={async (name) => {
                    const { lengthQuarters, grid, layers } = draft;
                    if (!(await keep({ name, lengthQuarters, grid, layers }))) return;
                    setDraft(null);
                    say(`“${name}” is on the shelf. On the Bench, choose it for a voice under Groove.`);
                  }}
                  onLeave={() => setDraft(null)}
                />
              ) : (
                <>
                  <Button onClick={() => saveText(`${shown.name}.json`, "application/json", writeGrooveFile(shown))}>
                    Export JSON
                  </Button>
                  <Button onClick={() => saveBytes(`${shown.name}.mid`, "audio/midi", grooveToMidi(shown, bpm))}>
                    Export MIDI
                  </Button>
                  {chosen && !chosen.isBuiltIn && (
                    <button type="button" className="text-small underline" onClick={() => void takeOff(chosen)}>
                      Delete
                    </button>
                  )}
                </>
              )}
            </p>
            <MakeGroove grooves={grooves} shown={shown} onMake={setDraft} />
          </main>
        )}
      </div>
    </div>
  );
}

function withTags({ name, lengthQuarters, grid, layers }: Groove, tags: readonly string[]) {
  return { name, lengthQuarters, grid, layers, ...(tags.length > 0 ? { tags } : {}) };
}

function KeepForm({
  name,
  onKeep,
  onLeave,
}: {
  name: string;
  onKeep: (name: string) => Promise<void>;
  onLeave: () => void;
}) {
  const [text, setText] = useState(name);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (text.trim() !== "") void onKeep(text.trim());
  };
  return (
    <form onSubmit={submit} className="flex gap-2">
      <input
        aria-label="Name of the groove"
        value={text}
        maxLength={200}
        className="w-64 rounded-md border border-hairline-strong bg-sheet px-2.5 py-1"
        onChange={(event) => setText(event.target.value)}
      />
      <Button type="submit" kind="main">
        Keep it
      </Button>
      <Button onClick={onLeave}>Cancel</Button>
    </form>
  );
}

/** The first layer of a groove as a small curve. */
function SmallProfile({ groove }: { groove: Groove }) {
  const slots = groove.layers.at(-1)?.slots ?? [];
  const x = scaleLinear([0, Math.max(1, slots.length - 1)], [2, 62]);
  const y = scaleLinear([-0.3, 0.4], [22, 2]);
  const curve = line<number>()
    .x((_, slot) => x(slot))
    .y((offset) => y(Math.max(-0.3, Math.min(0.4, offset))));
  return (
    <svg viewBox="0 0 64 24" className="w-16 shrink-0" aria-hidden="true">
      <line x1={2} x2={62} y1={y(0)} y2={y(0)} stroke="var(--hairline-strong)" />
      <path d={curve(slots.map(({ offset }) => offset)) ?? ""} fill="none" stroke="var(--muted)" strokeWidth="1.4" />
    </svg>
  );
}
