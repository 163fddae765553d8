import clsx from "clsx";
import { Scissors } from "lucide-react";
import { type KeyboardEvent, memo, useMemo, useState } from "react";
import { Button } from "../../components/Button.tsx";
import { say } from "../../components/messages/say.ts";
import { TaskNote } from "../../components/messages/TaskNote.tsx";
import { useFocusBack } from "../../components/page/use-focus-back.ts";
import { SentenceNumber } from "../../components/sentence/SentenceNumber.tsx";
import { counted } from "../../core/ordinal.ts";
import { cutBars, cutInto, cutsAt, cutsEvery, runsOf, toggleCut } from "../../core/song/index.ts";
import { useBench, useBenchState } from "../../store/bench/bench-context.ts";
import type { LaneView } from "../../store/bench/lane-view.ts";
import { useSeeking } from "../../store/playback/use-seeking.ts";
import type { SongDesk } from "../../store/playback/use-song.ts";
import { arrangeBy, arrangementOf, namedBars, takeBars } from "./song-actions.ts";

const HEIGHT = 44;
/** Of a bar with the most hits: below the number of the bar. */
const TALLEST = 21;
/** More lines than these would cover the picture if they were bold. */
const MOST_BOLD_CUTS = 48;

/** The take as it is, bar by bar, and where it is cut: by what repeats, at its markers, every few bars, or at any bar line by hand. */
export const TakeStrip = memo(function TakeStrip({ desk }: { desk: SongDesk }) {
  const bench = useBench();
  const { store } = bench;
  const arrangement = useBenchState((state) => arrangementOf(state.shown));
  const lanes = useBenchState((state) => state.lanes);
  const maps = useBenchState((state) => state.maps);
  const markers = useBenchState((state) => state.markers);
  const lengthTicks = useBenchState((state) => state.pattern.lengthTicks);
  const bars = useMemo(() => takeBars(store.getState()), [store, maps, lengthTicks]);
  const counts = useMemo(() => hitsPerBar(lanes, bars), [lanes, bars]);
  const [every, setEvery] = useState(4);
  const seeking = useSeeking();
  useFocusBack(seeking.share !== null);
  const [cursor, setCursor] = useState(1);
  const [pointed, setPointed] = useState<number | null>(null);
  const cuts = cutBars(arrangement);
  const most = Math.max(1, ...counts);
  const count = bars.length;
  const cut = (label: string, make: Parameters<typeof cutInto>[1]) => {
    arrangeBy(bench, label, (before) => cutInto(before, make, store.newId));
    return arrangementOf(store.getState().pattern).patterns.length;
  };
  const sayPatterns = (made: number) => say(`Split the take into ${counted(made, "pattern")}. The take stays whole.`);
  const cutEvery = (step: number) => sayPatterns(cut(`Split every ${step} bars`, cutsEvery(count, step)));
  const byRepeats = async () => {
    const sections = await seeking.run(async (goesOn) => {
      const found = await desk.sections(goesOn);
      // It may have been given up after it was last asked about.
      return goesOn(1) ? found : null;
    });
    if (!sections) return;
    const made = cut("Split the take by repeats", sections);
    if (made > 1 || count <= every) return sayPatterns(made);
    // One pattern of everything is no help to anybody who wanted it cut.
    say("All of it is played alike, so that it is one pattern.", {
      label: `Split every ${counted(every, "bar")}`,
      act: () => cutEvery(every),
    });
  };
  const toggle = (bar: number) => {
    const isCut = cuts.has(bar);
    arrangeBy(bench, `${isCut ? "Join" : "Cut"} before bar ${bar + 1}`, (before) =>
      toggleCut(before, bar, count, store.newId),
    );
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const steps: Readonly<Record<string, number>> = { ArrowLeft: -1, ArrowRight: 1, PageUp: -4, PageDown: 4 };
    const step = steps[event.key];
    if (step !== undefined) setCursor((bar) => Math.max(1, Math.min(count - 1, bar + step)));
    else if (event.key === "Home") setCursor(1);
    else if (event.key === "End") setCursor(count - 1);
    else if (event.key === "Enter") toggle(cursor);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const barAt = (clientX: number, strip: Element) => {
    const { left, width } = strip.getBoundingClientRect();
    return Math.max(1, Math.min(count - 1, Math.round(((clientX - left) / width) * count)));
  };
  const labelEvery = [1, 2, 4, 8, 16, 32, 64, 128].find((step) => count / step <= 28) ?? 256;
  return (
    <section aria-label="The take" className="grid grid-cols-[186px_1fr] max-sm:grid-cols-1 items-center gap-x-3 px-5">
      <div className="text-small leading-snug">
        <h2 className="flex items-center gap-1.5 font-bold">
          <Scissors size={14} aria-hidden="true" /> The take
        </h2>
        <span className="text-muted">
          {count} {count === 1 ? "bar" : "bars"}. Click a bar line to cut or join.
        </span>
      </div>
      <div
        role="slider"
        tabIndex={0}
        aria-label="Bar line to cut at"
        aria-valuemin={2}
        aria-valuemax={Math.max(2, count)}
        aria-valuenow={cursor + 1}
        aria-valuetext={`before bar ${cursor + 1}, ${cuts.has(cursor) ? "cut; Enter joins" : "whole; Enter cuts"}`}
        className="relative cursor-col-resize"
        onKeyDown={onKeyDown}
        onPointerMove={(event) => setPointed(barAt(event.clientX, event.currentTarget))}
        onPointerLeave={() => setPointed(null)}
        onClick={(event) => {
          const bar = barAt(event.clientX, event.currentTarget);
          setCursor(bar);
          toggle(bar);
        }}
      >
        <svg
          viewBox={`0 0 ${count} ${HEIGHT}`}
          preserveAspectRatio="none"
          className="h-11 w-full rounded-md border border-hairline bg-sheet"
          aria-hidden="true"
        >
          {arrangement.patterns.flatMap(({ id, colour, bars: own }) =>
            runsOf(own).map(([from, to]) => (
              <rect
                key={`${id} ${from}`}
                x={from}
                width={to - from}
                y={0}
                height={HEIGHT}
                fill={`var(--${colour})`}
                fillOpacity={0.2}
              />
            )),
          )}
          {counts.map((hits, bar) => (
            <rect
              // biome-ignore lint/suspicious/noArrayIndexKey: a bar is its place
              key={bar}
              x={bar + 0.15}
              width={0.7}
              y={HEIGHT - 3 - (hits / most) * TALLEST}
              height={(hits / most) * TALLEST}
              fill="var(--muted)"
              fillOpacity={0.55}
            />
          ))}
        </svg>
        {[...cuts].map((bar) => (
          <Line key={bar} at={bar / count} className={cuts.size > MOST_BOLD_CUTS ? "w-px bg-muted" : "bg-ink"} />
        ))}
        {pointed !== null && <Line at={pointed / count} className="bg-amber" />}
        <Line at={cursor / count} className="hidden bg-spruce [[role=slider]:focus-visible_&]:block" />
        {bars.map((_, bar) =>
          bar % labelEvery === 0 && count - bar > labelEvery / 2 ? (
            <span
              // biome-ignore lint/suspicious/noArrayIndexKey: a bar is its place
              key={bar}
              className="pointer-events-none absolute top-0.5 pl-1 text-fine text-muted"
              style={{ left: `${(bar / count) * 100}%` }}
            >
              {bar + 1}
            </span>
          ) : null,
        )}
      </div>
      <div className="col-start-2 mt-1.5 flex flex-wrap items-center gap-3 text-small">
        <Button className="px-2.5 text-small" disabled={seeking.isRunning} onClick={() => void byRepeats()}>
          Split by repeats
        </Button>
        {seeking.share !== null && (
          <TaskNote
            what="Listening for repeats"
            state={{ kind: "running", done: seeking.share, of: 1 }}
            onCancel={seeking.cancel}
          />
        )}
        {markers.length > 0 && (
          <Button
            className="px-2.5 text-small"
            onClick={() => cut("Split the take at its markers", cutsAt(count, namedBars(markers, maps.meterMap)))}
          >
            Cut at its markers
          </Button>
        )}
        <Button className="px-2.5 text-small" onClick={() => cutEvery(every)}>
          Split every
        </Button>
        <SentenceNumber
          label="Bars of each pattern"
          min={1}
          max={64}
          step={1}
          unit={every === 1 ? "bar" : "bars"}
          value={every}
          usual={4}
          onPreview={(value) => setEvery(Math.round(value))}
          onCommit={(value) => setEvery(Math.round(value))}
        />
        <span className="text-muted">Patterns with the same bars keep their name and settings.</span>
      </div>
    </section>
  );
});

function Line({ at, className }: { at: number; className: string }) {
  return (
    <span
      className={clsx(
        "pointer-events-none absolute top-0 h-11 -translate-x-px",
        !className.includes("w-px") && "w-[2px]",
        className,
      )}
      style={{ left: `${at * 100}%` }}
    />
  );
}

function hitsPerBar(lanes: readonly LaneView[], bars: ReturnType<typeof takeBars>): readonly number[] {
  const counts = bars.map(() => 0);
  for (const { cleaned } of lanes) {
    let bar = 0;
    for (const tick of cleaned.slotTicks) {
      while (bar + 1 < bars.length && tick >= bars[bar]!.endTick) bar++;
      counts[bar]!++;
    }
  }
  return counts;
}
