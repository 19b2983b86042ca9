// How counts and lists are written in sentences, the same everywhere.

/** “1 node”, “2,266 nodes”. */
export function plural(count: number, one: string, many = `${one}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? one : many}`;
}

/** Parts of a sentence in a row: “a, b and c”. */
export const joined = (parts: readonly string[]): string =>
  parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;

/** Names in a row, the first few of them. */
export function listed(names: readonly string[], most = 3): string {
  const shown = names.slice(0, most).map((name) => `“${name}”`);
  const rest = names.length - shown.length;
  return rest > 0 ? `${shown.join(', ')} and ${rest} more` : joined(shown);
}

const collator = new Intl.Collator('en', { numeric: true });
/** The order of names as people read them: “Shot_2” before “Shot_10”. */
export const byName = (a: string, b: string): number => collator.compare(a, b);
