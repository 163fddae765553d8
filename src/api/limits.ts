// How much is taken of what comes in, said here and nowhere else.

const KIB = 1024;
const MIB = 1024 * KIB;

/** The largest body of each sort of request, in bytes. What is larger is refused before it is read. */
export const BODY_LIMITS = {
  /** A recording. */
  take: 16 * MIB,
  /** The largest real edit takes away all hits of the largest take: 500,000 of up to 250 bytes. */
  edits: 125 * MIB,
  /** A name, or a few ids. */
  name: 4 * KIB,
  recipe: 16 * KIB,
  chore: MIB,
  choreRun: MIB,
  groove: 4 * MIB,
  noteMap: 2 * MIB,
  kit: 256 * KIB,
  /** What is said of a pattern, with what it plays. */
  patternMark: 256 * KIB,
  /** A file whose patterns go onto the shelf. */
  patternFile: MIB,
  /** Which projects, and the layers of kits. */
  archiveWish: MIB,
  /** Whole projects with their takes and all that was done to them. */
  archive: 256 * MIB,
} as const;

/** The longest label of a step, in characters. */
export const LONGEST_LABEL = 200;

/** So many entries are sent at once, at the most. */
export const MOST_ENTRIES = 1000;

/** Deeper nesting than this is in nothing that we send. */
export const DEEPEST_JSON = 32;

/** More values than this are in nothing that we send: an edit of 500,000 hits has some 7 million. */
export const MOST_JSON_VALUES = 9_000_000;
