import clsx from "clsx";
import { Trash2 } from "lucide-react";
import { useMemo, useState } from "react";
import { useStore } from "zustand";
import { Button } from "../../../components/Button.tsx";
import { baseTick, findVoice } from "../../../core/document/index.ts";
import { mergePasses, mutePass, type Pass, passesOf, removePass } from "../../../core/record/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { BestBars } from "./BestBars.tsx";

const STRIP_WIDTH = 300;
const STRIP_HEIGHT = 30;

/** The passes in the order in which they were played: each can be left out, heard again, removed and joined with the others. */
export function PassList() {
  const bench = useBench();
  const { recording, store } = bench;
  const hits = useBenchState((state) => state.pattern.hits);
  const passes = useMemo(() => passesOf({ hits }), [hits]);
  const current = useStore(recording.state, (state) => state.pass);
  const isOn = useStore(recording.state, (state) => state.phase !== "idle");
  const [choosesBars, setChoosesBars] = useState(false);
  const range = useMemo(() => rangeOf(passes), [passes]);
  const commit = (label: string, edit: Parameters<typeof store.commit>[1]) =>
    doAndSay(bench, () => {
      store.commit(label, edit);
      return `${label}.`;
    });
  const last = passes.at(-1);
  return (
    <div className="min-w-0 border-l border-hairline px-[18px] py-3 max-lg:border-l-0">
      <h2 className="text-lead font-bold">Passes</h2>
      {passes.length === 0 ? (
        <p className="mt-2 max-w-[46ch] text-small text-muted">
          Nothing is played in yet. <strong>Record</strong> counts in and takes down what you play; each round of the
          loop is a pass of its own, kept in the order in which it was played.
        </p>
      ) : (
        <ul className="mt-1">
          {passes.map((pass) => (
            <PassRow
              key={pass.pass}
              pass={pass}
              range={range}
              isRecording={pass.pass === current}
              onMute={(isMuted) =>
                commit(
                  `${isMuted ? "Leave out" : "Hear"} pass ${pass.pass}`,
                  mutePass(store.getState().pattern, pass.pass, isMuted),
                )
              }
              onRemove={() => commit(`Remove pass ${pass.pass}`, removePass(store.getState().pattern, pass.pass))}
              onSelect={() => store.pick(new Set(pass.hits.map(({ id }) => id)))}
            />
          ))}
        </ul>
      )}
      {last && (
        <p className="mt-2 flex flex-wrap gap-2 text-small">
          <Button onClick={() => commit(`Remove pass ${last.pass}`, removePass(store.getState().pattern, last.pass))}>
            Undo the last pass
          </Button>
          <Button disabled={passes.length < 2} aria-expanded={choosesBars} onClick={() => setChoosesBars(!choosesBars)}>
            Best bars of each
          </Button>
          <Button
            disabled={passes.length < 2 || isOn}
            onClick={() =>
              commit(
                `Make one of ${passes.length} passes`,
                mergePasses(
                  store.getState().pattern,
                  passes.map(({ pass }) => pass),
                ),
              )
            }
          >
            Make one of all
          </Button>
        </p>
      )}
      {choosesBars && passes.length > 1 && <BestBars passes={passes} />}
    </div>
  );
}

/** From the first to the last tick that passes play on. */
function rangeOf(passes: readonly Pass[]): readonly [number, number] {
  let [first, last] = [Number.POSITIVE_INFINITY, 1];
  for (const { hits } of passes) {
    for (const hit of hits) {
      first = Math.min(first, baseTick(hit));
      last = Math.max(last, baseTick(hit));
    }
  }
  return [first, last];
}

interface PassRowProps {
  readonly pass: Pass;
  readonly range: readonly [number, number];
  readonly isRecording: boolean;
  readonly onMute: (isMuted: boolean) => void;
  readonly onRemove: () => void;
  readonly onSelect: () => void;
}

function PassRow({ pass, range, isRecording, onMute, onRemove, onSelect }: PassRowProps) {
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  const name = `Pass ${pass.pass}`;
  const voices = pass.voiceIds.map((voiceId) => findVoice(noteMap, voiceId).name.toLowerCase()).join(", ");
  return (
    <li className="flex items-center gap-3 border-b border-hairline py-1 text-small">
      <button
        type="button"
        role="switch"
        aria-checked={!pass.isMuted}
        aria-label={`${name} is heard`}
        className="grid size-6 shrink-0 place-items-center"
        onClick={() => onMute(!pass.isMuted)}
      >
        <span
          className={clsx(
            "size-3 rounded-full border-2",
            isRecording ? "border-brick" : "border-spruce",
            !pass.isMuted && (isRecording ? "bg-brick" : "bg-spruce"),
          )}
        />
      </button>
      <button
        type="button"
        aria-label={`Select the hits of ${name.toLowerCase()}`}
        className="w-14 shrink-0 text-left font-bold hover:underline"
        onClick={onSelect}
      >
        {name}
      </button>
      <Strip pass={pass} range={range} />
      <span className="w-40 shrink-0 truncate text-muted">
        {isRecording ? "recording, " : ""}
        {pass.hits.length} {pass.hits.length === 1 ? "hit" : "hits"}
        <br />
        {pass.isMuted ? "left out" : voices}
      </span>
      <button
        type="button"
        aria-label={`Remove ${name.toLowerCase()}`}
        className="grid size-6 shrink-0 place-items-center rounded-md text-muted hover:bg-spruce-tint"
        onClick={onRemove}
      >
        <Trash2 size={14} />
      </button>
    </li>
  );
}

/** What a pass plays, drum over drum, along its time. */
function Strip({ pass, range: [first, last] }: { pass: Pass; range: readonly [number, number] }) {
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  const rows = pass.voiceIds.toSorted((a, b) => findVoice(noteMap, a).name.localeCompare(findVoice(noteMap, b).name));
  const rowHeight = STRIP_HEIGHT / Math.max(2, rows.length);
  return (
    <svg
      aria-hidden="true"
      viewBox={`0 0 ${STRIP_WIDTH} ${STRIP_HEIGHT}`}
      preserveAspectRatio="none"
      className="h-7 min-w-0 flex-1"
    >
      {pass.hits.map((hit) => {
        const x = ((baseTick(hit) - first) / Math.max(1, last - first)) * (STRIP_WIDTH - 8);
        const bottom = (rows.indexOf(hit.voiceId) + 1) * rowHeight;
        const tall = ((hit.recordedVelocity ?? 90) / 127) * (rowHeight - 1);
        const { family } = findVoice(noteMap, hit.voiceId);
        return (
          <path
            key={hit.id}
            d={`M${x} ${bottom}v${-tall}q1.5 ${tall * 0.8} 6 ${tall}z`}
            fill={`var(--${family})`}
            opacity={hit.isMuted ? 0.3 : 1}
          />
        );
      })}
    </svg>
  );
}
