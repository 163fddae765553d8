import dynamic from "next/dynamic";

// What a take is not opened for: its script comes after the Bench can be used, so that it can be used sooner. Nothing of it may be
// opened by a key and typed into at once, or what is typed would go elsewhere while it is on its way.

const siftPanel = () => import("./sift/SiftPanel.tsx").then((file) => file.SiftPanel);
const kitSheet = () => import("./KitSheet.tsx").then((file) => file.KitSheet);
const tempoSheet = () => import("./TempoSheet.tsx").then((file) => file.TempoSheet);

const shortcutsSheet = () => import("./ShortcutsSheet.tsx").then((file) => file.ShortcutsSheet);
const playIn = () => import("./playin/PlayIn.tsx").then((file) => file.PlayIn);
const soundSheet = () => import("./playin/SoundSheet.tsx").then((file) => file.SoundSheet);
const exportSheet = () => import("./ExportSheet.tsx").then((file) => file.ExportSheet);
const namesSheet = () => import("./NamesSheet.tsx").then((file) => file.NamesSheet);
const steps = () => import("./Steps.tsx").then((file) => file.Steps);
const tracksSheet = () => import("./TracksSheet.tsx").then((file) => file.TracksSheet);

export const SiftPanel = dynamic(siftPanel, { ssr: false });
export const KitSheet = dynamic(kitSheet, { ssr: false });
export const TempoSheet = dynamic(tempoSheet, { ssr: false });
export const ShortcutsSheet = dynamic(shortcutsSheet, { ssr: false });
export const PlayIn = dynamic(playIn, { ssr: false });
export const SoundSheet = dynamic(soundSheet, { ssr: false });
export const ExportSheet = dynamic(exportSheet, { ssr: false });
export const NamesSheet = dynamic(namesSheet, { ssr: false });
export const Steps = dynamic(steps, { ssr: false });
export const TracksSheet = dynamic(tracksSheet, { ssr: false });

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
