import { hitsByVoice } from "../../src/core/document/index.ts";
import { importTake } from "../../src/core/file/index.ts";
import { GENERAL_MIDI, guessNotes } from "../../src/core/notemap/index.ts";
import { writeMidiFile } from "../../src/core/smf/index.ts";
import { studyVoices } from "../../src/core/study/index.ts";
import { buildTimeMaps } from "../../src/core/time/index.ts";
import { createRandom } from "../../src/standin/random.ts";
import type { PlayedTake } from "./player.ts";

/** What the drums of written parts are, but for toms. */
const MEANT: Readonly<Record<string, string>> = {
  hh: "hat/closed",
  ho: "hat/open",
  hf: "hat/foot",
  rd: "ride/bow",
  rb: "ride/bell",
  c1: "crash/crash",
  sn: "snare/centre",
  k: "kick/main",
};
/** Less sure than this, a guess is a question. */
const ASKED = 0.6;
const SURE = 0.8;

/** Of kick, snare, hats, ride and crash of a kit that sends any notes. */
export interface GuessScore {
  readonly drums: number;
  readonly right: number;
  /** Wrong, but with so little confidence that it is a question. */
  readonly asked: number;
  readonly wrongAndSure: number;
}

/** Sends every drum on a note that means nothing, and guesses which it is. */
export function scoreGuesses(
  { file, truth }: PlayedTake,
  seed: number,
): GuessScore & { readonly wrong: readonly string[] } {
  const random = createRandom(seed);
  const notes = Array.from({ length: 128 }, (_, note) => note);
  for (let at = notes.length - 1; at > 0; at--) {
    const other = Math.floor(random.uniform() * (at + 1));
    [notes[at], notes[other]] = [notes[other]!, notes[at]!];
  }
  const tracks = file.tracks.map(({ messages }) => ({
    messages: messages.map((one) =>
      one.kind === "channel" && (one.status === 0x99 || one.status === 0x89)
        ? { ...one, data1: notes[one.data1]! }
        : one,
    ),
  }));
  const { pattern } = importTake(writeMidiFile({ ...file, tracks }), GENERAL_MIDI);
  const drumOfId = new Map(truth.map(({ id, drum, kind }) => [id, kind === "crossTalk" ? null : drum]));
  const meant = new Map(
    pattern.hits.flatMap(({ id, note }) => (drumOfId.get(id) ? [[note, MEANT[drumOfId.get(id)!]]] : [])),
  );
  const maps = buildTimeMaps(pattern);
  const { faults } = studyVoices(hitsByVoice(pattern.hits), pattern.noteMap, maps);
  const faulty = new Set(faults.map(({ hitId }) => hitId));
  const played = pattern.hits.filter(({ id }) => !faulty.has(id));
  const asked = guessNotes(played, maps).flatMap((guess) => {
    const name = meant.get(guess.note);
    const isRight = name === `${guess.meaning.voiceId}/${guess.meaning.articulationId}`;
    return name ? [{ guess, name, isRight }] : [];
  });
  const wrong = asked.filter(({ isRight }) => !isRight);
  return {
    drums: asked.length,
    right: asked.length - wrong.length,
    asked: wrong.filter(({ guess }) => guess.confidence < ASKED).length,
    wrongAndSure: wrong.filter(({ guess }) => guess.confidence > SURE).length,
    wrong: wrong.map(
      ({ guess, name }) =>
        `${name} for ${guess.meaning.voiceId}/${guess.meaning.articulationId} ${guess.confidence.toFixed(2)}`,
    ),
  };
}
