import { type ComponentType, useEffect, useState } from "react";
import { Button } from "../../../components/Button.tsx";
import { PageNotice } from "../../../components/page/TopBar.tsx";

// What a take is not opened for: its script comes after the Bench can be used, so that it can be used sooner. Nothing of it may be
// opened by a key and typed into at once, or what is typed would go elsewhere while it is on its way.

const siftPanel = () => import("../sift/SiftPanel.tsx").then((file) => file.SiftPanel);
const kitSheet = () => import("./KitSheet.tsx").then((file) => file.KitSheet);
const tempoSheet = () => import("./TempoSheet.tsx").then((file) => file.TempoSheet);

const shortcutsSheet = () => import("./ShortcutsSheet.tsx").then((file) => file.ShortcutsSheet);
const playIn = () => import("../playin/PlayIn.tsx").then((file) => file.PlayIn);
const soundSheet = () => import("../playin/SoundSheet.tsx").then((file) => file.SoundSheet);
const exportSheet = () => import("./ExportSheet.tsx").then((file) => file.ExportSheet);
const namesSheet = () => import("./NamesSheet.tsx").then((file) => file.NamesSheet);
const steps = () => import("../steps/Steps.tsx").then((file) => file.Steps);
const tracksSheet = () => import("./TracksSheet.tsx").then((file) => file.TracksSheet);

export const SiftPanel = later(siftPanel);
export const KitSheet = later(kitSheet);
export const TempoSheet = later(tempoSheet);
export const ShortcutsSheet = later(shortcutsSheet);
export const PlayIn = later(playIn);
export const SoundSheet = later(soundSheet);
export const ExportSheet = later(exportSheet);
export const NamesSheet = later(namesSheet);
export const Steps = later(steps);
export const TracksSheet = later(tracksSheet);

const ALL = [
  playIn,
  soundSheet,
  siftPanel,
  kitSheet,
  tempoSheet,
  shortcutsSheet,
  exportSheet,
  namesSheet,
  steps,
  tracksSheet,
] as const;

const SOON_MS = 2500;

/** Fetches all of it soon, so that it is there should the server go away. @returns a function that stops it */
export function loadLater(): () => void {
  // What cannot be fetched now is asked for again when it is opened.
  const timer = setTimeout(() => void Promise.allSettled(ALL.map((load) => load())), SOON_MS);
  return () => clearTimeout(timer);
}

/** A part of the Bench that comes when it is first wanted. Where it cannot be fetched, that is said, and the Bench goes on. */
function later<Props extends object>(load: () => Promise<ComponentType<Props>>): ComponentType<Props> {
  let known: ComponentType<Props> | null = null;
  return function Later(props: Props) {
    const [Part, setPart] = useState<ComponentType<Props> | null>(() => known);
    const [tries, setTries] = useState(0);
    const [isAway, setIsAway] = useState(false);
    useEffect(() => {
      if (known) return;
      let isOver = false;
      load().then(
        (part) => {
          known = part;
          if (!isOver) setPart(() => part);
        },
        () => {
          if (!isOver) setIsAway(true);
        },
      );
      return () => {
        isOver = true;
      };
    }, [tries]);
    if (Part) return <Part {...props} />;
    if (!isAway) return null;
    return (
      <PageNotice>
        <p
          role="alert"
          className="flex items-center gap-3 border-b border-hairline bg-amber-tint px-5 py-1.5 text-small"
        >
          This part of the Bench could not be fetched: the server does not answer. What you did is kept, and the Bench
          goes on.
          <Button
            className="px-2.5 text-small"
            onClick={() => {
              setIsAway(false);
              setTries(tries + 1);
            }}
          >
            Try again
          </Button>
        </p>
      </PageNotice>
    );
  };
}
