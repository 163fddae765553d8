import { BODY_LIMITS } from "../../api/limits.ts";
import type { Helper } from "../../workers/index.ts";
import type { FileReading, Patterns, ShelfEntry } from "../../workers/patterns.worker.ts";
import { addPatternFile, listPatternFiles } from "../server-api.ts";

/** A file that has no patterns, and why. */
export interface UnreadFile {
  readonly path: string;
  readonly why: string;
}

/** What came of files that were to go onto the shelf. */
export interface AddedFiles {
  readonly added: number;
  /** Patterns that are listed now; others are the same as what is there. */
  readonly patterns: number;
  /** Were there already. */
  readonly known: number;
  readonly unread: readonly UnreadFile[];
  readonly wasCancelled: boolean;
}

/** A file of a folder, as a browser gives it. */
type GivenFile = Pick<File, "name" | "size" | "arrayBuffer"> & { readonly webkitRelativePath?: string };

/** Files by whose names nobody expects patterns are passed over unsaid: folders hold pictures and texts, too. */
const MIDI_NAME = /\.(midi?|smf|kar|rmi)$/i;

const pathOf = ({ name, webkitRelativePath }: GivenFile) => webkitRelativePath || name;
const byName = (a: GivenFile, b: GivenFile) => pathOf(a).localeCompare(pathOf(b), "en", { numeric: true });

/** The patterns of a file that is on the shelf now. */
type OnFile = (entries: readonly ShelfEntry[]) => void;

/**
 * Puts files onto the shelf, one after the other: each is read, kept, and then listed.
 * @param goesOn told how far it is, 0 to 1; false gives up what is left
 * @throws ServerProblem if one could not be kept; those before it are
 */
export async function addFiles(
  helper: Helper<Patterns>,
  given: readonly GivenFile[],
  goesOn: (share: number) => boolean,
  onFile: OnFile,
): Promise<AddedFiles> {
  const files = given.filter(({ name }) => MIDI_NAME.test(name)).sort(byName);
  const unread: UnreadFile[] = [];
  const counts = { added: 0, known: 0, patterns: 0 };
  for (const [index, file] of files.entries()) {
    if (!goesOn(index / files.length)) return { ...counts, unread, wasCancelled: true };
    const path = pathOf(file);
    if (file.size > BODY_LIMITS.patternFile) {
      unread.push({ path, why: "it is larger than 1 MB: bring it in as a take" });
      continue;
    }
    const bytes = new Uint8Array(await file.arrayBuffer());
    const reading = await helper.run((call) => call.readFile(path, bytes) as Promise<FileReading>);
    if ("fault" in reading) {
      unread.push({ path, why: reading.fault });
      continue;
    }
    const { isNew } = await addPatternFile(path, bytes);
    counts[isNew ? "added" : "known"]++;
    const entries = await shelved(helper, reading.id);
    counts.patterns += entries.length;
    onFile(entries);
  }
  return { ...counts, unread, wasCancelled: false };
}

const shelved = (helper: Helper<Patterns>, fileId: string) =>
  helper.run((call) => call.shelveFile(fileId) as Promise<readonly ShelfEntry[]>);

/** Lists the patterns of the files that are on the shelf. @returns those that cannot be read any more */
export async function shelveKeptFiles(
  helper: Helper<Patterns>,
  isOver: () => boolean,
  onFile: OnFile,
): Promise<readonly UnreadFile[]> {
  const unread: UnreadFile[] = [];
  for (let after = ""; !isOver(); ) {
    const { files, isLast } = await listPatternFiles(after);
    for (const { path, base64 } of files) {
      if (isOver()) return unread;
      const bytes = Uint8Array.from(atob(base64), (sign) => sign.charCodeAt(0));
      const reading = await helper.run((call) => call.readFile(path, bytes) as Promise<FileReading>);
      if ("fault" in reading) unread.push({ path, why: reading.fault });
      else onFile(await shelved(helper, reading.id));
    }
    after = files.at(-1)?.id ?? "";
    if (isLast || files.length === 0) return unread;
  }
  return unread;
}
