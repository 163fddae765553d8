import clsx from "clsx";
import { Headphones, VolumeX } from "lucide-react";
import { Hint } from "../../../components/Hint.tsx";
import { takenLatencyMs } from "../../../core/document/index.ts";
import { foundGridSentence } from "../../../core/study/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { useSettled } from "../../../store/bench/use-settled.ts";
import { toggleVoice } from "../commands/actions.ts";
import { useKeyNames } from "../commands/command-keys.ts";
import { latencyOfVoice } from "../steps/grid-fit.ts";
import { looksOf } from "../steps/worth-a-look.ts";
import { headWords } from "./head-words.ts";
import { LaneEdge } from "./LaneEdge.tsx";
import { finHeightOf, type LaneBox, type OpenBox } from "./lane-layout.ts";
import { toggleKeptOpen, toggleLane } from "./lane-sizes.ts";

/** Lower lanes have room for their name alone. */
const LOWEST_WITH_WORDS_PX = 40;

/** Names a lane, says how its voice was played, and opens it. @param isStop whether the Tab key stops here, of all heads */
export function LaneHead({ box, isStop }: { box: LaneBox; isStop: boolean }) {
  const { store } = useBench();
  const { voice } = box;
  const voiceId = voice.id;
  const isOpen = box.open !== null;
  const isSlim = box.height < LOWEST_WITH_WORDS_PX;
  const isBehind = useBenchState(({ frontVoiceId }) => frontVoiceId !== null && frontVoiceId !== voiceId);
  const summary = useBenchState((state) => state.summaries.get(voiceId));
  const lane = useSettled(
    ({ lanes }) => lanes.find((candidate) => candidate.voiceId === voiceId),
    ({ lanes }) => [lanes],
  );
  const flagged = useBenchState((state) => (lane ? looksOf(state, lane).length : 0));
  const timing = lane?.treatment.timing;
  const played = summary?.found ? foundGridSentence(summary.found) : "";
  const lateMs = lane && timing && takenLatencyMs(timing) !== 0 ? latencyOfVoice(lane) : 0;
  const { words, lines } = headWords(timing, summary?.found ?? null, lateMs);
  return (
    <div
      data-lane={voiceId}
      className={clsx("group relative border-b border-hairline", isOpen && "bg-sheet", isBehind && "opacity-55")}
      style={{ height: box.height, "--family": `var(--${voice.ink})` } as React.CSSProperties}
    >
      <div className="absolute inset-y-[5px] left-0 w-1 rounded-r bg-(--family)" />
      <button
        type="button"
        aria-expanded={isOpen}
        tabIndex={isStop ? 0 : -1}
        className={clsx(
          "absolute inset-x-0 top-0 flex flex-col items-start pr-2 pl-4 text-left -outline-offset-2",
          isOpen ? "h-20 pt-2" : "h-full justify-center",
        )}
        onClick={(event) => {
          const { openVoiceId, partVoiceIds, heldForFingers } = store.getState();
          const isFinger = (event.nativeEvent as PointerEvent).pointerType === "touch";
          if (event.shiftKey || (isFinger && heldForFingers.isShift)) {
            // Several lanes are worked on together, on the card of the whole part.
            const others = openVoiceId === null ? (partVoiceIds ?? []) : [openVoiceId];
            store.openLane(null);
            store.choosePart(new Set([...others, voiceId]));
            return;
          }
          // Another lane is chosen to be worked on, so none stays in front of it.
          if (isBehind) store.setFront(null);
          toggleLane(store, voiceId);
        }}
      >
        <span className="flex items-center gap-2 leading-tight font-bold">
          <span data-lane-name>{voice.name}</span>{" "}
          {flagged > 0 && (
            <span
              className="forced-color-adjust-none rounded-full bg-amber-text px-1.5 text-fine leading-[17px] font-bold text-paper"
              title={`${flagged} doubtful hits`}
            >
              {flagged}
            </span>
          )}
        </span>
        {!isSlim && (
          <span
            title={played}
            className={clsx(
              "text-fine leading-tight",
              timing?.isOn ? "text-amber-text" : "text-muted",
              isOpen ? "max-h-[46px] w-[86px] overflow-hidden" : "w-full truncate",
            )}
          >
            <span className={clsx(isOpen && "sr-only")}>{words}</span>
            {isOpen &&
              lines.map((line) => (
                <span key={line} aria-hidden className="block">
                  {line}
                </span>
              ))}
          </span>
        )}
      </button>
      <div className={clsx("absolute right-1.5 flex gap-1", isOpen ? "top-[84px] right-auto left-4" : "top-1")}>
        <EarButton set="muted" voiceId={voiceId} name={voice.name} isOpen={isOpen} />
        <EarButton set="soloed" voiceId={voiceId} name={voice.name} isOpen={isOpen} />
      </div>
      {isOpen && <KeepOpen voiceId={voiceId} name={voice.name} />}
      <LaneEdge voiceId={voiceId} name={voice.name} heightPx={box.height} />
      {box.open && lane && (
        <OpenLabels
          box={box}
          open={box.open}
          ghostTop={lane.roleBorders.ghostTop}
          accentBottom={lane.roleBorders.accentBottom}
        />
      )}
    </div>
  );
}

