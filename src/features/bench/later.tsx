import dynamic from "next/dynamic";

// What a take is not opened for: its script comes after the Bench can be used, so that it can be used sooner.

const siftPanel = () => import("./sift/SiftPanel.tsx").then((file) => file.SiftPanel);
const kitSheet = () => import("./KitSheet.tsx").then((file) => file.KitSheet);
const tempoSheet = () => import("./TempoSheet.tsx").then((file) => file.TempoSheet);

export const SiftPanel = dynamic(siftPanel, { ssr: false });
export const KitSheet = dynamic(kitSheet, { ssr: false });
export const TempoSheet = dynamic(tempoSheet, { ssr: false });

const SOON_MS = 2500;

/** Fetches all of it soon, so that it is there should the server go away. @returns a function that stops it */
export function loadLater(): () => void {
  // What cannot be fetched now is asked for again when it is opened.
  const timer = setTimeout(() => void Promise.allSettled([siftPanel(), kitSheet(), tempoSheet()]), SOON_MS);
  return () => clearTimeout(timer);
}
