import { checkOf } from "../../api/check-shape.ts";
import { logDefs, logEntry } from "../../api/edit-schemas.ts";
import type { Version, VersionRequest } from "../../api/wire.ts";
import type { LogEntry } from "../../core/document/index.ts";
import { record, withOptional } from "../../core/json-shape.ts";
import { type Check, forget, keep, keptKeys, readKept, setAside } from "./browser-store.ts";

/** What a window has done and the server does not have yet. */
export interface Unsaved {
  /** What the entries were made on; null if that is not known. */
  readonly baseRevision: number | null;
  readonly entries: readonly LogEntry[];
  /** What did not fit what others did first, on its way to the server. */
  readonly conflicts: readonly VersionRequest[];
}

const entries = { type: "array", items: logEntry };
const name = { type: "string", minLength: 1 };
const revision = { type: "integer", minimum: 0 };

const unsavedSchema = {
  ...logDefs,
  ...record({
    version: { const: 1 },
    baseRevision: revision,
    entries,
    conflicts: { type: "array", items: record({ name, revision, entries }) },
  }),
};

let checkUnsaved: Check | null = null;
let checkEntries: Check | null = null;
let checkOne: Check | null = null;

/** What is wrong with an entry by the server's own schema; null if nothing is. */
export function faultOfEntry(entry: LogEntry): ReturnType<Check> {
  checkOne ??= checkOf({ ...logDefs, ...logEntry });
  return checkOne(entry);
}

const keyOf = (projectId: string, windowId: string) => `marten.unsaved.${projectId}.${windowId}`;
/** One key for all windows, as the first version had it. */
const oldKeyOf = (projectId: string) => `marten.unsaved.${projectId}`;

/** Keeps what a window has still to save, under a key of its own. Returns false if the browser has no room. */
export function keepUnsaved(projectId: string, windowId: string, unsaved: Unsaved): boolean {
  const key = keyOf(projectId, windowId);
  if (unsaved.entries.length > 0 || unsaved.conflicts.length > 0) return keep(key, { version: 1, ...unsaved });
  forget(key);
  return true;
}

/** A conflicted version that the server would not have: it is in this browser alone. */
export interface RefusedVersion extends Omit<Version, "id"> {
  readonly key: string;
  /** Why it was refused, in words for a person. */
  readonly reason: string;
}

const refusedKeyOf = (projectId: string) => `marten.refused-version.${projectId}.`;

/** Earlier ones were kept without the time and the reason. */
const refusedSchema = {
  ...logDefs,
  ...withOptional(record({ name, revision, entries }), { madeAt: { type: "string" }, reason: { type: "string" } }),
};
let checkRefused: Check | null = null;

/** Keeps a conflicted version that the server will not have. Returns false if the browser has no room. */
export function keepRefused(projectId: string, conflict: VersionRequest, reason: string): boolean {
  const key = `${refusedKeyOf(projectId)}${conflict.entries?.[0]?.id ?? conflict.name}`;
  return keep(key, { ...conflict, madeAt: new Date().toISOString(), reason });
}

/** The conflicted versions of a project that the server would not have. */
export function refusedVersions(projectId: string): readonly RefusedVersion[] {
  checkRefused ??= checkOf(refusedSchema);
  const check = checkRefused;
  return keptKeys(refusedKeyOf(projectId)).flatMap((key): RefusedVersion[] => {
    const kept = readKept<VersionRequest & { readonly madeAt?: string; readonly reason?: string }>(key, check);
    if (!kept) return [];
    return [{ madeAt: "", reason: "", ...kept, key }];
  });
}

/** Lets a refused version go. */
export const forgetRefused = ({ key }: RefusedVersion): void => forget(key);

/** What windows that are closed by now could not save, with what forgets it. @param isOpen whether a window is still there */
export function leftovers(
  projectId: string,
  isOpen: (windowId: string) => boolean,
): readonly (Unsaved & { readonly forget: () => void })[] {
  checkUnsaved ??= checkOf(unsavedSchema);
  checkEntries ??= checkOf({ ...logDefs, ...entries });
  const oldKey = oldKeyOf(projectId);
  const found: (Unsaved & { readonly forget: () => void })[] = [];
  for (const key of keptKeys(oldKey)) {
    const isOld = key === oldKey;
    if (!isOld && (key[oldKey.length] !== "." || isOpen(key.slice(oldKey.length + 1)))) continue;
    const unsaved = isOld
      ? { baseRevision: null, conflicts: [], entries: readKept<readonly LogEntry[]>(key, checkEntries) }
      : readKept<Unsaved>(key, checkUnsaved);
    if (unsaved?.entries) found.push({ ...unsaved, entries: unsaved.entries, forget: () => forget(key) });
    else setAside(key);
  }
  return found;
}
