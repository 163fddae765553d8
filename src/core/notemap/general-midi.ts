import {
  type Articulation,
  type ArticulationMark,
  compareEntries,
  type Family,
  type NoteMap,
  type NoteMapEntry,
  type Voice,
} from "../document/note-map.ts";

/** A stroke without a note is one that kits play by their pedal. */
type Stroke = readonly [note: number | null, name: string, mark?: ArticulationMark];
type VoiceRow = readonly [id: string, name: string, family: Family, ...strokes: Stroke[]];

/**
 * General MIDI percussion, notes 35 to 81, with the additions of GM2, 27 to 34 and 82 to 87.
 * Strokes of one instrument feed one voice. Note 40 is the rim shot that electronic kits send from the snare's rim.
 * @source General MIDI Level 1 percussion key map; General MIDI 2, standard drum set
 */
const ROWS: readonly VoiceRow[] = [
  ["china", "China", "cymbals", [52, "crash"]],
  ["splash", "Splash", "cymbals", [55, "crash"]],
  ["crash", "Crash", "cymbals", [49, "crash"]],
  ["crash-2", "Second crash", "cymbals", [57, "crash"]],
  ["ride", "Ride", "cymbals", [51, "bow"], [53, "bell", "bell"]],
  ["ride-2", "Second ride", "cymbals", [59, "bow"]],
  [
    "hat",
    "Hi-hat",
    "hats",
    [42, "closed"],
    [null, "half open", "half-open"],
    [46, "open", "open"],
    [44, "foot", "foot"],
  ],
  ["snare", "Snare", "snare", [38, "centre"], [40, "rim shot", "rim"], [37, "cross-stick", "cross"]],
  ["tom-1", "High tom", "toms", [50, "centre"]],
  ["tom-2", "Rack tom", "toms", [48, "centre"]],
  ["tom-3", "Mid tom", "toms", [47, "centre"]],
  ["tom-4", "Low tom", "toms", [45, "centre"]],
  ["tom-5", "Floor tom", "toms", [43, "centre"]],
  ["tom-6", "Low floor tom", "toms", [41, "centre"]],
  ["kick", "Kick", "kick", [36, "main"], [35, "second", "edge"]],
  ["clap", "Hand clap", "percussion", [39, "clap"]],
  ["tambourine", "Tambourine", "percussion", [54, "shake"]],
  ["cowbell", "Cowbell", "percussion", [56, "strike"]],
  ["shaker", "Shaker", "percussion", [82, "shake"]],
  ["maracas", "Maracas", "percussion", [70, "shake"]],
  ["cabasa", "Cabasa", "percussion", [69, "scrape"]],
  ["claves", "Claves", "percussion", [75, "strike"]],
  ["wood-block", "Wood block", "percussion", [76, "high", "edge"], [77, "low"]],
  ["triangle", "Triangle", "percussion", [81, "open", "open"], [80, "muted"]],
  ["bongos", "Bongos", "percussion", [60, "high", "edge"], [61, "low"]],
  ["congas", "Congas", "percussion", [63, "open high", "open"], [62, "muted high"], [64, "low"]],
  ["timbales", "Timbales", "percussion", [65, "high", "edge"], [66, "low"]],
  ["agogo", "Agogo bells", "percussion", [67, "high", "edge"], [68, "low"]],
  ["surdo", "Surdo", "percussion", [87, "open", "open"], [86, "muted"]],
  ["cuica", "Cuica", "percussion", [79, "open", "open"], [78, "muted"]],
  ["guiro", "Guiro", "percussion", [74, "long", "open"], [73, "short"]],
  ["whistle", "Whistle", "percussion", [72, "long", "open"], [71, "short"]],
  ["vibraslap", "Vibraslap", "percussion", [58, "strike"]],
  ["castanets", "Castanets", "percussion", [85, "strike"]],
  ["jingle-bell", "Jingle bell", "percussion", [83, "shake"]],
  ["bell-tree", "Bell tree", "percussion", [84, "sweep"]],
  ["sticks", "Sticks", "percussion", [31, "strike"]],
  ["slap", "Slap", "percussion", [28, "strike"]],
  ["scratch", "Scratch", "percussion", [29, "push"], [30, "pull", "open"]],
  ["high-q", "High Q", "percussion", [27, "strike"]],
  ["square-click", "Square click", "percussion", [32, "strike"]],
  ["metronome", "Metronome", "percussion", [33, "click"], [34, "bell", "bell"]],
];

const articulationId = (name: string) => name.replaceAll(" ", "-");

function voiceOfRow([id, name, family, ...strokes]: VoiceRow): Voice {
  const articulations = strokes.map(
    ([, stroke, mark = "none"]): Articulation => ({ id: articulationId(stroke), name: stroke, mark }),
  );
  return { id, name, family, ink: family, articulations };
}

export const GENERAL_MIDI: NoteMap = {
  id: "general-midi",
  name: "General MIDI percussion",
  voices: ROWS.map(voiceOfRow),
  entries: ROWS.flatMap(([voiceId, , , ...strokes]) =>
    strokes.flatMap(([note, name]): NoteMapEntry[] =>
      note === null ? [] : [{ note, channel: null, pedal: null, voiceId, articulationId: articulationId(name) }],
    ),
  ).sort(compareEntries),
  outgoing: [],
};
