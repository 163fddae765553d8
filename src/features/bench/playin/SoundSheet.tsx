import { useEffect, useRef } from "react";
import { useStore } from "zustand";
import { Button } from "../../../components/Button.tsx";
import { say } from "../../../components/messages/say.ts";
import { Sheet } from "../../../components/page/Sheet.tsx";
import { OneOf } from "../../../components/sentence/OneOf.tsx";
import { SettingRow } from "../../../components/sentence/SettingRow.tsx";
import { Toggle } from "../../../components/Toggle.tsx";
import {
  CLICK_ID,
  type DrumLevel,
  LEVEL_LIMITS,
  NO_LEVELS,
  PLAIN_LEVEL,
  withLevel,
} from "../../../core/document/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { usePlayFrames } from "../../../store/playback/use-play-frames.ts";
import type { OUT_MODES } from "../../../store/playin/sound-out.ts";

const MODES: readonly { readonly id: (typeof OUT_MODES)[number]; readonly name: string }[] = [
  { id: "kit", name: "the stand-in kit" },
  { id: "both", name: "the stand-in kit and a device" },
  { id: "device", name: "a device" },
];

/** Where it sounds, and how loud each drum is there. */
export function SoundSheet() {
  const { store } = useBench();
  return (
    <Sheet
      title="Sound and mix"
      lead="What you listen to. Files that go out are not changed by it."
      isOpen
      onOpenChange={(isOpen) => store.showSheet("mix", isOpen)}
    >
      <OutWords />
      <Mixer />
    </Sheet>
  );
}

/** The kit or a device, in a sentence. */
function OutWords() {
  const { playback } = useBench();
  const {
    mode,
    deviceName,
    deviceNames,
    problem,
    sendsClock,
    speakers,
    speakersId = "",
  } = useStore(playback.out.state);
  useEffect(() => void playback.out.findSpeakers(), [playback]);
  useEffect(() => {
    if (mode !== "kit") void playback.out.find();
  }, [playback, mode]);
  return (
    <section aria-label="Where it sounds" className="mb-4">
      <p>
        It sounds on{" "}
        <OneOf
          label="Where it sounds"
          chosenId={mode}
          choices={MODES}
          onChoose={(next) => playback.out.choose({ mode: next })}
        />
        {mode !== "kit" && deviceNames !== null && deviceNames.length > 0 && (
          <>
            {": "}
            <OneOf
              label="Device"
              chosenId={deviceName}
              choices={deviceNames.map((name) => ({ id: name, name }))}
              onChoose={(name) => playback.out.choose({ deviceName: name })}
            />
          </>
        )}
        .{mode !== "kit" && " Notes go out by the outgoing map, on its channels, with hat pedal and chokes."}
      </p>
      {mode !== "device" && speakers.length > 1 && (
        <p className="mt-1 text-small">
          The stand-in kit plays on{" "}
          <OneOf
            label="Speakers"
            chosenId={speakers.some(({ id }) => id === speakersId) ? speakersId : ""}
            choices={[{ id: "", name: "the usual speakers" }, ...speakers.filter(({ id }) => id !== "default")]}
            onChoose={(id) =>
              void playback.playOnSpeakers(id).then((trouble) => {
                if (trouble) say(trouble);
              })
            }
          />
          .
        </p>
      )}
      {mode !== "kit" && (
        <p className="mt-1 flex items-center gap-2 text-small">
          <Toggle
            label="Send MIDI clock"
            isOn={sendsClock}
            onChange={(isOn) => playback.out.choose({ sendsClock: isOn })}
          />
          Send MIDI clock: tempo, start and stop
        </p>
      )}
      {mode !== "kit" && deviceNames?.length === 0 && problem === null && (
        <p className="mt-1 text-small text-muted">
          No device that can play is connected. Plug one in; it is found by itself.
        </p>
      )}
      {problem && (
        <p role="alert" className="mt-1 text-small text-brick">
          {problem}
        </p>
      )}
      <p className="mt-2 flex items-center gap-3">
        <Button onClick={() => playback.panic()}>Silence everything</Button>
        <Meter />
      </p>
    </section>
  );
}

const QUIETEST_DB = -60;

/** How loud it is after the limiter, without React while it plays. */
function Meter() {
  const { playback } = useBench();
  const bar = useRef<HTMLSpanElement>(null);
  const words = useRef<HTMLSpanElement>(null);
  usePlayFrames(() => {
    const dB = playback.peakDb();
    const share = Math.max(0, Math.min(1, 1 - dB / QUIETEST_DB));
    if (bar.current) bar.current.style.width = `${Math.round(share * 100)}%`;
    if (words.current) words.current.textContent = dB > QUIETEST_DB ? `${dB.toFixed(0)} dB` : "silent";
  });
  return (
    <span className="flex flex-1 items-center gap-2 text-small text-muted">
      <span className="relative h-2 flex-1 overflow-hidden rounded-full bg-hairline">
        <span ref={bar} className="absolute inset-y-0 left-0 bg-spruce" style={{ width: 0 }} />
      </span>
      <span ref={words} className="w-14 text-right">
        silent
      </span>
    </span>
  );
}

/** A level and a place for each drum, and for the click. */
function Mixer() {
  const { store } = useBench();
  const lanes = useBenchState((state) => state.pattern.lanes);
  const voices = useBenchState((state) => state.pattern.noteMap.voices);
  const levels = useBenchState((state) => state.pattern.levels ?? NO_LEVELS);
  const rows = [
    ...lanes.map(({ voiceId }) => ({ id: voiceId, name: voices.find(({ id }) => id === voiceId)?.name ?? voiceId })),
    { id: CLICK_ID, name: "Click" },
  ];
  const change = (id: string, name: string, part: Partial<DrumLevel>) => {
    const from = store.getState().pattern.levels ?? NO_LEVELS;
    const to = withLevel(from, id, { ...PLAIN_LEVEL, ...from[id], ...part });
    store.commit(`Mix of ${name.toLowerCase()}`, { kind: "setLevels", from, to });
  };
  return (
    <section aria-label="Mix" className="grid grid-cols-2 gap-x-6 max-sm:grid-cols-1">
      {rows.map(({ id, name }) => {
        const { gainDb, panPercent } = levels[id] ?? PLAIN_LEVEL;
        return (
          <div key={id} className="border-b border-hairline py-1">
            <SettingRow
              limit={LEVEL_LIMITS.gainDb}
              label={name}
              value={gainDb}
              onCommit={(value) => change(id, name, { gainDb: value })}
            />
            <SettingRow
              limit={LEVEL_LIMITS.panPercent}
              label={`${name}, pan`}
              value={panPercent}
              onCommit={(value) => change(id, name, { panPercent: value })}
            />
          </div>
        );
      })}
    </section>
  );
}
