import { X } from "lucide-react";
import { useEffect } from "react";
import { useStore } from "zustand";
import { useBench } from "../../../store/bench/bench-context.ts";
import { Pads } from "./Pads.tsx";
import { PassList } from "./PassList.tsx";
import { PlayInWords } from "./PlayInWords.tsx";
import { useDevices } from "./use-devices.ts";

/** Where a part is played in: how it goes, what was played, and what can be struck. */
export function PlayIn() {
  const bench = useBench();
  const { recording, store } = bench;
  const trouble = useStore(recording.state, (state) => state.trouble);
  useDevices(bench);
  // What is not seen does not record.
  useEffect(() => () => recording.close(), [recording]);
  return (
    <section
      aria-label="Play in"
      // Pads stay where they are, whatever comes in: a hand does not look.
      className="relative grid h-[min(46vh,300px)] shrink-0 grid-rows-[minmax(0,1fr)] grid-cols-[minmax(250px,3fr)_minmax(300px,3fr)_minmax(360px,6fr)] border-t-2 border-amber bg-sheet *:overflow-y-auto max-lg:grid-cols-1 max-lg:grid-rows-none max-lg:overflow-y-auto"
    >
      <PlayInWords />
      <Pads />
      <PassList />
      <button
        type="button"
        aria-label="Close Play in"
        className="absolute top-2 right-2 grid size-6 place-items-center rounded-md text-muted hover:bg-spruce-tint"
        onClick={() => store.showPlayIn(false)}
      >
        <X size={15} />
      </button>
      {trouble && (
        <p
          role="alert"
          className="absolute inset-x-0 bottom-0 border-t border-hairline bg-sheet px-[18px] py-2 text-small text-brick"
        >
          {trouble}
        </p>
      )}
    </section>
  );
}
