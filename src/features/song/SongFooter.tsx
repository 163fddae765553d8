import { useRef } from "react";
import { Hint } from "../../components/Hint.tsx";
import { Messages } from "../../components/messages/Messages.tsx";
import { say } from "../../components/messages/say.ts";
import { PlayButton } from "../../components/PlayButton.tsx";
import { SideChoice } from "../../components/SideChoice.tsx";
import { Toggle } from "../../components/Toggle.tsx";
import { tickToBarBeat } from "../../core/time/index.ts";
import { useBench, useBenchState } from "../../store/bench/bench-context.ts";
import { usePlayFrames } from "../../store/playback/use-play-frames.ts";
import type { SongDesk } from "../../store/playback/use-song.ts";
import { arrangementOf, togglePlaying } from "./song-actions.ts";
import { sideKeys } from "./song-keys.ts";

interface SongFooterProps {
  readonly desk: SongDesk;
  readonly words: string;
  readonly onSong: () => void;
}

/** Transport, what is played, which side, and which of two treatments. */
export function SongFooter({ desk, words, onSong }: SongFooterProps) {
  const bench = useBench();
  const { store } = bench;
  const lastStepId = useBenchState(({ history }) => history.done.at(-1)?.id);
  const isPlaying = useBenchState((state) => state.isPlaying);
  const side = useBenchState((state) => state.side);
  const click = useBenchState((state) => state.click);
  const soloed = useBenchState((state) => state.soloed);
  const take = useBenchState((state) => state.shown);
  const { patterns } = arrangementOf(take);
  const alone = patterns.find(({ id }) => id === desk.entries?.[0]?.patternId);
  const place = useRef<HTMLSpanElement>(null);
  usePlayFrames((tick) => {
    const { time } = desk.playable ?? {};
    if (!time || !place.current) return;
    const { barIndex, beatIndex } = tickToBarBeat(time.maps.meterMap, tick);
    const here = time.places.findLast(({ startTick }) => startTick <= tick);
    const text = `${barIndex + 1}:${beatIndex + 1} ${here?.pattern.name ?? ""}`;
    if (place.current.textContent !== text) place.current.textContent = text;
  });
  return (
    <footer className="flex min-h-[60px] shrink-0 flex-wrap items-center gap-x-5 border-t border-hairline bg-sheet px-[18px]">
      <PlayButton isPlaying={isPlaying} keys="Space" onToggle={() => say(togglePlaying(bench))} />
      <p className="w-[168px] text-small leading-snug">
        <span ref={place} data-testid="song-place" className="block truncate text-lead font-bold">
          1:1
        </span>
        {alone ? (
          <>
            {alone.name} over and over,{" "}
            <button type="button" className="font-bold text-spruce underline" onClick={onSong}>
              or the song
            </button>
          </>
        ) : (
          <span className="text-muted">plays the song</span>
        )}
      </p>
      <SideChoice side={side} keysOf={sideKeys()} onChoose={(next) => store.setSide(next)} />
      <Hint
        text={
          take.otherSide
            ? `You work on ${take.otherSide.letter === "A" ? "B" : "A"}. Turn to ${take.otherSide.letter}: all settings of the take and of the song`
            : "Keep all settings as A and try a second set, B"
        }
        keys="`"
      >
        <button
          type="button"
          className="rounded-lg border border-hairline-strong px-3 py-1 hover:bg-spruce-tint"
          onClick={() => say(store.turnSide())}
        >
          {take.otherSide ? (
            <>
              Settings <strong>{take.otherSide.letter === "A" ? "B" : "A"}</strong>
              <span className="text-muted"> / {take.otherSide.letter}</span>
            </>
          ) : (
            "Compare A and B"
          )}
        </button>
      </Hint>
      <span className="flex items-center gap-2 text-small">
        <Toggle label="Click" isOn={click.isOn} onChange={(isOn) => store.setClick({ ...click, isOn })} />
        click
      </span>
      {soloed.size > 0 && (
        <button
          type="button"
          className="text-small font-bold text-spruce underline"
          onClick={() => store.setVoices("soloed", new Set())}
        >
          Hear all voices
        </button>
      )}
      <div className="ml-auto min-w-0 flex-1 py-1 text-right">
        <p role="status" className="truncate text-small text-muted">
          {words}
        </p>
        {/* What was done is said here, where it covers no settings. */}
        <div className="h-8">
          <Messages state={lastStepId} />
        </div>
      </div>
    </footer>
  );
}