/** Quiet until it is needed: shown on the open lane, under the pointer, with the focus, or when it is on. */
function EarButton({
  set,
  voiceId,
  name,
  isOpen,
}: {
  set: "muted" | "soloed";
  voiceId: string;
  name: string;
  isOpen: boolean;
}) {
  const bench = useBench();
  const isOn = useBenchState((state) => state[set].has(voiceId));
  const showsControls = useBenchState((state) => state.showsControls);
  const keyName = useKeyNames();
  const verb = set === "muted" ? "Mute" : "Solo";
  const Icon = set === "muted" ? VolumeX : Headphones;
  return (
    <Hint text={`${verb} ${name}`} keys={keyName(set === "muted" ? "mute" : "solo")}>
      <button
        type="button"
        aria-pressed={isOn}
        aria-label={`${verb} ${name}`}
        tabIndex={-1}
        className={clsx(
          "flex h-[19px] items-center rounded border px-1 text-fine focus-visible:opacity-100",
          isOn ? "border-amber bg-amber-tint font-bold" : "border-hairline-strong bg-sheet text-muted hover:text-ink",
          !isOn && !isOpen && !showsControls && "opacity-0 group-hover:opacity-100 any-pointer-coarse:opacity-100",
        )}
        onClick={() => toggleVoice(bench, set, voiceId)}
      >
        {isOpen ? verb.toLowerCase() : <Icon size={13} />}
      </button>
    </Hint>
  );
}

/** Keeps an open lane open while another is worked on. */
function KeepOpen({ voiceId, name }: { voiceId: string; name: string }) {
  const { store } = useBench();
  const isKept = useBenchState((state) => state.keptOpen.has(voiceId));
  return (
    <Hint text="Keep this lane open while you work on another">
      <button
        type="button"
        aria-pressed={isKept}
        aria-label={`Keep open: ${name}`}
        tabIndex={-1}
        className={clsx(
          "absolute top-[108px] left-4 h-[19px] rounded border px-1 text-fine",
          isKept ? "border-amber bg-amber-tint font-bold" : "border-hairline-strong bg-sheet text-muted hover:text-ink",
        )}
        onClick={() => toggleKeptOpen(store, voiceId)}
      >
        keep open
      </button>
    </Hint>
  );
}

/** Names what the open lane shows: role bands, drift and articulations. */
function OpenLabels({
  box,
  open,
  ghostTop,
  accentBottom,
}: {
  box: LaneBox;
  open: OpenBox;
  ghostTop: number;
  accentBottom: number;
}) {
  const y = (velocity: number) => box.base - finHeightOf(box, velocity) - box.top;
  const roles = [
    { name: "accent", from: accentBottom, to: 127 },
    { name: "normal", from: ghostTop, to: Math.min(127, accentBottom) },
    { name: "ghost", from: 0, to: ghostTop },
  ].filter(({ from, to }) => to - from > 12);
  return (
    <div aria-hidden="true" className="pointer-events-none text-fine text-muted">
      {roles.map(({ name, from, to }) => (
        <Label key={name} middle={(y(from) + y(to)) / 2}>
          {name}
        </Label>
      ))}
      <Label middle={open.railZero - box.top - open.railReach * 0.68}>late</Label>
      <Label middle={open.railZero - box.top}>drift, ms</Label>
      <Label middle={open.railZero - box.top + open.railReach * 0.68}>early</Label>
      {open.articulations.map(({ id, name, middle }) => (
        <Label key={id} middle={middle - box.top}>
          {name}
        </Label>
      ))}
    </div>
  );
}

function Label({ middle, children }: { middle: number; children: string }) {
  return (
    <span className="absolute right-2.5 -translate-y-1/2 leading-none" style={{ top: middle }}>
      {children}
    </span>
  );
}
