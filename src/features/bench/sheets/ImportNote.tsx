import { X } from "lucide-react";
import { useState } from "react";
import {
  findVoice,
  isUnnamedVoice,
  type NoteMap,
  type NoteStream,
  type Pattern,
  trackLabel,
} from "../../../core/document/index.ts";
import { type Guess, guessedName } from "../../../core/notemap/index.ts";
import { counted } from "../../../core/ordinal.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { keepWord, readWord } from "../../../store/project/browser-store.ts";
import { tightenAll } from "../commands/actions.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { NamesSheet, TracksSheet } from "./later.tsx";
import { takeForDrums } from "./take-for-drums.ts";

const LINK = "font-semibold text-spruce underline";

/** Says once, after an import, what was taken for drums and what was read around; then it stays out of the way. */
export function ImportNote() {
  const bench = useBench();
  const project = useBenchState((state) => state.project);
  const pattern = useBenchState((state) => state.pattern);
  const key = `marten.importNote.${project.id}`;
  const [isShown, setIsShown] = useState(() => readWord(key) === null);
  const [areTracksOpen, setAreTracksOpen] = useState(false);
  const [areNamesOpen, setAreNamesOpen] = useState(false);
  const doubts = useBenchState((state) => state.doubts);
  // What most come for; it is offered as long as nobody has begun.
  const areLoose = useBenchState(
    ({ lanes }) => lanes.length > 0 && lanes.every(({ treatment }) => !treatment.timing.isOn),
  );
  const { notices } = project;
  if (!isShown) return null;
  const drums = pattern.streams.filter((stream) => stream.isDrums);
  const others = pattern.streams.length - drums.length;
  const isOneOther = drums.length === 0 && others === 1;
  const unnamed = pattern.lanes.filter((lane) => isUnnamedVoice(lane.voiceId)).length;
  return (
    <section
      aria-label="What was imported"
      className="flex items-start gap-3 border-y border-hairline bg-spruce-tint px-5 py-1.5 short:max-h-7 short:overflow-y-auto short:py-0.5 text-small"
    >
      <div className="flex-1">
        <p>
          {drums.length === 0 ? (
            <>
              <strong>No drums were found in this file.</strong> {isOneOther && aloneWords(pattern.streams[0]!)}
            </>
          ) : (
            <>
              <strong>{pattern.hits.length.toLocaleString("en")} hits</strong> on {pattern.lanes.length}{" "}
              {pattern.lanes.length === 1 ? "drum" : "drums"}, from {originWords(drums)}.
            </>
          )}
          {sharedWords(pattern.noteMap).map((words) => (
            <span key={words}> {words}</span>
          ))}
          {others > 0 && !isOneOther && (
            <span> {others === 1 ? "One other track goes" : `${others} other tracks go`} out untouched.</span>
          )}{" "}
          {isOneOther ? (
            <button type="button" className={LINK} onClick={() => void takeForDrums(bench, 0, true)}>
              Show it as drums all the same
            </button>
          ) : (
            <button type="button" className={LINK} onClick={() => setAreTracksOpen(true)}>
              Change
            </button>
          )}
          {unnamed + doubts.length > 0 && (
            <span>
              {" "}
              {unnamed > 0 && `${unnamed === 1 ? "One note is" : `${unnamed} notes are`} unmapped. `}
              {doubtWords(doubts, pattern)}{" "}
              <button type="button" className={LINK} onClick={() => setAreNamesOpen(true)}>
                See guesses
              </button>
            </span>
          )}
        </p>
        {notices.length > 0 && (
          <details className="mt-0.5">
            <summary className="font-semibold text-brick">
              The file is damaged in {notices.length} {notices.length === 1 ? "place" : "places"}; this is what could be
              read.
            </summary>
            <ul className="mt-1 max-h-28 overflow-y-auto">
              {notices.map((notice) => (
                <li key={`${notice.byteOffset} ${notice.code} ${notice.message}`}>
                  Byte {notice.byteOffset}: {notice.message}
                </li>
              ))}
            </ul>
          </details>
        )}
      </div>
      {areLoose && (
        <button type="button" className={LINK} onClick={() => doAndSay(bench, () => tightenAll(bench))}>
          Quantize each on its own grid
        </button>
      )}
      <button
        type="button"
        aria-label="Close this note"
        className="rounded p-0.5 text-muted hover:text-ink"
        onClick={() => {
          keepWord(key, "read");
          setIsShown(false);
        }}
      >
        <X size={15} />
      </button>
      {areNamesOpen && <NamesSheet isOpen onOpenChange={setAreNamesOpen} />}
      {areTracksOpen && <TracksSheet isOpen onOpenChange={setAreTracksOpen} />}
    </section>
  );
}

/** So few are named one by one. */
const MOST_NAMED = 2;

/** `3 hits on note 73, Guiro in General MIDI percussion: likely Snare, rim shot.`; of many, how many there are. */
function doubtWords(doubts: readonly Guess[], { hits, noteMap }: Pattern): string {
  if (doubts.length === 0) return "";
  if (doubts.length > MOST_NAMED) return `${doubts.length} names do not fit how they are played.`;
  return doubts
    .map(({ note, meaning }) => {
      const own = hits.filter((hit) => hit.note === note);
      const name = findVoice(noteMap, own[0]?.voiceId ?? "").name;
      return `${counted(own.length, "hit")} on note ${note}, ${name} in ${noteMap.name}: likely ${guessedName(noteMap, meaning)}.`;
    })
    .join(" ");
}

/** Why the one track of a file is no drum part. */
const aloneWords = (stream: NoteStream) =>
  `Its ${stream.noteCount.toLocaleString("en")} notes are of ${trackLabel(stream)}: ${stream.reason}.`;

/** `Three tracks share note 60: each has a lane of its own.`, for each such note. */
function sharedWords({ entries }: NoteMap): readonly string[] {
  const counts = new Map<number, number>();
  for (const { note, track } of entries) if (track !== undefined) counts.set(note, (counts.get(note) ?? 0) + 1);
  return [...counts].map(([note, count]) => `${count} tracks share note ${note}: each has a lane of its own.`);
}

/** `drums and perc (channel 10 is the drum channel)`, or each with its own reason. */
function originWords(drums: readonly NoteStream[]): string {
  const reasons = [...new Set(drums.map(({ reason }) => reason))];
  return reasons
    .map((reason) => {
      const names = drums.filter((stream) => stream.reason === reason).map(trackLabel);
      return `${new Intl.ListFormat("en").format(names)} (${reason})`;
    })
    .join(" and ");
}
