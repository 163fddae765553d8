import { useStore } from "zustand";
import { createStore } from "zustand/vanilla";
import { keepWord, readWord } from "../../store/project/browser-store.ts";

const NAMES = ["C", "C♯", "D", "D♯", "E", "F", "F♯", "G", "G♯", "A", "A♯", "B"];
const STORAGE_KEY = "marten.middle-c";

/** Makers count octaves from different ends: which one note 60 begins. */
export const MIDDLE_OCTAVES = ["3", "4", "5"] as const;
export type MiddleOctave = (typeof MIDDLE_OCTAVES)[number];

const middleOctave = createStore<{ readonly octave: MiddleOctave }>(() => ({
  octave: MIDDLE_OCTAVES.find((octave) => octave === readWord(STORAGE_KEY)) ?? "4",
}));

export function chooseMiddleOctave(octave: MiddleOctave): void {
  middleOctave.setState({ octave });
  keepWord(STORAGE_KEY, octave);
}

export const useMiddleOctave = () => useStore(middleOctave, ({ octave }) => octave);

/** `C♯3`, with note 60 as C3, C4 or C5. */
export function noteName(note: number, octave: MiddleOctave): string {
  return `${NAMES[note % 12]}${Math.floor(note / 12) - 5 + Number(octave)}`;
}

/** Says the name of a note as was chosen. */
export function useNoteName(): (note: number) => string {
  const octave = useMiddleOctave();
  return (note) => noteName(note, octave);
}
