/** Things by a key, each group in the order in which they came; what has no key is left out. O(things). */
export function groupBy<T, K>(things: Iterable<T>, key: (thing: T) => K | undefined): Map<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const thing of things) {
    const own = key(thing);
    if (own !== undefined) addTo(groups, own, thing);
  }
  return groups;
}

/** Counts something more, in place. */
export function countIn<K>(counts: Map<K, number>, key: K, by = 1): void {
  counts.set(key, (counts.get(key) ?? 0) + by);
}

/** Adds a value to those of a key, in place. O(1), where copying the list each time would be O(n²) for a large group. */
export function addTo<K, V>(groups: Map<K, V[]>, key: K, value: V): void {
  const group = groups.get(key);
  if (group) group.push(value);
  else groups.set(key, [value]);
}
