/** Thrown when an edit was made on an older pattern than the one it is applied to. */
export class StaleEditError extends Error {
  override readonly name = "StaleEditError";
  readonly code = "edit.stale";
}

/** Compares plain data. An edit may have been through JSON and SQLite, so identity says nothing. */
export function isSameValue(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== "object" || typeof b !== "object" || a === null || b === null) return false;
  const keys = Object.keys(a);
  return (
    keys.length === Object.keys(b).length &&
    keys.every((key) => key in b && isSameValue(a[key as keyof typeof a], b[key as keyof typeof b]))
  );
}
