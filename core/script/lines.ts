/**
 * A script of which only some lines are run, all others left empty, so that its lines keep their numbers. What it
 * declares with `options` stays. Lines count from 1. O(length).
 */
export function onlyLines(source: string, from: number, to: number): string {
  const lines = source.split('\n');
  const declared = declaration(lines);
  return lines
    .map((text, i) => ((i + 1 >= from && i + 1 <= to) || (i >= declared.from && i <= declared.to) ? text : ''))
    .join('\n');
}

/** The lines from the statement that calls `options` to its end, counted from 0. */
function declaration(lines: readonly string[]): { from: number; to: number } {
  const call = lines.findIndex((text) => /\boptions\s*\(/.test(text) && !/^\s*(?:\/\/|\*)/.test(text));
  if (call === -1) return { from: 0, to: -1 };
  let from = call;
  while (from > 0 && !/^(?:const|let|var|options)\b/.test(lines[from] ?? '')) from--;
  const end = lines.slice(call).findIndex((text) => /\)\s*;?\s*$/.test(text) && isClosed(lines, call, text));
  return { from, to: end === -1 ? call : call + end };
}

/** Does the text close as many brackets as were opened since the line `first`? */
function isClosed(lines: readonly string[], first: number, last: string): boolean {
  const at = lines.indexOf(last, first);
  const text = lines
    .slice(first, at + 1)
    .join('\n')
    .replace(/'[^'\n]*'|"[^"\n]*"|`[^`]*`/g, '');
  const count = (pattern: RegExp): number => text.match(pattern)?.length ?? 0;
  return count(/\(/g) === count(/\)/g) && count(/\{/g) === count(/\}/g);
}
