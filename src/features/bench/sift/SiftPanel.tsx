import { X } from "lucide-react";
import { useEffect, useMemo, useRef } from "react";
import { Button } from "../../../components/Button.tsx";
import { Hint } from "../../../components/Hint.tsx";
import { Refusal } from "../../../components/messages/Refusal.tsx";
import { say } from "../../../components/messages/say.ts";
import { useBackCloses } from "../../../components/page/use-back-closes.ts";
import { useFocusBack } from "../../../components/page/use-focus-back.ts";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { ACT_OFFERS, choreSentence } from "../../../core/chore/index.ts";
import { ordinal } from "../../../core/ordinal.ts";
import type { Sift } from "../../../core/sift/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { changeDraft, EMPTY_DRAFT, type SiftDraft } from "../../../store/bench/sift-draft.ts";
import { type ChoreShelf, useChores } from "../../../store/shelf/use-chores.ts";
import { hitCount } from "../commands/actions.ts";
import { useKeyNames } from "../commands/command-keys.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { ActRow } from "./ActRow.tsx";
import { BarDiagram } from "./BarDiagram.tsx";
import { AddTest, ClauseRow } from "./ClauseRow.tsx";
import { KeepChore } from "./KeepChore.tsx";
import { NumberIn } from "./NumberIn.tsx";
import { closeSift, doChore, holdByHand, ruleFromPicked, runOf, showRun, stepsOf } from "./sift-actions.ts";

/** So many may be cut off without a word: a few of the loudest always are. */
const FEW_CLIPPED = 3;
const linkClass = "font-bold text-spruce underline";

/** A rule that picks hits, as a sentence to be built, what it should do, and the chores on the shelf to begin from. */
export function SiftPanel() {
  const bench = useBench();
  const { store } = bench;
  const draft = useBenchState((state) => state.siftDraft);
  const pattern = useBenchState((state) => state.pattern);
  const loop = useBenchState((state) => state.loop);
  const keyName = useKeyNames();
  const change = (next: Partial<SiftDraft>) => store.setSiftDraft(changeDraft(store.getState().siftDraft, next));
  const run = useMemo(() => runOf(store.getState(), draft), [store, draft, pattern, loop]);
  // What the rule picks is picked, and what it does is shown, as it is built, and again when the take has changed.
  useEffect(() => showRun(bench, run), [bench, run]);
  const panel = useRef<HTMLElement>(null);
  useFocusBack(true);
  useBackCloses(true, () => closeSift(store));
  useEffect(() => panel.current?.focus(), []);
  const picked = useBenchState((state) => state.picked);
  useEffect(() => holdByHand(bench), [bench, picked]);
  /** One for the whole panel, so that what is kept can be chosen at once. */
  const shelf = useChores();
  // What is refused as a whole, with the reason above, cannot be done all the same.
  const isRefused = !draft.isApplied && run.refusals.length > 0 && run.changedIds.size === 0;
  const hasActs = stepsOf(draft).some(({ acts }) => acts.length > 0);
  return (
    <aside
      ref={panel}
      tabIndex={-1}
      aria-label="Sift"
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.stopPropagation();
        closeSift(store);
      }}
      className="relative col-start-2 row-start-1 row-end-2 w-[312px] shrink-0 overflow-y-auto border-l border-hairline bg-sheet px-[18px] py-3.5 max-lg:absolute max-lg:col-span-full max-lg:inset-y-0 max-lg:right-0 max-lg:z-20 max-lg:max-w-full max-lg:shadow-xl"
    >
      <header className="flex items-baseline justify-between">
        <h2 className="text-title font-bold">Sift</h2>
        <Hint text="Back to the lane card" keys={keyName("sift")}>
          <button type="button" aria-label="Close the rule" className="p-1" onClick={() => closeSift(store)}>
            <X size={16} />
          </button>
        </Hint>
      </header>
      <ChoreChoice draft={draft} shelf={shelf} onChange={change} />
      <Rule draft={draft} onChange={change} />
      <Found count={run.pickedIds.size} draft={draft} onChange={change} />
      <h3 className="mt-4 font-bold">Then</h3>
      <Acts draft={draft} shelf={shelf} onChange={change} />
      {hasActs && draft.isApplied && (
        <p role="status" className="mt-2 text-small">
          Applied. Change something, or apply it once more.
        </p>
      )}
      {hasActs && !draft.isApplied && (
        <p role="status" className="mt-2 text-small">
          <strong>{hitCount(run.changedIds.size)}</strong> would change; the lanes show it.{" "}
          {run.refusals.map((words) => (
            <span key={words} className="text-brick">
              {words}{" "}
            </span>
          ))}
        </p>
      )}
      {run.clippedCount > FEW_CLIPPED && !draft.isApplied && (
        <p className="mt-2 rounded-lg bg-amber-tint px-3 py-2 text-small">
          <strong>{hitCount(run.clippedCount)}</strong> would clip.{" "}
          <button
            type="button"
            className={linkClass}
            onClick={() => change({ acts: [...draft.acts, { kind: "fitIn" }] })}
          >
            Scale to fit
          </button>
        </p>
      )}
      {hasActs && (
        <p className="mt-2 flex gap-2">
          <Button kind="main" disabled={isRefused} onClick={() => doAndSay(bench, () => doChore(bench))}>
            {draft.isApplied ? "Apply again" : "Apply"}
          </Button>
          <Button onClick={() => change({ acts: [], more: [], name: null })}>
            {draft.isApplied ? "Clear" : "Cancel"}
          </Button>
        </p>
      )}
      {hasActs && <KeepChore draft={draft} shelf={shelf} />}
      <p className="mt-5 border-t border-hairline pt-3 text-small leading-[1.75]">
        <button type="button" className={linkClass} onClick={() => say(ruleFromPicked(bench))}>
          Find a rule for the selection
        </button>
        <br />
        <button
          type="button"
          className={`${linkClass} min-h-7`}
          onClick={() => store.setSiftDraft({ ...EMPTY_DRAFT, pickedBefore: draft.pickedBefore })}
        >
          Clear
        </button>
      </p>
    </aside>
  );
}

