import type { MidiFile } from "../smf/index.ts";
import { fileOf, meta, note } from "./midi.ts";

const PPQ = 480;
const BAR = 4 * PPQ;

/** How long each quarter of the opening is taken, against what is written: three bars that breathe, and end with a bar line. */
const BREATHING = [1.22, 0.81, 1.35, 0.7, 1.12, 1.3, 0.78, 0.88, 1.27, 0.73, 1.2, 0.64];

/** Kick, snare and eighths of the hats, in time but for so many bars at the start that are played freely. */
export function withFreeOpening(bars = 14): MidiFile {
  const scale = BREATHING.length / BREATHING.reduce((sum, share) => sum + share, 0);
  const starts = [0];
  for (const share of BREATHING) starts.push(starts.at(-1)! + share * scale * PPQ);
  const played = (quarter: number, index: number) => {
    const offTicks = ((index * 7) % 11) - 5;
    const own = Math.floor(quarter);
    if (own >= BREATHING.length) return Math.round(quarter * PPQ + offTicks);
    return Math.round(starts[own]! + (starts[own + 1]! - starts[own]!) * (quarter - own));
  };
  const strikes = Array.from({ length: bars * 8 }, (_, eighth) => {
    const drums = [42, ...(eighth % 8 === 0 || eighth % 8 === 5 ? [36] : []), ...(eighth % 4 === 2 ? [38] : [])];
    return drums.flatMap((key, index) =>
      note(played(eighth / 2, eighth * 3 + index), key, 60 + ((eighth * 5) % 40), 40),
    );
  });
  return fileOf([...strikes.flat(), meta(bars * BAR, 0x2f)]);
}
