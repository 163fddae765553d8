import { useStore } from "zustand";
import { Messages } from "../../../components/messages/Messages.tsx";
import { messages } from "../../../components/messages/message-list.ts";
import { PageLink } from "../../../components/page/PageLink.tsx";
import type { Hit, Voice } from "../../../core/document/index.ts";
import { ownWords, ROLES, type Role, roleWord } from "../../../core/document/index.ts";
import { layerAt, layerBorders } from "../../../core/dynamics/index.ts";
import { formatBarBeat, tickToMs } from "../../../core/time/index.ts";
import { useBenchState } from "../../../store/bench/bench-context.ts";
import { pickedRows } from "../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { shownSide, sideOf } from "../../../store/bench/lane-view.ts";
import { useSettled } from "../../../store/bench/use-settled.ts";
import { driftWords } from "../lanes/drag-edits.ts";
import { movedWords } from "./hit-words.ts";
import { KeyHint } from "./KeyHint.tsx";
import { RevoiceChoice } from "./RevoiceChoice.tsx";
import { selectionParts } from "./selection-parts.ts";

/** What is picked, in words and numbers, and what keys do with it. */
export function StatusLine() {
  const [head, detail] = useSettled(selectionWords, selectionParts, { readsWhenStill: true });
  const lastStepId = useBenchState(({ history }) => history.done.at(-1)?.id);
  const isTold = useStore(messages, ({ list }) => list.length > 0);
  const onlyHitId = useBenchState(({ picked }) => (picked.size === 1 ? ([...picked][0] ?? null) : null));
  return (
    <div className="ml-auto min-w-0 flex-1 text-right text-small leading-snug">
      <p role="status" aria-label="Selection" aria-live="off" className="truncate">
        <strong>{head}</strong>
        {detail && <span className="text-muted"> {detail}</span>}
      </p>
      {/* What was done is said here, where it covers nothing and moves nothing; until then, what keys do. */}
      <div className="relative h-8">
        <Messages state={lastStepId} />
        <p hidden={isTold} className="absolute inset-x-0 top-0 truncate text-fine text-muted">
          {detail ? (
            <>
              <RevoiceChoice /> <KeyHint ids={["revoice"]}>{null}</KeyHint>
              <KeyHint ids={["louder", "softer"]}>loudness</KeyHint>
              <KeyHint ids={["earlier", "later"]}>nudge</KeyHint>
              <KeyHint ids={["pin"]}>pin</KeyHint>
              {onlyHitId && <MessagesLink hitId={onlyHitId} />} <KeyHint ids={["keys"]}>all keys</KeyHint>
            </>
          ) : (
            <>
              <KeyHint ids={["next"]}>next hit</KeyHint>
              <KeyHint ids={["timing"]}>quantize</KeyHint>
              <KeyHint ids={["keys"]}>all keys</KeyHint>
            </>
          )}
        </p>
      </div>
    </div>
  );
}

function MessagesLink({ hitId }: { hitId: string }) {
  const projectId = useBenchState((state) => state.project.id);
  return (
    <PageLink href={`/messages/${projectId}?hit=${hitId}`} className="font-semibold text-spruce underline">
      its message
    </PageLink>
  );
}

/** Where the hat pedal was, for one hit of the hats. */
function pedalWords(hit: Hit, voice: Voice): string {
  if (hit.pedal === null || voice.family !== "hats") return "";
  return `, pedal ${hit.pedal}`;
}

function selectionWords(state: BenchState): [string, string] {
  const { picked, lanes, maps, kit } = state;
  if (picked.size === 0) return ["Nothing selected", ""];
  let count = 0;
  let sumMs = 0;
  let softest = 127;
  let loudest = 1;
  let place = "";
  let pedal = "";
  let mutedCount = 0;
  let moved: readonly string[] = [];
  let own: readonly string[] = [];
  const voices = new Set<Voice>();
  const roles = new Set<Role>();
  for (const lane of lanes) {
    const side = shownSide(state, lane);
    const { velocities, timesMs } = sideOf(lane, side);
    for (const row of pickedRows(lane.hits, picked)) {
      const hit = lane.hits[row]!;
      count++;
      sumMs += timesMs[row]! - tickToMs(maps.tempoMap, lane.cleaned.slotTicks[row]!);
      place = formatBarBeat(maps.meterMap, sideOf(lane, side).ticks[row]!);
      softest = Math.min(softest, velocities[row]!);
      loudest = Math.max(loudest, velocities[row]!);
      pedal = pedalWords(hit, lane.voice);
      moved = side === "cleaned" ? movedWords(lane, row) : [];
      if (hit.isMuted) mutedCount++;
      own = ownWords(hit);
      voices.add(lane.voice);
      roles.add(ROLES[lane.roles[row]!]!);
    }
  }
  const [voice] = voices;
  const what = voices.size === 1 && voice ? `${voice.name.toLowerCase()} ` : "";
  const [role] = roles;
  const roleWords = roles.size === 1 && role ? `${roleWord(role, count)}, ` : "";
  const range = softest === loudest ? `${softest}` : `${softest} – ${loudest}`;
  const mean = driftWords(Math.round(sumMs / Math.max(1, count)));
  const muted = mutedCount === 0 ? "" : mutedCount === count ? ", muted" : `, ${mutedCount} muted`;
  const movedBy = count === 1 && moved.length > 0 ? ` (${moved.join(", ")})` : "";
  const layer = count === 1 ? layerWords(layerBorders(kit, voice?.id ?? ""), loudest) : "";
  const ofItsOwn = count === 1 && own.length > 0 ? `, ${own.join(", ")}` : "";
  return [
    `${count.toLocaleString("en")} ${what}${count === 1 ? `hit selected at ${place}` : "hits selected"}`,
    `${roleWords}velocity ${range}${layer}, ${mean}${movedBy}${count > 1 ? " on average" : pedal}${muted}${ofItsOwn}`,
  ];
}

function layerWords(borders: readonly number[], velocity: number): string {
  return borders.length === 0 ? "" : `, layer ${layerAt(borders, velocity) + 1} of ${borders.length + 1}`;
}