interface DraftProps {
  readonly draft: SiftDraft;
  readonly onChange: (change: Partial<SiftDraft>) => void;
}

interface ShelfProps {
  readonly shelf: ChoreShelf;
}

function ChoreChoice({ draft, shelf, onChange }: DraftProps & ShelfProps) {
  const { chores, problem } = shelf;
  const named = (isBuiltIn: boolean) =>
    (chores ?? []).filter((one) => one.isBuiltIn === isBuiltIn).map(({ id, name }) => ({ id, name }));
  const chosen = chores?.find(({ name }) => name === draft.name);
  return (
    <>
      <p className="mt-1 leading-[1.75]">
        Do{" "}
        <SentenceChoice
          label="Chore"
          chosenId={chosen?.id ?? "own"}
          groups={[[{ id: "own", name: "what is said below" }], named(true), named(false)].filter(
            ({ length }) => length > 0,
          )}
          onChoose={(id) => {
            const [first, ...more] = chores?.find((one) => one.id === id)?.steps ?? [];
            const name = chores?.find((one) => one.id === id)?.name ?? null;
            if (first) onChange({ sift: first.sift, acts: first.acts, more, name });
            else onChange({ name: null });
          }}
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
}

const EVERIES = [1, 2, 3, 4, 5, 6, 7, 8];

function Rule({ draft, onChange }: DraftProps) {
  const hasLoop = useBenchState((state) => state.loop !== null);
  const { sift } = draft;
  const { clauses, nth } = sift;
  const set = (next: Sift) => onChange({ sift: next });
  const withClauses = (next: Sift["clauses"]) => set({ ...sift, clauses: next });
  return (
    <section aria-label="Rule" className="mt-2">
      <p className="leading-[1.75]">
        Select{" "}
        <SentenceChoice
          label="Which of them"
          chosenId={String(nth?.every ?? 1)}
          groups={[
            EVERIES.map((every) => ({
              id: String(every),
              name: every === 1 ? "every hit" : `every ${ordinal(every)} hit`,
            })),
          ]}
          onChoose={(id) => {
            const every = Number(id);
            set(every === 1 ? { clauses } : { clauses, nth: { every, from: 1, perBar: nth?.perBar ?? true } });
          }}
        />
        {nth && (
          <>
            {" "}
            from the{" "}
            <NumberIn
              label="From the"
              min={1}
              max={nth.every}
              say={ordinal}
              value={nth.from}
              onChange={(from) => set({ clauses, nth: { ...nth, from } })}
            />
            , counted{" "}
            <SentenceChoice
              label="How it is counted"
              chosenId={nth.perBar ? "bar" : "on"}
              groups={[
                [
                  { id: "bar", name: "from each bar line" },
                  { id: "on", name: "right through" },
                ],
              ]}
              onChoose={(id) => set({ clauses, nth: { ...nth, perBar: id === "bar" } })}
            />
          </>
        )}{" "}
        <SentenceChoice
          label="Where to look"
          chosenId={draft.within}
          groups={[
            [
              ...(draft.pickedBefore.size > 0
                ? [{ id: "picked", name: `of the ${draft.pickedBefore.size} selected` }]
                : []),
              { id: "all", name: "of the whole take" },
              ...(hasLoop ? [{ id: "loop", name: "in the loop" }] : []),
            ],
          ]}
          onChoose={(id) => onChange({ within: id === "loop" || id === "picked" ? id : "all" })}
        />
        {clauses.length > 0 ? ":" : "."}
      </p>
      <ul>
        {clauses.map((clause, index) => (
          <ClauseRow
            // biome-ignore lint/suspicious/noArrayIndexKey: a condition is its place in the rule
            key={index}
            clause={clause}
            onChange={(next) => withClauses(next ? clauses.with(index, next) : clauses.toSpliced(index, 1))}
          />
        ))}
      </ul>
      <p className="border-t border-hairline pt-1.5 leading-[1.75]">
        <AddTest
          label="Another condition"
          name={clauses.length === 0 ? "only some of them …" : "and …"}
          onAdd={(test) => withClauses([...clauses, { anyOf: [test] }])}
        />
      </p>
      <BarDiagram sift={sift} />
    </section>
  );
}

/** How many hits the rule picks, and whether the others stand back. */
function Found({ count, draft, onChange }: DraftProps & { readonly count: number }) {
  const { store } = useBench();
  const fades = useBenchState((state) => state.fadesOthers);
  return (
    <p role="status" className="mt-2">
      {count === 0 ? (
        <>
          No hits found{draft.within === "all" ? "" : " where it looks"}.{" "}
          {draft.held && (
            <button type="button" className={linkClass} onClick={() => onChange({ held: null })}>
              Ask again
            </button>
          )}
        </>
      ) : (
        <>
          <strong>{hitCount(count)}</strong>{" "}
          <button
            type="button"
            aria-pressed={fades}
            className={`${linkClass} text-small`}
            onClick={() => store.setFadesOthers(!fades)}
          >
            {fades ? "Show the others as well" : "Show only these"}
          </button>
          {draft.held && (
            <span className="block text-small text-muted">
              Kept as selected.{" "}
              <button type="button" className={linkClass} onClick={() => onChange({ held: null })}>
                Ask again
              </button>
            </span>
          )}
        </>
      )}
    </p>
  );
}

function Acts({ draft, shelf, onChange }: DraftProps & ShelfProps) {
  const { acts, more } = draft;
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  const { chores } = shelf;
  return (
    <>
      <ul>
        {acts.map((act, index) => (
          <ActRow
            // biome-ignore lint/suspicious/noArrayIndexKey: an act is its place in the list
            key={index}
            act={act}
            onChange={(next) => onChange({ acts: next ? acts.with(index, next) : acts.toSpliced(index, 1) })}
          />
        ))}
        {more.map((step, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a step is its place in the list
          <li key={`more ${index}`} className="flex items-start gap-1 border-t border-hairline py-1.5 text-small">
            <span className="min-w-0 flex-1">After that: {choreSentence([step], noteMap)}</span>
            <button
              type="button"
              aria-label="Do not do this after that"
              className="rounded p-0.5 text-muted hover:text-ink"
              onClick={() => onChange({ more: more.toSpliced(index, 1) })}
            >
              <X size={13} />
            </button>
          </li>
        ))}
      </ul>
      <p className="border-t border-hairline pt-1.5 leading-[1.75]">
        <SentenceChoice
          label="What to do"
          chosenId="none"
          groups={[
            [{ id: "none", name: acts.length === 0 ? "do something with them …" : "and …" }],
            ACT_OFFERS.map(({ name }) => ({ id: name, name })),
          ]}
          onChoose={(id) => {
            const first = ACT_OFFERS.find(({ name }) => name === id)?.act;
            if (first) onChange({ acts: [...acts, first] });
          }}
        />
        {acts.length > 0 && (
          <>
            , and after that{" "}
            <SentenceChoice
              label="Another chore after that"
              chosenId="none"
              groups={[[{ id: "none", name: "nothing more" }], (chores ?? []).map(({ id, name }) => ({ id, name }))]}
              onChoose={(id) => {
                const steps = chores?.find((one) => one.id === id)?.steps;
                if (steps) onChange({ more: [...more, ...steps], name: null });
              }}
            />
            .
          </>
        )}
      </p>
    </>
  );
}
