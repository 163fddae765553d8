import {
  findVoice,
  type NoteMap,
  type NoteMeaning,
  strokeName,
  type Voice,
  withMeaning,
} from "../document/note-map.ts";
import { isSameName, splitByPedal } from "./change-map.ts";
import { GENERAL_MIDI } from "./general-midi.ts";
import type { Guess } from "./guess.ts";

/** The map with guesses taken for names. Drums and strokes that it does not have yet are added. */
export function withGuesses(map: NoteMap, guesses: readonly Guess[]): NoteMap {
  return guesses.reduce((before, { note, meaning: guessed, isSplitByPedal }) => {
    const { map: named, meaning } = withStroke(before, guessed);
    const next = withMeaning(named, note, meaning);
    const entry = next.entries.find((candidate) => candidate.note === note);
    return isSplitByPedal && entry ? splitByPedal(next, entry) : next;
  }, map);
}

/** What a map calls the stroke that was guessed, or what it will be called once it is taken. */
export function guessedName(map: NoteMap, meaning: NoteMeaning): string {
  const { map: named, meaning: own } = withStroke(map, meaning);
  return strokeName(named, own);
}

/** A map with a stroke of the usual kit, and what it is called there: a drum of the same name is the same drum. */
export function withStroke(
  map: NoteMap,
  meaning: NoteMeaning,
): { readonly map: NoteMap; readonly meaning: NoteMeaning } {
  const usual = findVoice(GENERAL_MIDI, meaning.voiceId);
  const own =
    map.voices.find(({ id }) => id === meaning.voiceId) ?? map.voices.find(({ name }) => isSameName(name, usual.name));
  if (!own) {
    const isLower = ({ id }: Voice) => placeOf(id) > placeOf(usual.id);
    const at = map.voices.findIndex(isLower);
    return { map: { ...map, voices: map.voices.toSpliced(at < 0 ? map.voices.length : at, 0, usual) }, meaning };
  }
  const stroke = usual.articulations.find(({ id }) => id === meaning.articulationId);
  const known = own.articulations.find(({ id, name }) => id === stroke?.id || isSameName(name, stroke?.name ?? ""));
  if (known) return { map, meaning: { voiceId: own.id, articulationId: known.id } };
  const grown: Voice = { ...own, articulations: [...own.articulations, ...(stroke ? [stroke] : [])] };
  return {
    map: { ...map, voices: map.voices.map((voice) => (voice === own ? grown : voice)) },
    meaning: { ...meaning, voiceId: own.id },
  };
}

/** Where a drum is in the usual order of lanes; -1 if it is not. */
const placeOf = (voiceId: string) => GENERAL_MIDI.voices.findIndex(({ id }) => id === voiceId);
