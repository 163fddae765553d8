/**
 * A memory of what was made last for each key: it is made anew where something that it depends on is another. What is remembered goes
 * with its key, so nothing has to be forgotten.
 * @returns called with the key, what the value depends on beside it (compared by identity), and how it is made
 */
export function remembering<Key extends object, Value>(): (
  key: Key,
  deps: readonly unknown[],
  make: () => Value,
) => Value {
  const known = new WeakMap<Key, { readonly deps: readonly unknown[]; readonly value: Value }>();
  return (key, deps, make) => {
    const last = known.get(key);
    if (last && areSame(last.deps, deps)) return last.value;
    const value = make();
    known.set(key, { deps, value });
    return value;
  };
}

/** A plain loop: this runs for every lane on every frame of a drag. */
function areSame(before: readonly unknown[], now: readonly unknown[]): boolean {
  if (before.length !== now.length) return false;
  for (let index = 0; index < now.length; index++) if (before[index] !== now[index]) return false;
  return true;
}

/**
 * What takes a while and may never be asked for.
 * @param make called when it is first asked for, once; what it was made from is let go then
 */
export function lazily<Value>(make: () => Value): () => Value {
  let held: { readonly make: () => Value } | { readonly value: Value } = { make };
  return () => {
    if ("make" in held) held = { value: held.make() };
    return held.value;
  };
}
