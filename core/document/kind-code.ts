/**
 * Two letters for the spine that no kind of a catalogue has yet: the first of the title with one that follows, else any.
 * O(letters · title).
 */
export function freeCode(title: string, taken: ReadonlySet<string>): string {
  const letters = title
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9]/g, '')
    .replace(/^\d+/, '');
  const first = letters.slice(0, 1).toUpperCase() || 'N';
  const alphabet = 'abcdefghijklmnopqrstuvwxyz0123456789';
  for (const second of `${letters.slice(1).toLowerCase()}${alphabet}`)
    if (!taken.has(first + second)) return first + second;
  for (const other of 'ABCDEFGHIJKLMNOPQRSTUVWXYZ')
    for (const second of `${alphabet}${alphabet.toUpperCase()}`) if (!taken.has(other + second)) return other + second;
  return `${first}${letters.slice(1, 2).toLowerCase() || 'x'}`;
}
